import {
  cautionsOf,
  DEFER,
  emptyOutcome,
  faultsOf,
  lengthsIn,
  PART_WORDS,
  prepareEnd,
  spanInWords,
  stepInWords,
  whyNotSkipped,
  type PressureTest,
  type RunSheet,
  type StepOutcome,
  type StepState,
} from '@cold-thread/core/open'
import { kindName } from '@cold-thread/core/kit'
import Alert from '@mui/material/Alert'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import Checkbox from '@mui/material/Checkbox'
import FormControlLabel from '@mui/material/FormControlLabel'
import IconButton from '@mui/material/IconButton'
import Paper from '@mui/material/Paper'
import TextField from '@mui/material/TextField'
import Typography from '@mui/material/Typography'
import { useEffect, useMemo, useRef, useState } from 'react'
import { Link as RouterLink } from 'react-router'
import { SoundIcon } from '../../ui/icons.tsx'
import { useAppSelector } from '../../app/store.ts'
import { Judgement } from '../../ui/Judgement.tsx'
import { clock } from '../../ui/time.ts'
import type { StageProps } from '../callout/stageProps.ts'
import { readNumber } from '../../ui/readNumber.ts'
import { ScaleDrawing } from '../lengths/ScaleDrawing.tsx'
import { GroupColors } from './GroupColors.tsx'
import { PressureFields } from './PressureFields.tsx'
import { StepPhoto } from './StepPhoto.tsx'
import { valuesInWords } from './sheets.ts'
import { StepTimer } from './StepTimer.tsx'
import { WatchPanel, type Watched } from './WatchPanel.tsx'

interface StepCardProps extends StageProps {
  sheetId: string
  sheet: RunSheet
  state: StepState
  number: number
  count: number
  /** Another step was shown before it. */
  moved: boolean
  working: boolean
  busy: boolean
  leads: boolean
  onEnter(entry: StepOutcome, supersedes?: string | null): Promise<boolean>
  onRelease(): Promise<void>
  onTakeBack(entryId: string): Promise<void>
  onGo(by: -1 | 1): void
  /** Back to the step that comes next; null when it is shown. */
  onNext: (() => void) | null
}

/** The step to do, large enough for a gloved hand; what stands against it, with its reason; one key or tap on. */
export function StepCard(props: StepCardProps) {
  const { sheetId, sheet, state, number, count, working, busy, leads, onEnter, onGo, onNext } = props
  const { step, by, obstacles } = state
  const units = useAppSelector((store) => store.settings.units)
  const [said, setSaid] = useState<string[]>([])
  const [texts, setTexts] = useState<Record<string, string>>({})
  const [reason, setReason] = useState('')
  const [photos, setPhotos] = useState<string[]>([])
  const [watched, setWatched] = useState<Watched | null>(null)
  const [pressure, setPressure] = useState<PressureTest | null>(null)
  const [tried, setTried] = useState(false)
  const [way, setWay] = useState<'done' | 'skipped' | 'failed'>('done')
  const [shownAt] = useState(() => Date.now())
  const frame = useRef<HTMLDivElement>(null)
  useEffect(() => {
    // The step that is next comes to where the eyes are, unless it is there already.
    const top = frame.current?.getBoundingClientRect().top ?? 0
    if (props.moved && (top < 0 || top > window.innerHeight / 2)) frame.current?.scrollIntoView({ block: 'start' })
  }, [props.moved])
  const words = stepInWords(step.do, sheet.lengths, units)
  const cautions = cautionsOf(step)
  const end = prepareEnd(sheet.facts, sheet.lengths)
  const entry = useMemo(
    (): StepOutcome => ({
      ...emptyOutcome(step.id),
      outcome: way,
      values: Object.fromEntries(
        Object.entries(texts).flatMap(([id, text]): [string, number | string][] => {
          const field = step.fields.find((one) => one.id === id || `${one.id}-again` === id)
          const value = field?.kind === 'text' ? text.trim() : readNumber(text)
          return text.trim() === '' ? [] : [[id, value ?? text.trim()]]
        }),
      ),
      said,
      reason: reason.trim(),
      photos,
      watch: watched,
      pressure,
    }),
    [step, way, texts, said, reason, photos, watched, pressure],
  )
  const faults = faultsOf(sheet, step, entry)
  const open = state.state === 'open'
  const blocked = obstacles.length > 0
  const submit = async () => {
    setTried(true)
    if (faults.length > 0 || (blocked && way === 'done')) return
    const minutes = Math.min(600, (Date.now() - shownAt) / 60_000)
    if (!(await onEnter({ ...entry, minutes: Number(minutes.toFixed(2)) }))) return
    navigator.vibrate?.(40)
    setTried(false)
    setWay('done')
    setReason('')
    setPressure(null)
    setWatched(null)
  }
  const go = useRef(submit)
  useEffect(() => {
    go.current = submit
  })
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      const { target } = event
      // A field of another form on the page is not this step's, and a button does its own.
      const elsewhere =
        target instanceof HTMLElement &&
        (target.closest('button, a, summary, textarea, select, [role=dialog], [role=combobox], [role=button]') !==
          null ||
          (target.closest('input') !== null && !frame.current?.contains(target)))
      if (event.key === 'Enter' && !elsewhere && open && working) void go.current()
    }
    window.addEventListener('keydown', onKey)
    return () => window.removeEventListener('keydown', onKey)
  }, [open, working])
  const needsReason = way !== 'done' || reason !== '' || (tried && faults.some((fault) => /reason|say why/.test(fault)))
  const differing = step.fields.filter((field) => {
    const value = entry.values[field.id]
    return field.kind === 'count' && typeof value === 'number' && field.least !== null && value !== field.least
  })
  return (
    <Paper
      ref={frame}
      component="section"
      aria-label="Step"
      sx={{ p: { xs: 1.5, sm: 2.5 }, mb: 2, border: 2, borderColor: blocked && open ? 'error.main' : 'primary.main' }}
    >
      <Box sx={{ display: 'flex', alignItems: 'center', gap: 1, mb: 0.5 }}>
        <Typography sx={{ flex: 1, color: 'text.secondary' }}>
          {PART_WORDS[step.part]}, step {number} of {count}
        </Typography>
        <ReadAloud text={[words, step.why, ...cautions.map(({ text }) => text)].filter(Boolean).join('. ')} />
      </Box>
      <Typography
        component="p"
        sx={{ fontSize: { xs: '1.4rem', sm: '1.7rem' }, lineHeight: 1.3, fontWeight: 600, mb: 1 }}
      >
        {words}
      </Typography>
      {step.why && <Typography sx={{ mb: 1 }}>Why: {step.why}.</Typography>}
      {lengthsIn(step.do)
        .flatMap((name) => sheet.lengths[name] ?? [])
        .map(({ label, source, ...span }) => (
          <Typography key={label} sx={{ fontSize: 14, color: 'text.secondary', mb: 0.5 }}>
            {label}, {spanInWords(span, units)}: {source}
          </Typography>
        ))}
      {cautions.map(({ id, text, say }) => (
        <Alert
          key={id}
          severity="warning"
          variant="outlined"
          sx={{ mb: 1, fontSize: 16, '& .MuiAlert-message': { flex: 1 } }}
        >
          {text}
          {say !== null && open && working && (
            <FormControlLabel
              control={
                <Checkbox
                  checked={said.includes(id)}
                  onChange={({ target }) => setSaid(target.checked ? [...said, id] : said.filter((one) => one !== id))}
                />
              }
              label={<strong>{say}</strong>}
              sx={{ display: 'flex', minHeight: 48, mt: 0.5 }}
            />
          )}
        </Alert>
      ))}
      {(step.tools ?? step.parts) && (
        <Typography sx={{ fontSize: 15, color: 'text.secondary', mb: 1 }}>
          To hand: {[...(step.tools ?? []), ...(step.parts ?? [])].map(kindName).join(', ')}
        </Typography>
      )}
      {open && blocked && (
        <Alert severity="error" variant="outlined" role="status" sx={{ mb: 1 }}>
          Not yet. {obstacles.join('. ')}.
          {state.step.hold !== undefined && state.released === null && leads && working && (
            <Box sx={{ mt: 1 }}>
              <Button variant="outlined" disabled={busy} onClick={() => void props.onRelease()}>
                Give the lead’s word
              </Button>
            </Box>
          )}
        </Alert>
      )}
      {state.released && (
        <Typography sx={{ mb: 1 }}>
          {state.released.by} gave the word, {clock(state.released.at)}.
        </Typography>
      )}
      {state.others.map(({ id, by: who, at, why }) => (
        <Typography key={id} sx={{ mb: 0.5 }}>
          {clock(at)}, {who}: <Judgement tone="bad" word="does not count" />, {why}.
        </Typography>
      ))}
      {!open && by && (
        <Typography sx={{ mb: 1.5 }}>
          <Judgement
            tone={state.state === 'done' ? 'good' : 'close'}
            word={state.state === 'done' ? 'done' : 'left out'}
          />{' '}
          {clock(by.at)}, {by.by}
          {valuesInWords(state)}
          {by.entry.reason && `: ${by.entry.reason}`}
        </Typography>
      )}
      {open && working && way === 'done' && (
        <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 1.5, mb: 1.5, mt: 1 }}>
          {step.fields.map((field) => (
            <TextField
              key={field.id}
              label={`${field.label}${field.unit === '' ? '' : `, ${field.unit}`}`}
              value={texts[field.id] ?? ''}
              onChange={({ target }) => setTexts({ ...texts, [field.id]: target.value })}
              helperText={expected(field.least, field.most, field.unit)}
              slotProps={{
                htmlInput: {
                  inputMode: field.kind === 'text' ? 'text' : field.kind === 'count' ? 'numeric' : 'decimal',
                  maxLength: 200,
                },
                input: { sx: { fontSize: 22 } },
              }}
              sx={{ width: { xs: '100%', sm: field.kind === 'text' ? 340 : 220 } }}
            />
          ))}
          {differing.map((field) => (
            <TextField
              key={`${field.id}-again`}
              label={`${field.label}, counted again`}
              value={texts[`${field.id}-again`] ?? ''}
              onChange={({ target }) => setTexts({ ...texts, [`${field.id}-again`]: target.value })}
              slotProps={{ htmlInput: { inputMode: 'numeric' }, input: { sx: { fontSize: 22 } } }}
              sx={{ width: { xs: '100%', sm: 220 } }}
            />
          ))}
        </Box>
      )}
      {step.fields.some(({ id }) => id === 'groups') && <GroupColors {...props} cable={sheet.facts.cable} />}
      {step.part === 'prepare' && end !== null && 'layers' in end && (
        <Box component="details" sx={{ mb: 1.5 }}>
          <Box component="summary" sx={{ py: 1.5, cursor: 'pointer' }}>
            Drawn to scale
          </Box>
          <ScaleDrawing preparation={end} units={units} />
        </Box>
      )}
      {step.closureState && sheet.facts.node !== null && (
        <Button
          component={RouterLink}
          to={`/at/${encodeURIComponent(sheet.facts.node)}`}
          variant="outlined"
          size="large"
          className="not-on-paper"
          sx={{ mb: 1.5, minHeight: 56 }}
        >
          Ports and trays as {step.closureState}
        </Button>
      )}
      {open && working && step.timer !== undefined && (
        <StepTimer
          name={`${sheetId}.${step.id}`}
          label={`${sheet.name}: ${words.split(/[.:;]/)[0]!}`}
          minutes={step.timer}
        />
      )}
      {open && working && way === 'done' && step.photo && (
        <StepPhoto {...props} caption={words} photos={photos} onPhotos={setPhotos} />
      )}
      {open && working && way !== 'skipped' && step.watch && !blocked && (
        <WatchPanel
          {...props}
          onWatched={setWatched}
          onFailed={(why) => {
            setWay('failed')
            setReason(why)
          }}
        />
      )}
      {open && working && way !== 'skipped' && step.test === 'pressure' && !blocked && (
        <PressureFields limit={sheet.closure?.pressure ?? null} onTest={setPressure} />
      )}
      {open && working && (
        <>
          {needsReason && (
            <TextField
              name="reason"
              label={way === 'failed' ? 'What failed' : 'Reason'}
              value={reason}
              onChange={({ target }) => setReason(target.value)}
              slotProps={{ htmlInput: { maxLength: 1000 } }}
              fullWidth
              sx={{ mb: 1.5 }}
            />
          )}
          {tried && faults.length > 0 && (
            <Alert severity="error" variant="outlined" role="alert" sx={{ mb: 1.5 }}>
              {faults.map((fault) => `${fault[0]!.toUpperCase()}${fault.slice(1)}`).join('. ')}.
            </Alert>
          )}
          <Box sx={{ display: 'flex', gap: 1, flexWrap: 'wrap', mb: 1 }}>
            <Button
              variant="contained"
              size="large"
              disabled={busy || (blocked && way === 'done')}
              onClick={() => void submit()}
              sx={{ flex: '2 1 200px', minHeight: 64, fontSize: '1.25rem' }}
            >
              {way === 'done' ? 'Done' : way === 'failed' ? 'Keep as failed' : 'Leave it out'}
            </Button>
            {way === 'done' ? (
              <>
                {(step.test ?? step.watch) && (
                  <Button
                    variant="outlined"
                    size="large"
                    onClick={() => setWay('failed')}
                    sx={{ flex: '1 1 120px', minHeight: 64 }}
                  >
                    It failed
                  </Button>
                )}
                {whyNotSkipped(sheet, step) === null && (
                  <Button
                    variant="outlined"
                    size="large"
                    onClick={() => setWay('skipped')}
                    sx={{ flex: '1 1 120px', minHeight: 64 }}
                  >
                    Leave out
                  </Button>
                )}
              </>
            ) : (
              <Button size="large" onClick={() => setWay('done')} sx={{ flex: '1 1 120px', minHeight: 64 }}>
                Back
              </Button>
            )}
          </Box>
        </>
      )}
      <Box className="not-on-paper" sx={{ display: 'flex', gap: 1, flexWrap: 'wrap', alignItems: 'center' }}>
        <Button title="Key [" disabled={number === 1} onClick={() => onGo(-1)}>
          Step before
        </Button>
        <Button title="Key ]" disabled={number === count} onClick={() => onGo(1)}>
          Step after
        </Button>
        {onNext && <Button onClick={onNext}>To the step that is next</Button>}
        {!open && by && working && (
          <Button disabled={busy} onClick={() => void props.onTakeBack(by.id)}>
            Take back
          </Button>
        )}
      </Box>
      {cautions.length > 0 && <Typography sx={{ fontSize: 13, color: 'text.secondary', mt: 1 }}>{DEFER}</Typography>}
    </Paper>
  )
}

function expected(least: number | null, most: number | null, unit: string): string {
  if (least === null || most === null) return ' '
  const figure = least === most ? String(least) : `${least} to ${most}`
  return `expected ${figure}${unit === '' ? '' : ` ${unit}`}`
}

/** Reads a step out, where the browser can speak. */
function ReadAloud({ text }: { text: string }) {
  useEffect(() => () => globalThis.speechSynthesis?.cancel(), [text])
  if (!('speechSynthesis' in globalThis)) return null
  const speak = () => {
    speechSynthesis.cancel()
    const utterance = new SpeechSynthesisUtterance(text)
    utterance.lang = 'en'
    speechSynthesis.speak(utterance)
  }
  return (
    <IconButton aria-label="Read the step out" title="Read the step out" onClick={speak}>
      <SoundIcon />
    </IconButton>
  )
}

import type { SpliceEntry } from '@cold-thread/contract'
import { judgeSplice, sidesOf, type FiberReading, type QueuedSplice, type SpliceAttempt } from '@cold-thread/core/join'
import type { PlantBundle } from '@cold-thread/core/plant'
import type { RuleBook } from '@cold-thread/core/prove'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import Checkbox from '@mui/material/Checkbox'
import FormControlLabel from '@mui/material/FormControlLabel'
import Paper from '@mui/material/Paper'
import TextField from '@mui/material/TextField'
import ToggleButton from '@mui/material/ToggleButton'
import ToggleButtonGroup from '@mui/material/ToggleButtonGroup'
import Typography from '@mui/material/Typography'
import { useState } from 'react'
import { Judgement } from '../../ui/Judgement.tsx'
import { Problem } from '../../ui/Problem.tsx'
import { readNumber } from '../../ui/readNumber.ts'
import { EndInWords } from './EndInWords.tsx'
import { FELT, OUTCOMES, TONES, WORDS } from './spliceWords.ts'
import { askSplice, type Splicer, type SplicerShows } from './splicer.ts'
import { keptDraft, keepDraft, type SpliceDraft } from './spliceDraft.ts'

/** What an attempt adds to the entry: the rest is the session's. */
export type AttemptMade = Pick<
  SpliceEntry,
  | 'estimate'
  | 'cleaveLeft'
  | 'cleaveRight'
  | 'outcome'
  | 'remark'
  | 'ribbon'
  | 'offset'
  | 'gap'
  | 'proof'
  | 'heating'
  | 'sleeve'
  | 'colors'
  | 'light'
  | 'fromDevice'
>

/** The splice to make now: sleeve, both ends by colour, then what the splicer shows, judged while it can still be redone. */
export function CurrentSplice({
  sessionId,
  queued,
  earlier,
  plant,
  rules,
  splicer,
  busy,
  onMade,
  onLater,
}: {
  sessionId: string
  queued: QueuedSplice
  /** Attempts at this splice, in order. */
  earlier: readonly SpliceAttempt[]
  plant: PlantBundle
  rules: RuleBook
  splicer: Splicer
  busy: boolean
  onMade(attempt: AttemptMade): Promise<boolean>
  onLater(reason: string): Promise<unknown>
}) {
  const { splice } = queued
  const key = `${sessionId} ${splice.id} ${earlier.length}`
  const [draft, setDraft] = useState<SpliceDraft>(() => keptDraft(key))
  const [asking, setAsking] = useState(false)
  const [error, setError] = useState<unknown>(null)
  const [later, setLater] = useState<string | null>(null)
  const change = (some: Partial<SpliceDraft>) => {
    const next = { ...draft, ...some }
    setDraft(next)
    // What the splicer showed is kept on this device until it is entered: a reload loses no attempt.
    keepDraft(key, next)
  }
  const first = splice.pairs[0]!
  const sides = sidesOf(plant, first.a, first.b)
  const { readings, bad } = readingsOf(draft)
  const seen =
    draft.shows !== null ||
    readings.some(
      ({ estimate, cleaveLeft, cleaveRight }) => estimate !== null || cleaveLeft !== null || cleaveRight !== null,
    )
  const attempt: SpliceAttempt = {
    ...(readings[0] ?? { estimate: null, cleaveLeft: null, cleaveRight: null }),
    ribbon: splice.ribbon ? readings : [],
    gap: draft.shows?.gap ?? null,
    proof: draft.proof ?? draft.shows?.proof ?? null,
    heating: draft.heating,
    sleeve: draft.sleeve,
  }
  const judged = judgeSplice(attempt, earlier, rules)
  const run = async () => {
    setError(null)
    setAsking(true)
    try {
      change({ shows: await askSplice(splicer, splice.pairs.length), texts: NO_TEXTS })
    } catch (problem) {
      setError(problem)
    } finally {
      setAsking(false)
    }
  }
  const make = async (outcome: SpliceEntry['outcome']) => {
    const worst = splice.ribbon ? worstOf(readings) : attempt
    const made = await onMade({
      estimate: worst.estimate,
      cleaveLeft: worst.cleaveLeft,
      cleaveRight: worst.cleaveRight,
      outcome,
      remark: draft.remark.trim(),
      ...(splice.ribbon ? { ribbon: [...readings] } : {}),
      offset: draft.shows?.offset ?? null,
      gap: attempt.gap ?? null,
      proof: attempt.proof ?? null,
      heating: draft.heating,
      sleeve: draft.sleeve,
      colors: draft.colors,
      light: draft.light,
      fromDevice: draft.shows !== null,
    })
    if (!made) return
    keepDraft(key, null)
    navigator.vibrate?.(FELT[outcome])
  }
  const ready = draft.sleeve && draft.colors
  const done = seen && draft.colors && !bad && !busy && !asking
  const remarked = draft.remark.trim() !== ''
  const figure = (field: keyof SpliceDraft['texts'], label: string) => (
    <TextField
      label={label}
      value={draft.texts[field]}
      onChange={({ target }) => change({ texts: { ...draft.texts, [field]: target.value }, shows: null })}
      error={draft.texts[field].trim() !== '' && readNumber(draft.texts[field]) === null}
      slotProps={{ htmlInput: { inputMode: 'decimal', maxLength: 8 }, input: { sx: { fontSize: 22 } } }}
      sx={{ flex: '1 1 96px', maxWidth: 200 }}
    />
  )
  const tick = (label: React.ReactNode, checked: boolean, set: (on: boolean) => void) => (
    <FormControlLabel
      control={<Checkbox checked={checked} onChange={({ target }) => set(target.checked)} />}
      label={label}
      sx={{ display: 'flex', minHeight: 56, mr: 0 }}
    />
  )
  return (
    <Paper
      component="section"
      aria-label="Splice"
      sx={{ p: { xs: 1.5, sm: 2.5 }, mb: 2, border: 2, borderColor: 'primary.main' }}
    >
      <Typography sx={{ color: 'text.secondary' }}>
        {splice.ribbon ? `Ribbon of ${splice.pairs.length}` : 'Single fiber'}, attempt {earlier.length + 1}
        {splice.position !== null && `, place ${splice.position} on its tray`}
        {splice.circuits.length > 0 && `: ${splice.circuits.map(({ name }) => name).join(', ')}`}
      </Typography>
      {(['a', 'b'] as const).map((side) => (
        <Typography key={side} sx={{ fontSize: { xs: '1.25rem', sm: '1.5rem' }, lineHeight: 1.35 }}>
          {side === 'a' ? 'Left' : 'Right'}:{' '}
          <EndInWords end={first[side]} side={sides[side]} plant={plant} count={splice.pairs.length} />
        </Typography>
      ))}
      <Box sx={{ my: 1 }}>
        {tick(<strong>The sleeve is on</strong>, draft.sleeve, (sleeve) => change({ sleeve }))}
        {tick(<strong>These two lie in the splicer: colours of both seen</strong>, draft.colors, (colors) =>
          change({ colors }),
        )}
      </Box>
      <Choice
        label="Light from the far end"
        value={draft.light === null ? null : draft.light ? 'seen' : 'not seen'}
        options={['seen', 'not seen']}
        onValue={(value) => change({ light: value === null ? null : value === 'seen' })}
      />
      {draft.light === false && (
        <Typography role="status" sx={{ mb: 1 }}>
          <Judgement tone="bad" word="Not this pair?" /> Light that does not come through says another fiber, or a
          break: find out before the arc.
        </Typography>
      )}
      <Button
        variant={seen ? 'outlined' : 'contained'}
        size="large"
        disabled={!ready || asking || busy}
        onClick={() => void run()}
        sx={{ minHeight: 64, width: { xs: '100%', sm: 'auto' }, mb: 1.5 }}
      >
        {asking ? 'The splicer works' : 'Splice on the simulated splicer'}
      </Button>
      <Problem error={error} />
      {draft.shows ? (
        <Shown shows={draft.shows} />
      ) : (
        <Box sx={{ display: 'flex', gap: 1.5, flexWrap: 'wrap', mb: 1.5 }}>
          {figure('estimate', splice.ribbon ? 'Worst estimate, dB' : 'Estimated loss, dB')}
          {figure('left', splice.ribbon ? 'Worst left cleave, °' : 'Left cleave, °')}
          {figure('right', splice.ribbon ? 'Worst right cleave, °' : 'Right cleave, °')}
        </Box>
      )}
      <Box sx={{ display: 'flex', gap: 2, flexWrap: 'wrap' }}>
        <Choice
          label="Proof test"
          value={draft.proof ?? draft.shows?.proof ?? null}
          options={['held', 'broke']}
          onValue={(proof) => change({ proof })}
        />
        <Choice
          label="Sleeve shrunk"
          value={draft.heating}
          options={['good', 'bad']}
          onValue={(heating) => change({ heating })}
        />
      </Box>
      {seen && (
        <Box role="status" sx={{ mb: 1 }}>
          <Judgement tone={TONES[judged.advice]} word={WORDS[judged.advice]} large />
          <Typography>{judged.reasons.join('; ')}.</Typography>
        </Box>
      )}
      <TextField
        label="Remark"
        value={draft.remark}
        onChange={({ target }) => change({ remark: target.value })}
        slotProps={{ htmlInput: { maxLength: 500 } }}
        fullWidth
        sx={{ mb: 1.5 }}
      />
      <Box sx={{ display: 'flex', gap: 1, flexWrap: 'wrap' }}>
        <Button
          variant="contained"
          size="large"
          disabled={!done}
          onClick={() => void make(OUTCOMES[judged.advice])}
          sx={{ minHeight: 64, flex: '2 1 200px', fontSize: '1.2rem' }}
        >
          {seen ? WORDS[judged.advice] : WORDS.accept}
        </Button>
        {seen && judged.advice !== 'redo' && (
          <Button
            size="large"
            variant="outlined"
            disabled={!done}
            onClick={() => void make('redo')}
            sx={{ minHeight: 64 }}
          >
            Redo it
          </Button>
        )}
        {seen && judged.advice !== 'accept' && (
          <Button
            size="large"
            variant="outlined"
            disabled={!done || !remarked}
            onClick={() => void make('accepted')}
            sx={{ minHeight: 64 }}
          >
            {judged.mayStay ? 'It may stay (remark needed)' : 'Accept all the same (remark needed)'}
          </Button>
        )}
      </Box>
      {!draft.colors && seen && (
        <Typography sx={{ mt: 1 }}>
          Confirm both ends’ colours: the record must say which fibers were joined.
        </Typography>
      )}
      {later === null ? (
        <Button onClick={() => setLater('')} sx={{ mt: 1 }}>
          Put this one off
        </Button>
      ) : (
        <Box sx={{ display: 'flex', gap: 1, mt: 1.5, flexWrap: 'wrap' }}>
          <TextField
            label="Why later"
            value={later}
            onChange={({ target }) => setLater(target.value)}
            slotProps={{ htmlInput: { maxLength: 500 } }}
            sx={{ flex: '1 1 220px' }}
          />
          <Button
            variant="outlined"
            disabled={later.trim().length < 3 || busy}
            onClick={() => void onLater(later.trim())}
            sx={{ minHeight: 56 }}
          >
            To the end of the queue
          </Button>
          <Button onClick={() => setLater(null)}>Back</Button>
        </Box>
      )}
    </Paper>
  )
}

const NO_TEXTS: SpliceDraft['texts'] = { estimate: '', left: '', right: '' }

/** Readings as shown or entered, and whether an entered one is none. */
function readingsOf({ shows, texts }: SpliceDraft): { readings: readonly FiberReading[]; bad: boolean } {
  if (shows) return { readings: shows.readings, bad: false }
  const figures = [texts.estimate, texts.left, texts.right].map((text) =>
    text.trim() === '' ? null : readNumber(text),
  )
  const [estimate, cleaveLeft, cleaveRight] = figures as [number | null, number | null, number | null]
  const entered = [texts.estimate, texts.left, texts.right]
  const bad = figures.some((value, i) => (value === null ? entered[i]!.trim() !== '' : value < 0 || value > 20))
  return { readings: [{ estimate, cleaveLeft, cleaveRight }], bad }
}

/** The worst of a ribbon's readings, each by itself. */
function worstOf(readings: readonly FiberReading[]): FiberReading {
  const most = (key: keyof FiberReading) => {
    const values = readings.flatMap((one) => one[key] ?? [])
    return values.length === 0 ? null : Math.max(...values)
  }
  return { estimate: most('estimate'), cleaveLeft: most('cleaveLeft'), cleaveRight: most('cleaveRight') }
}

function Shown({ shows: { readings, offset, gap } }: { shows: SplicerShows }) {
  const dB = (value: number | null) => (value === null ? 'no estimate' : `${value.toFixed(2)} dB`)
  const angle = (value: number | null) => (value === null ? 'not shown' : `${value.toFixed(1)}°`)
  return (
    <Box sx={{ mb: 1.5 }}>
      <Typography sx={{ fontSize: 14, color: 'text.secondary' }}>The simulated splicer shows</Typography>
      {readings.length === 1 ? (
        <Typography sx={{ fontSize: 22, fontVariantNumeric: 'tabular-nums' }}>
          {dB(readings[0]!.estimate)}, cleaves {angle(readings[0]!.cleaveLeft)} and {angle(readings[0]!.cleaveRight)}
        </Typography>
      ) : (
        <Box component="ol" sx={{ m: 0, pl: 4, columns: { xs: 1, sm: 2 }, fontVariantNumeric: 'tabular-nums' }}>
          {readings.map((one, i) => (
            <li key={i}>
              {dB(one.estimate)}, {angle(one.cleaveLeft)} and {angle(one.cleaveRight)}
            </li>
          ))}
        </Box>
      )}
      <Typography>
        {offset === null ? '' : `${offset.toFixed(1)} µm beside each other; `}ends in the picture {gap ?? 'not shown'}
      </Typography>
    </Box>
  )
}

/** One of two words, or neither. */
function Choice<T extends string>({
  label,
  value,
  options,
  onValue,
}: {
  label: string
  value: T | null
  options: readonly T[]
  onValue(value: T | null): void
}) {
  return (
    <Box sx={{ display: 'flex', gap: 1, alignItems: 'center', mb: 1.5, flexWrap: 'wrap' }}>
      <Typography>{label}</Typography>
      <ToggleButtonGroup
        exclusive
        color="primary"
        value={value}
        onChange={(_event, next: T | null) => onValue(next)}
        aria-label={label}
      >
        {options.map((one) => (
          <ToggleButton
            key={one}
            value={one}
            sx={{ minHeight: 48, px: 2, textTransform: 'none', color: 'text.primary' }}
          >
            {one}
          </ToggleButton>
        ))}
      </ToggleButtonGroup>
    </Box>
  )
}

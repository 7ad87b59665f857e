import { PART_WORDS, stepInWords, type StepOutcome, type StepState } from '@cold-thread/core/open'
import Alert from '@mui/material/Alert'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import LinearProgress from '@mui/material/LinearProgress'
import Typography from '@mui/material/Typography'
import { useEffect, useState } from 'react'
import { v7 as uuidv7 } from 'uuid'
import { useAddObservationMutation } from '../../api/api.ts'
import { canLead } from '../../app/rights.ts'
import { useAppSelector } from '../../app/store.ts'
import { Judgement } from '../../ui/Judgement.tsx'
import { printSection } from '../../ui/printSection.ts'
import { Problem } from '../../ui/Problem.tsx'
import { Section } from '../../ui/Section.tsx'
import { clock } from '../../ui/time.ts'
import type { StageProps } from '../callout/stageProps.ts'
import { HandOverSection } from './HandOverSection.tsx'
import { valuesInWords, type BegunSheet } from './sheets.ts'
import { StepCard } from './StepCard.tsx'

/** One sheet under way: the step to do stands large, the others are in reach. */
export function SheetView({
  begun,
  chosen,
  working,
  ...props
}: StageProps & {
  begun: BegunSheet
  /** The person has just begun or chosen it: its step comes to where the eyes are. */
  chosen: boolean
  working: boolean
}) {
  const { account, callout } = props
  const { sheet, progress, id: sheetId } = begun
  const units = useAppSelector((state) => state.settings.units)
  const [at, setAt] = useState<string | null>(null)
  const [add, { error, isLoading }] = useAddObservationMutation()
  const shown = progress.steps.find(({ step }) => step.id === at) ?? progress.next
  const [firstShown] = useState(() => shown?.step.id ?? null)
  const index = shown ? progress.steps.indexOf(shown) : -1
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      const typing =
        event.target instanceof HTMLElement &&
        event.target.closest('input, textarea, select, [role=dialog], [role=combobox]')
      if (typing || event.ctrlKey || event.metaKey || event.altKey) return
      const to = event.key === '[' ? index - 1 : event.key === ']' ? index + 1 : null
      if (to !== null && progress.steps[to]) setAt(progress.steps[to].step.id)
    }
    window.addEventListener('keydown', onKey)
    return () => window.removeEventListener('keydown', onKey)
  }, [index, progress.steps])

  const enter = async (entry: StepOutcome, supersedes: string | null = null) => {
    const observation = {
      entry: { kind: 'sheet-step' as const, sheetId, ...entry, said: [...entry.said], photos: [...entry.photos] },
      observedAt: new Date().toISOString(),
      supersedes,
    }
    const { error: failed } = await add({ calloutId: callout.id, id: uuidv7(), observation })
    // Back to whatever comes next.
    if (!failed && entry.outcome !== 'failed') setAt(null)
    return failed === undefined
  }
  const release = async (step: string) => {
    const entry = { kind: 'sheet-release' as const, sheetId, step, remark: '' }
    await add({
      calloutId: callout.id,
      id: uuidv7(),
      observation: { entry, observedAt: new Date().toISOString(), supersedes: null },
    })
  }
  const takeBack = async (entryId: string) => {
    const entry = { kind: 'withdrawn' as const, reason: 'taken back' }
    await add({
      calloutId: callout.id,
      id: uuidv7(),
      observation: { entry, observedAt: new Date().toISOString(), supersedes: entryId },
    })
  }
  return (
    <>
      <Box sx={{ display: 'flex', gap: 2, flexWrap: 'wrap', alignItems: 'center', mb: 1 }}>
        <Typography variant="h2" sx={{ flex: 1, minWidth: 200 }}>
          {sheet.name}
        </Typography>
        <Typography>
          {progress.done} of {progress.steps.length} steps
        </Typography>
      </Box>
      <LinearProgress
        variant="determinate"
        value={(100 * progress.done) / progress.steps.length}
        aria-label="Steps done"
        sx={{ mb: 1, height: 6, borderRadius: 3 }}
      />
      {progress.exposed.length > 0 && (
        <Typography sx={{ mb: 1 }}>
          <Judgement tone="close" word={`Open now: ${progress.exposed.join(', ')}`} />
        </Typography>
      )}
      <Problem error={error} />
      {progress.complete && (
        <Alert severity="success" variant="outlined" sx={{ mb: 2 }}>
          Every step is done or left out with its reason. Nothing is left open.
        </Alert>
      )}
      {shown && (
        <StepCard
          key={shown.step.id}
          {...props}
          sheetId={sheetId}
          sheet={sheet}
          state={shown}
          number={index + 1}
          count={progress.steps.length}
          moved={chosen || shown.step.id !== firstShown}
          working={working}
          busy={isLoading}
          leads={canLead(account)}
          onEnter={enter}
          onRelease={() => release(shown.step.id)}
          onTakeBack={takeBack}
          onGo={(by) => {
            const next = progress.steps[index + by]
            if (next) setAt(next.step.id)
          }}
          onNext={at !== null && shown !== progress.next ? () => setAt(null) : null}
        />
      )}
      <Section
        title="All steps"
        action={
          <Button variant="outlined" onClick={() => printSection('All steps')}>
            Print or save as PDF
          </Button>
        }
      >
        <Typography sx={{ fontSize: 14, color: 'text.secondary' }}>
          Begun {clock(begun.begunAt)} by {begun.begunBy}. From{' '}
          {sheet.procedures.map(({ name, version }) => `${name} (version ${version})`).join(', ')}:{' '}
          {[...new Set(sheet.procedures.map(({ source }) => source))].join('; ')}.
        </Typography>
        <AllSteps begun={begun} units={units} current={shown?.step.id ?? null} onChoose={setAt} />
      </Section>
      <HandOverSection {...props} begun={begun} working={working} />
    </>
  )
}

const WORD: Record<StepState['state'], { tone: 'good' | 'close' | 'unknown'; word: string }> = {
  done: { tone: 'good', word: 'done' },
  skipped: { tone: 'close', word: 'left out' },
  open: { tone: 'unknown', word: 'open' },
}

/** The whole sheet, as it is kept and printed. */
function AllSteps({
  begun: { sheet, progress, waiting },
  units,
  current,
  onChoose,
}: {
  begun: BegunSheet
  units: Parameters<typeof stepInWords>[2]
  current: string | null
  onChoose(step: string): void
}) {
  return (
    <>
      {progress.steps.map((state, i) => {
        const { step, by, others } = state
        const heading = i === 0 || progress.steps[i - 1]!.step.part !== step.part
        return (
          <Box key={step.id}>
            {heading && (
              <Typography variant="h3" sx={{ mt: 1.5, mb: 0.5 }}>
                {PART_WORDS[step.part]}
              </Typography>
            )}
            <Box
              component="button"
              type="button"
              aria-current={step.id === current ? 'step' : undefined}
              onClick={() => {
                onChoose(step.id)
                window.scrollTo({ top: 0 })
              }}
              className="on-paper"
              sx={{
                display: 'block',
                width: '100%',
                minHeight: 44,
                textAlign: 'left',
                font: 'inherit',
                color: 'inherit',
                bgcolor: step.id === current ? 'action.selected' : 'transparent',
                border: 0,
                borderLeft: 3,
                borderColor: step.id === current ? 'primary.main' : 'transparent',
                px: 1,
                py: 0.75,
                cursor: 'pointer',
                '&:hover': { bgcolor: 'action.hover' },
              }}
            >
              <Box component="span" sx={{ display: 'block' }}>
                {i + 1}. {stepInWords(step.do, sheet.lengths, units)}{' '}
                <Judgement tone={WORD[state.state].tone} word={WORD[state.state].word} />
              </Box>
              {by && (
                <Box component="span" sx={{ display: 'block', fontSize: 14, color: 'text.secondary' }}>
                  {clock(by.at)}, {by.by}
                  {valuesInWords(state)}
                  {by.entry.reason && `: ${by.entry.reason}`}
                  {waiting.has(by.id) && ', waits on this device'}
                </Box>
              )}
              {others.map(({ id, by: who, at, why }) => (
                <Box component="span" key={id} sx={{ display: 'block', fontSize: 14, color: 'text.secondary' }}>
                  {clock(at)}, {who}: does not count, {why}
                </Box>
              ))}
            </Box>
          </Box>
        )
      })}
    </>
  )
}

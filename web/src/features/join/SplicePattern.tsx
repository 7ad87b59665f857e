import type { Cause, Charted, SessionCare, WatchedAttempt } from '@cold-thread/core/join'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import Paper from '@mui/material/Paper'
import Typography from '@mui/material/Typography'
import { Judgement } from '../../ui/Judgement.tsx'
import { Problem } from '../../ui/Problem.tsx'
import { useSessionPatterns } from '../../worker/useSessionPatterns.ts'
import { SessionChart } from './SessionChart.tsx'

const CARE_FOR = { grooves: 'grooves', blade: 'blade', electrodes: 'electrodes' } as const
const DONE = {
  grooves: 'V-grooves are clean',
  blade: 'The blade is turned',
  electrodes: 'New electrodes are in',
} as const

/** Readings that a cause shows in first. */
const SHOWN_IN: Record<Cause, Charted> = {
  grooves: 'offset',
  blade: 'angle',
  hand: 'angle',
  electrodes: 'loss',
  'mode fields': 'loss',
}

/** What the session's splices show together: the advice with its evidence, and the charts behind it. */
export function SplicePattern({
  watched,
  reference,
  care,
  busy,
  onCare,
}: {
  watched: readonly WatchedAttempt[]
  reference: readonly WatchedAttempt[]
  care: SessionCare
  busy: boolean
  /** Null for those who only read. */
  onCare: ((what: 'grooves' | 'blade' | 'electrodes') => Promise<unknown>) | null
}) {
  const { patterns, error } = useSessionPatterns(watched, reference, care)
  if (!patterns) return <Problem error={error} />
  const { pattern, reference: from, usual } = patterns
  const cause = pattern?.cause
  const done = cause === 'grooves' || cause === 'blade' || cause === 'electrodes' ? CARE_FOR[cause] : null
  const chartOf = (series: Charted) => (
    <SessionChart key={series} series={series} watched={watched} usual={usual[series]} />
  )
  const shown = pattern && SHOWN_IN[pattern.cause]
  const charts = (['loss', 'angle', 'offset'] as const).filter((series) => series !== shown).map(chartOf)
  const limits =
    from === 'own splices'
      ? `Usual is what this splicer’s last ${reference.length} fibers were like; a whole session of 24 healthy splices raises an alarm in at most 5 of 100.`
      : 'This splicer has too few splices here: usual figures are a judgement.'
  if (!pattern)
    return watched.length === 0 ? null : (
      <Box component="details" sx={{ mb: 2 }}>
        <Box component="summary" sx={{ py: 1.25, cursor: 'pointer' }}>
          The session so far: nothing stands out
        </Box>
        {charts}
        <Typography sx={{ fontSize: 14, color: 'text.secondary' }}>{limits}</Typography>
      </Box>
    )
  return (
    <Paper
      component="section"
      aria-label="Advice"
      sx={{ p: { xs: 1.5, sm: 2.5 }, mb: 2, border: 2, borderColor: 'warning.main' }}
    >
      <Typography component="p" role="status">
        <Judgement tone="close" word={pattern.advice} large />
      </Typography>
      <Box component="ul" sx={{ mt: 0.5, mb: 1 }}>
        {pattern.evidence.map((line) => (
          <li key={line}>{line}</li>
        ))}
      </Box>
      {chartOf(SHOWN_IN[pattern.cause])}
      <Box component="details">
        <Box component="summary" sx={{ py: 1.25, cursor: 'pointer' }}>
          The session’s other charts
        </Box>
        {charts}
      </Box>
      <Typography sx={{ fontSize: 14, color: 'text.secondary', mb: 1 }}>{limits}</Typography>
      {onCare && done && (
        <Button
          variant="outlined"
          size="large"
          disabled={busy}
          onClick={() => void onCare(done)}
          sx={{ minHeight: 56 }}
        >
          {DONE[done]}
        </Button>
      )}
    </Paper>
  )
}

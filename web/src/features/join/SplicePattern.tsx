import {
  ADVICE,
  FALSE_ALARMS,
  SESSION,
  type Cause,
  type Charted,
  type SessionCare,
  type WatchedAttempt,
} from '@cold-thread/core/join'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import Paper from '@mui/material/Paper'
import Typography from '@mui/material/Typography'
import { Judgement } from '../../ui/Judgement.tsx'
import { Problem } from '../../ui/Problem.tsx'
import { useSessionPatterns } from '../../worker/useSessionPatterns.ts'
import { SessionChart } from './SessionChart.tsx'

/** What can be done about the tools, and how it is said when it was. */
const DONE = {
  grooves: 'V-grooves are clean',
  blade: 'The blade is turned',
  electrodes: 'New electrodes are in',
} as const

function isOfTools(cause: Cause): cause is keyof typeof DONE {
  return cause in DONE
}

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
  const { pattern, unnamed, reference: from, usual } = patterns
  const chartOf = (series: Charted) => (
    <SessionChart key={series} series={series} watched={watched} usual={usual[series]} />
  )
  const shown = new Set(pattern?.causes.map((cause) => SHOWN_IN[cause]))
  const charts = (['loss', 'angle', 'offset'] as const).filter((series) => !shown.has(series)).map(chartOf)
  const limits =
    from === 'own splices'
      ? `Usual is what this splicer’s last ${reference.length} splices were like; a whole session of ${SESSION} healthy splices raises an alarm in at most ${100 * FALSE_ALARMS} of 100.`
      : `This splicer has ${reference.length === 0 ? 'no' : `only ${reference.length}`} earlier splices here: what is usual is mostly a judgement, and less is noticed.`
  if (!pattern)
    return watched.length === 0 ? null : (
      <Box component="details" sx={{ mb: 2 }}>
        <Box component="summary" sx={{ py: 1.25, cursor: 'pointer' }}>
          {unnamed ?? 'The session so far: nothing stands out'}
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
      <Box role="status">
        {pattern.causes.map((cause) => (
          <Typography component="p" key={cause}>
            <Judgement tone="close" word={ADVICE[cause]} large />
          </Typography>
        ))}
      </Box>
      <Box component="ul" sx={{ mt: 0.5, mb: 1 }}>
        {pattern.evidence.map((line) => (
          <li key={line}>{line}</li>
        ))}
      </Box>
      {[...shown].map(chartOf)}
      <Box component="details">
        <Box component="summary" sx={{ py: 1.25, cursor: 'pointer' }}>
          The session’s other charts
        </Box>
        {charts}
      </Box>
      <Typography sx={{ fontSize: 14, color: 'text.secondary', mb: 1 }}>{limits}</Typography>
      {onCare && (
        <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 1.5 }}>
          {pattern.causes.filter(isOfTools).map((cause) => (
            <Button
              key={cause}
              variant="outlined"
              size="large"
              disabled={busy}
              onClick={() => void onCare(cause)}
              sx={{ minHeight: 56 }}
            >
              {DONE[cause]}
            </Button>
          ))}
        </Box>
      )}
    </Paper>
  )
}

import type { StepEntry } from '@cold-thread/contract'
import type { OrderLine, StepKind } from '@cold-thread/core/plan'
import Alert from '@mui/material/Alert'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import LinearProgress from '@mui/material/LinearProgress'
import Typography from '@mui/material/Typography'
import { useState } from 'react'
import { v7 as uuidv7 } from 'uuid'
import { useAddObservationMutation, useObservationsQuery } from '../../api/api.ts'
import { useProgress, type Progress } from '../../worker/usePlanner.ts'
import { Problem } from '../../ui/Problem.tsx'
import type { StageProps } from '../callout/stageProps.ts'
import { DoneDialog } from './DoneDialog.tsx'
import { finishInWords, minutesInWords } from './planWords.ts'
import { ScheduleChart, type DoneLine } from './ScheduleChart.tsx'
import type { PlanInput, useOrder } from './usePlan.ts'

function Scheduling({ progress }: { progress: Progress }) {
  const part = useProgress(progress)
  return <LinearProgress variant="determinate" value={100 * part} sx={{ flex: 1 }} aria-label="Scheduling" />
}

/** The order of work while it is scheduled, when it can't be, and as it stands; lines are logged as done. */
export function OrderOfLines({
  computed,
  onEdit,
  onUndo,
  working,
  stretch,
  callout,
  kit,
}: Pick<StageProps, 'callout'> & {
  computed: ReturnType<typeof useOrder>
  onEdit: React.ComponentProps<typeof ScheduleChart>['onEdit']
  onUndo(): void
  working: boolean
  /** What the plan has stretched the rule book's minutes of a kind by. */
  stretch(kind: StepKind): number
  kit: PlanInput['kit']
}) {
  const { data: log } = useObservationsQuery(callout.id)
  const [add, { error }] = useAddObservationMutation()
  const [asked, setAsked] = useState<OrderLine | null>(null)
  const done = new Map<string, DoneLine>(
    (log ?? []).flatMap(({ entry, superseded, by }) =>
      entry.kind === 'step' && !superseded ? [[entry.line, { minutes: entry.minutes, by }] as const] : [],
    ),
  )
  const order = computed.last?.order
  return (
    <>
      <Problem error={error} />
      {computed.status === 'failed' && (
        <Alert
          severity="error"
          variant="outlined"
          sx={{ mb: 1 }}
          action={
            order && (
              <Button color="inherit" onClick={onUndo}>
                Take the change back
              </Button>
            )
          }
        >
          {computed.problem}
          {order && '. Below stands the plan before this change.'}
        </Alert>
      )}
      {computed.status === 'working' && (
        <Box sx={{ display: 'flex', gap: 2, alignItems: 'center', mb: 1, minHeight: 44 }}>
          <Scheduling progress={computed.progress} />
          <Button onClick={computed.cancel}>Cancel</Button>
        </Box>
      )}
      {computed.status === 'cancelled' && (
        <Alert severity="info" variant="outlined" sx={{ mb: 1 }}>
          Cancelled{order ? ': below stands the plan before.' : '. Change anything above to schedule again.'}
        </Alert>
      )}
      {order && (
        <>
          <Typography sx={{ mb: 1 }}>
            Finished in <strong>{finishInWords(order.finish)}</strong>, counted from leaving. Dark bars decide the end;
            thin lines reach to nine runs of ten. {order.steps} steps, {order.runs.toLocaleString('en-GB')} runs; no
            order of them ends before {minutesInWords(order.bound)}.
          </Typography>
          <ScheduleChart
            order={order}
            kit={kit}
            onEdit={onEdit}
            done={done}
            onDone={working ? (line) => setAsked(line) : null}
          />
        </>
      )}
      {asked && (
        <DoneDialog
          line={asked}
          onClose={() => setAsked(null)}
          onDone={(minutes) => {
            const entry: StepEntry = {
              kind: 'step',
              step: asked.kind,
              line: asked.id,
              name: asked.name,
              minutes,
              planned: Math.max(0, asked.end.planned - asked.start),
              ...(stretch(asked.kind) === 1 ? {} : { stretch: stretch(asked.kind) }),
            }
            void add({
              calloutId: callout.id,
              id: uuidv7(),
              observation: { entry, observedAt: new Date().toISOString(), supersedes: null },
            })
            setAsked(null)
          }}
        />
      )}
    </>
  )
}

import { judgeSplice, sessionsOf, type SpliceAttempt } from '@cold-thread/core/join'
import { ruleBook, type RuleBook } from '@cold-thread/core/prove'
import type { SpliceEntry } from '@cold-thread/contract'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import Typography from '@mui/material/Typography'
import { useMemo, useState } from 'react'
import { useObservationsQuery } from '../../api/api.ts'
import type { LoggedObservation } from '../../field/waitingEntries.ts'
import { canWork } from '../../app/rights.ts'
import { metres } from '@cold-thread/core/units'
import { Judgement } from '../../ui/Judgement.tsx'
import { Problem } from '../../ui/Problem.tsx'
import { Section } from '../../ui/Section.tsx'
import { clock } from '../../ui/time.ts'
import { useAwake } from '../../ui/useAwake.ts'
import type { StageProps } from '../callout/stageProps.ts'
import { Attachments } from './Attachments.tsx'
import { CleaningForm } from './CleaningForm.tsx'
import { EndFaces } from './EndFaces.tsx'
import { CorrectSplice } from './CorrectSplice.tsx'
import { Rivals } from './Rivals.tsx'
import { rivalsOf } from './rivals.ts'
import { SessionView } from './SessionView.tsx'
import { SpliceForm } from './SpliceForm.tsx'
import { StartSession } from './StartSession.tsx'
import { TraceReadings } from './TraceReadings.tsx'

/** Entered and received further apart than this is said, ms. */
const APART = 120_000

/** The log of the repaired joints: each attempt is judged while it can still be redone. */
export function JoinStage(props: StageProps) {
  const { account, callout, plant } = props
  const { data: log, error } = useObservationsQuery(callout.id, { pollingInterval: 15_000 })
  // Evidence and marks stand at Locate; here is what was done.
  const entries = (log ?? []).filter(
    ({ superseded, entry }) => !superseded && ['splice', 'cleaning', 'note'].includes(entry.kind),
  )
  const splices = entries.filter(isSplice)
  const sessions = useMemo(() => sessionsOf(log ?? []), [log])
  const session = sessions.find(({ ended }) => !ended)
  const rulesOf = (entry: { sessionId?: string | undefined }) =>
    ruleBook(sessions.find(({ id }) => id === entry.sessionId)?.setup.rules ?? 'standard')
  const nameOf = (id: string) => plant.nodes.find((node) => node.id === id)?.name ?? id
  const working = canWork(account) && callout.state !== 'closed'
  useAwake(working)
  const [corrected, setCorrected] = useState<SpliceObservation | null>(null)
  return (
    <>
      <Problem error={error} />
      {rivalsOf(log ?? []).map((rivals) => (
        <Rivals
          key={rivals[0]!.supersedes}
          rivals={rivals}
          working={working}
          show={(one) => <LogLine observation={one} splices={splices} nameOf={nameOf} rulesOf={rulesOf} />}
        />
      ))}
      {session && <SessionView key={session.id} {...props} working={working} session={session} />}
      {working && !session && <StartSession {...props} />}
      {working && !session && <SpliceForm {...props} splices={splices.map((entry) => entry.entry)} />}
      <Section title="Log">
        {log && entries.length === 0 && (
          <Typography sx={{ color: 'text.secondary' }}>Nothing is logged yet.</Typography>
        )}
        <Box component="ol" sx={{ listStyle: 'none', p: 0, m: 0 }}>
          {entries.map((observation) => (
            <Box component="li" key={observation.id} sx={{ borderBottom: 1, borderColor: 'divider', py: 1 }}>
              <LogLine observation={observation} splices={splices} nameOf={nameOf} rulesOf={rulesOf} />
              {working && isSplice(observation) && (
                <Button size="small" onClick={() => setCorrected(observation)} className="not-on-paper">
                  Correct
                </Button>
              )}
            </Box>
          ))}
        </Box>
      </Section>
      {corrected && <CorrectSplice observation={corrected} onClose={() => setCorrected(null)} />}
      <TraceReadings
        {...props}
        working={working}
        log={log ?? []}
        rules={ruleBook(sessions[0]?.setup.rules ?? 'standard')}
      />
      <EndFaces {...props} working={working} />
      {working && <CleaningForm {...props} />}
      <Attachments {...props} />
    </>
  )
}

type SpliceObservation = LoggedObservation & { entry: SpliceEntry }

function isSplice(observation: LoggedObservation): observation is SpliceObservation {
  return observation.entry.kind === 'splice'
}

function LogLine({
  observation,
  splices,
  nameOf,
  rulesOf,
}: {
  observation: LoggedObservation
  splices: SpliceObservation[]
  nameOf: (id: string) => string
  rulesOf: (entry: SpliceEntry) => RuleBook
}) {
  const { entry } = observation
  const who = whoAndWhen(observation)
  if (entry.kind === 'note')
    return (
      <>
        <Typography>{entry.text}</Typography>
        <Typography sx={{ fontSize: 14, color: 'text.secondary' }}>{who}</Typography>
      </>
    )
  if (entry.kind === 'cleaning')
    return (
      <>
        <Typography>
          {nameOf(entry.node)} cleaned and inspected:{' '}
          <Judgement
            tone={entry.outcome === 'clean' ? 'good' : entry.outcome === 'damaged' ? 'bad' : 'close'}
            word={entry.outcome}
          />
          {entry.remark && ` ${entry.remark}`}
        </Typography>
        <Typography sx={{ fontSize: 14, color: 'text.secondary' }}>{who}</Typography>
      </>
    )
  if (entry.kind !== 'splice') return null
  const earlier: SpliceAttempt[] = splices
    .filter((other) => sameJoint(other.entry, entry) && other.entry.attempt < entry.attempt)
    .map((other) => other.entry)
  const judgement = judgeSplice(entry, earlier, rulesOf(entry))
  return (
    <>
      <Typography>
        <strong>
          {entry.node === null ? metres(entry.chainage) : nameOf(entry.node)}, {entry.cable} fiber {entry.fiber},
          attempt {entry.attempt}
        </strong>{' '}
        {entry.estimate === null ? 'no estimate' : `${entry.estimate.toFixed(2)} dB`}{' '}
        <Judgement
          tone={entry.outcome === 'accepted' ? 'good' : entry.outcome === 'redo' ? 'close' : 'bad'}
          word={entry.outcome}
        />
      </Typography>
      <Typography sx={{ fontSize: 14 }}>
        {judgement.reasons.join('; ')}
        {entry.remark && `. ${entry.remark}`}
      </Typography>
      <Typography sx={{ fontSize: 14, color: 'text.secondary' }}>{who}</Typography>
    </>
  )
}

/** Entered when by the device's clock; where the server's differs (it waited, or a clock is wrong), that too. */
function whoAndWhen({ observedAt, receivedAt, by, waiting }: LoggedObservation): string {
  const apart = Math.abs(Date.parse(receivedAt) - Date.parse(observedAt)) > APART
  return `${clock(observedAt)}, ${by}${waiting ? ', waits on this device' : apart ? `, on the server ${clock(receivedAt)}` : ''}`
}

function sameJoint(a: SpliceEntry, b: SpliceEntry): boolean {
  return a.node === b.node && a.chainage === b.chainage && a.cable === b.cable && a.fiber === b.fiber
}

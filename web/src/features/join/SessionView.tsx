import type { LogEntry, SpliceEntry } from '@cold-thread/contract'
import { CARE, NO_CONDITIONS, type Care, type JoinSession, type WatchedAttempt } from '@cold-thread/core/join'
import { whyUnfit } from '@cold-thread/core/kit'
import { ruleBook } from '@cold-thread/core/prove'
import { seedFrom } from '@cold-thread/core/math'
import { PLANTED_CAUSES } from '@cold-thread/core/sim'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import Typography from '@mui/material/Typography'
import { useEffect, useMemo, useState } from 'react'
import { useKitQuery, useUsualOfSplicerQuery } from '../../api/api.ts'
import { useEnter } from '../../api/useEnter.ts'
import { Problem } from '../../ui/Problem.tsx'
import { Section } from '../../ui/Section.tsx'
import { clock } from '../../ui/time.ts'
import { SelectField } from '../../ui/SelectField.tsx'
import type { StageProps } from '../callout/stageProps.ts'
import { ArcCalibration } from './ArcCalibration.tsx'
import { CurrentSplice, type AttemptMade } from './CurrentSplice.tsx'
import { EndSession } from './EndSession.tsx'
import { QueueList } from './QueueList.tsx'
import { openSession } from './sessions.ts'
import { SplicePattern } from './SplicePattern.tsx'
import { StandInSplicer, type StandInFault } from './splicer.ts'

const NOTHING: WatchedAttempt[] = []
const CARE_WORDS: Record<Care, string> = {
  grooves: 'V-grooves cleaned',
  blade: 'Blade turned',
  electrodes: 'New electrodes',
  moved: 'Splicer moved',
  'switched on': 'Switched off and on',
}
/** What mends which fault of the stand-in. */
const MENDS: Partial<Record<Care, StandInFault>> = {
  grooves: 'dirty groove',
  blade: 'worn blade',
  electrodes: 'old electrodes',
}

/** A session under way: the splice to make stands large, what the arc asks for before it, the queue in reach. */
export function SessionView({
  callout,
  plant,
  working,
  session,
}: Pick<StageProps, 'callout' | 'plant'> & { working: boolean; session: JoinSession }) {
  const { enter, error, busy } = useEnter(callout.id)
  const { data: kit } = useKitQuery()
  const splicerId = session.setup.splicer
  const { data: reference } = useUsualOfSplicerQuery(
    { splicer: splicerId ?? '', cleaver: session.setup.cleaver },
    { skip: splicerId === null },
  )
  const [fault, setFault] = useState<StandInFault>('none')
  const [now, setNow] = useState(() => Date.now())
  useEffect(() => {
    const timer = setInterval(() => setNow(Date.now()), 15_000)
    return () => clearInterval(timer)
  }, [])
  const opened = useMemo(() => openSession(plant, session), [plant, session])
  const { state, queue, watched } = opened
  const done = session.attempts.length
  const splicer = useMemo(
    // Each splice of the stand-in has its own seed: a page loaded anew does not repeat the last.
    () => new StandInSplicer(seedFrom(session.id, String(done), String(state.refused)), 'core', fault),
    [session.id, done, state.refused, fault],
  )
  const itemOf = (id: string | null) => kit?.kit.items.find((item) => item.id === id)
  const [machine, cleaver] = [itemOf(splicerId), itemOf(session.setup.cleaver)]
  const over = (item: ReturnType<typeof itemOf>) => item !== undefined && whyUnfit(item, null) !== null
  const [arcsOver, bladeOver] = [over(machine), over(cleaver)]
  const care = useMemo(
    () => ({ calibrationsRefused: state.refused, arcsOver, bladeOver }),
    [state.refused, arcsOver, bladeOver],
  )
  const say = (entry: LogEntry) => enter(entry)
  const took = async (what: Care) => {
    if (MENDS[what] === fault) setFault('none')
    return say({ kind: 'session-care', sessionId: session.id, what, conditions: NO_CONDITIONS })
  }
  const rules = ruleBook(session.setup.rules ?? 'standard')
  const current = queue.current
  const earlier = session.attempts.flatMap(({ attempt }) => (attempt.splice === current?.splice.id ? [attempt] : []))
  const made = async (attempt: AttemptMade): Promise<boolean> => {
    const { pairs, id } = current!.splice
    const entry: SpliceEntry = {
      kind: 'splice',
      node: session.node,
      chainage: session.chainage,
      ...pairs[0]!.a,
      mate: pairs[0]!.b,
      attempt: Math.min(20, earlier.length + 1),
      sessionId: session.id,
      splice: id,
      ...attempt,
    }
    return (await say(entry)) !== null
  }
  const left = queue.splices.filter(({ state: one }) => one !== 'accepted' && one !== 'stopped').length
  const ask = (splice: string, to: 'later' | 'first', reason: string) =>
    say({ kind: 'splice-queue', sessionId: session.id, splice, to, reason })
  return (
    <>
      <Typography sx={{ mb: 1 }}>
        {machine ? `Splicer ${machine.name}` : 'A splicer that is not in the kit'}
        {cleaver && `, cleaver ${cleaver.name}`}, {session.setup.mode}, sleeves of {session.setup.sleeve} mm,{' '}
        {rules.name} limits. Begun {clock(session.begunAt)} by {session.begunBy}.
      </Typography>
      <Problem error={error} />
      {working && state.demands.length > 0 && (
        <ArcCalibration
          state={state}
          splicer={splicer}
          multimode={session.setup.mode === 'multimode'}
          busy={busy}
          onCalibrated={(outcome, fiber, conditions) =>
            say({ kind: 'arc-calibration', sessionId: session.id, outcome, fiber, conditions })
          }
        />
      )}
      <SplicePattern
        key={session.since}
        watched={watched}
        reference={reference ?? NOTHING}
        care={care}
        busy={busy}
        onCare={working ? took : null}
      />
      {working && state.demands.length === 0 && current && (
        <CurrentSplice
          key={`${current.splice.id} ${earlier.length}`}
          sessionId={session.id}
          queued={current}
          earlier={earlier}
          plant={plant}
          rules={rules}
          splicer={splicer}
          busy={busy}
          onMade={made}
          onLater={(reason) => ask(current.splice.id, 'later', reason)}
        />
      )}
      {!current && (
        <Typography sx={{ mb: 2, fontSize: 18 }}>
          Every splice of the queue is accepted or stopped{working ? ': end the session' : ''}.
        </Typography>
      )}
      <QueueList
        queue={queue}
        ribbon={session.setup.ribbon}
        plant={plant}
        now={now}
        onFirst={working ? (splice) => ask(splice, 'first', 'asked for first') : null}
      />
      {working && (
        <Section title="Splicer and cleaver">
          <Box sx={{ display: 'flex', gap: 1, flexWrap: 'wrap', mb: 1.5 }}>
            {CARE.map((what) => (
              <Button
                key={what}
                variant="outlined"
                disabled={busy}
                onClick={() => void took(what)}
                sx={{ minHeight: 48 }}
              >
                {CARE_WORDS[what]}
              </Button>
            ))}
          </Box>
          <SelectField
            label="The simulated splicer is"
            value={fault}
            onChoose={setFault}
            helperText="for practice: what is wrong with the stand-in"
            sx={{ minWidth: 240 }}
            options={[...PLANTED_CAUSES, 'silent' as const, 'nonsense' as const].map(
              (one) => [one, one === 'none' ? 'in order' : one] as const,
            )}
          />
        </Section>
      )}
      {working && (
        <EndSession
          left={left}
          busy={busy}
          onEnd={(remark) =>
            say({ kind: 'session-end', sessionId: session.id, said: ['bin closed', 'mat taped'], remark })
          }
        />
      )}
    </>
  )
}

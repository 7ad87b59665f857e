import {
  hasSettled,
  judgeLosses,
  lossTestsOf,
  newJointsIn,
  REFERENCE_WORDS,
  SETTLED_DB,
  referenceAt,
  sourceChecksOf,
  type LoggedReference,
  type ReferenceStanding,
} from '@cold-thread/core/prove'
import { isCableStep, type Direction, type Link } from '@cold-thread/core/plant'
import Box from '@mui/material/Box'
import Typography from '@mui/material/Typography'
import { useMemo, useState } from 'react'
import { useLossBaselinesQuery, useObservationsQuery, useSourceChecksQuery } from '../../../api/api.ts'
import { canWork } from '../../../app/rights.ts'
import { LOSS_SET_FAULTS } from '../../../devices/powerMeter.ts'
import { Judgement, type Tone } from '../../../ui/Judgement.tsx'
import { Problem } from '../../../ui/Problem.tsx'
import { Section } from '../../../ui/Section.tsx'
import { SelectField } from '../../../ui/SelectField.tsx'
import { clock } from '../../../ui/time.ts'
import type { StageProps } from '../../callout/stageProps.ts'
import { DailyCheck } from './DailyCheck.tsx'
import { LossReadings } from './LossReadings.tsx'
import { LookAgain } from './LookAgain.tsx'
import { SetReference } from './SetReference.tsx'
import { TurnedReadings } from './TurnedReadings.tsx'
import { useSimulatedMeter } from './useSimulatedMeter.ts'

const STANDING: Record<ReferenceStanding, { tone: Tone; word: string }> = {
  held: { tone: 'good', word: 'held when looked at again' },
  moved: { tone: 'bad', word: 'moved: what was read since is suspect' },
  'not checked since': { tone: 'unknown', word: 'not looked at since it was set' },
}

/** Loss by source and meter: the reference first, then every fiber against it. */
export function LossTest({ account, callout, plant, link }: StageProps) {
  const { data: log, error } = useObservationsQuery(callout.id, { pollingInterval: 15_000 })
  const { data: baselines } = useLossBaselinesQuery(callout.id)
  const { references, readings } = useMemo(() => lossTestsOf(log ?? []), [log])
  const [chosen, setChosen] = useState<string | null>(null)
  const [way, setWay] = useState<Direction>('ab')
  const figures = useMemo(
    () => judgeLosses(plant, readings, { [link.id]: newJointsIn(log ?? []).length }, baselines),
    [plant, readings, log, link.id, baselines],
  )
  const { data: elsewhere } = useSourceChecksQuery(callout.id)
  const checks = useMemo(() => sourceChecksOf(log ?? [], elsewhere), [log, elsewhere])
  const working = canWork(account) && callout.state !== 'closed'
  const reference = references.find(({ id }) => id === chosen) ?? references[0]
  const standIn = useSimulatedMeter(callout, plant)
  const links = useMemo(() => linksBeside(plant.links, link), [plant.links, link])
  if (!working && references.length === 0) return <Problem error={error} />
  const nameOf = (id: string) => plant.nodes.find((node) => node.id === id)?.name ?? id
  return (
    <Section title="Loss test, source and meter">
      <Problem error={error} />
      {working && <DailyCheck callout={callout} plant={plant} link={link} checks={checks} />}
      {reference && (
        <>
          <Box sx={{ display: 'flex', gap: 1.5, flexWrap: 'wrap', mt: 1, mb: 1 }}>
            <SelectField
              label="Reference"
              value={reference.id}
              onChoose={setChosen}
              sx={{ flex: '2 1 260px' }}
              options={references.map((one) => [one.id, referenceWords(one)] as const)}
            />
            <SelectField
              label="Light goes"
              value={way}
              onChoose={setWay}
              sx={{ flex: '2 1 260px' }}
              options={[
                ['ab', `from ${nameOf(link.from)} to ${nameOf(link.to)}`],
                ['ba', `from ${nameOf(link.to)} to ${nameOf(link.from)}`],
              ]}
            />
          </Box>
          <Typography>
            <Judgement {...STANDING[standingOf(reference)]} />
          </Typography>
          <Typography sx={{ fontSize: 14, color: 'text.secondary', mb: 1 }}>
            {clock(reference.at)}, {reference.by}; {reference.cords || 'cords not named'},{' '}
            {reference.means.referenceGrade ? 'reference grade' : 'ordinary connectors'}. It counts{' '}
            {REFERENCE_WORDS[reference.method].counts}; {REFERENCE_WORDS[reference.method].keep}.{driftWords(reference)}
          </Typography>
          {working && <LookAgain callout={callout} reference={reference} standIn={standIn} />}
          <LossReadings
            key={`${reference.id} ${way}`}
            callout={callout}
            links={links}
            reference={reference}
            way={way}
            figures={figures.filter((figure) => figure.wavelength === reference.wavelength && figure.way === way)}
            working={working}
            standIn={standIn && { set: standIn.set, lossOf: (one) => standIn.lossOf(one, reference, way) }}
          />
        </>
      )}
      {reference && (
        <TurnedReadings key={reference.id} callout={callout} log={log ?? []} reference={reference} working={working} />
      )}
      {working && (
        <SetReference
          callout={callout}
          plant={plant}
          link={link}
          first={references.length === 0}
          checked={checks.at(-1)}
          standIn={standIn}
        />
      )}
      {working && standIn && (
        <SelectField
          label="The simulated meter is"
          value={standIn.fault}
          onChoose={standIn.setFault}
          helperText="for practice: what is wrong with the stand-in"
          sx={{ minWidth: 260, mt: 1 }}
          options={LOSS_SET_FAULTS.map((one) => [one, one] as const)}
        />
      )}
    </Section>
  )
}

function referenceWords({ method, wavelength, level }: LoggedReference): string {
  return `${method}, ${wavelength} nm, ${level.toFixed(2)} dBm`
}

/** How the level of the reference moved from look to look: whether the source has settled. */
function driftWords({ level, at, checks }: LoggedReference): string {
  const looks = [{ level, at }, ...checks].sort((a, b) => a.at.localeCompare(b.at))
  if (looks.length < 2) return ''
  const levels = looks.map((look) => look.level)
  const moved = `${(Math.max(...levels) - Math.min(...levels)).toFixed(2)} dB in ${looks.length} looks`
  return hasSettled(looks)
    ? ` The source has settled: ${moved}.`
    : ` Moved by ${moved}; settled is within ${SETTLED_DB} dB over 5 min.`
}

/** How a reference stands by its last look. */
function standingOf(reference: LoggedReference): ReferenceStanding {
  const last = reference.checks.at(-1)
  return last ? referenceAt(reference, last.at) : 'not checked since'
}

/** The callout's link first, then those that share a cable with it, the most important circuits first. */
function linksBeside(links: readonly Link[], own: Link): Link[] {
  const cables = new Set(own.path.filter(isCableStep).map(({ cable }) => cable))
  const priority = ({ circuits }: Link) => Math.min(Infinity, ...circuits.map((one) => one.priority))
  const others = links
    .filter(({ id, path }) => id !== own.id && path.some((step) => isCableStep(step) && cables.has(step.cable)))
    .sort((a, b) => priority(a) - priority(b) || a.name.localeCompare(b.name))
  return [own, ...others]
}

import type { LogEntry } from '@cold-thread/contract'
import { adviseShot, statusLine, type LocateWarning } from '@cold-thread/core/locate'
import { buildThread, isCableStep, nearestOnRoute, type PlantBundle } from '@cold-thread/core/plant'
import Alert from '@mui/material/Alert'
import Box from '@mui/material/Box'
import CircularProgress from '@mui/material/CircularProgress'
import Button from '@mui/material/Button'
import Typography from '@mui/material/Typography'
import { useState } from 'react'
import { Link as RouterLink } from 'react-router'
import { v7 as uuidv7 } from 'uuid'
import { useAddObservationMutation, useObservationsQuery, useSurveyQuery, useTracesQuery } from '../../api/api.ts'
import { canWork } from '../../app/rights.ts'
import { metres } from '@cold-thread/core/units'
import { ThreadView } from '../../thread/ThreadView.tsx'
import { CopyButton } from '../../ui/CopyButton.tsx'
import { Problem } from '../../ui/Problem.tsx'
import { Section } from '../../ui/Section.tsx'
import type { LocateView } from '../../worker/view.ts'
import type { StageProps } from '../callout/stageProps.ts'
import { TraceShelf } from '../callout/TraceShelf.tsx'
import { EventTable } from './EventTable.tsx'
import { EvidenceSection } from './EvidenceSection.tsx'
import { FaultCard } from './FaultCard.tsx'
import { noFaultWords } from './noFaultWords.ts'
import { RouteMap, routeOf } from './RouteMap.tsx'
import { standingMarks, useLocated } from './useLocated.ts'
import { useOwnPosition, type OwnPosition } from './useOwnPosition.ts'

/** Where is it? The place first and large; the thread with its evidence under it. */
export function LocateStage(props: StageProps) {
  const { callout } = props
  const { data: traces } = useTracesQuery(callout.id)
  const located = useLocated(props)
  const [focus, setFocus] = useState<number | null>(null)
  const [asked, setAsked] = useState(false)
  const own = useOwnPosition(asked)
  const shot = (traces ?? []).some((trace) => trace.role === 'present' && !trace.withdrawn)
  const baselines = (traces ?? []).filter((trace) => trace.role === 'baseline' && !trace.withdrawn).length
  return (
    <>
      {located.status === 'failed' && <Alert severity="error">{located.problem}</Alert>}
      {located.status === 'working' && (
        <Box sx={{ display: 'flex', gap: 2, alignItems: 'center', p: 2 }}>
          <CircularProgress size={24} aria-label="Computing" /> Reading and comparing the traces…
        </Box>
      )}
      {located.status === 'ready' && (
        <>
          <Warnings warnings={coded(located.view, OVER_THE_PLACE)} />
          {shot || located.view.faults.length > 0 ? (
            <FaultCards {...props} view={located.view} />
          ) : (
            <BeforeTheFirstShot {...props} baselines={baselines} />
          )}
          <Warnings warnings={coded(located.view, UNDER_THE_PLACE)} />
          <Section title="The thread">
            <ThreadView view={located.view} focus={focus} here={onThread(props.plant, located.view, own)} />
          </Section>
          <RouteMap plant={props.plant} view={located.view} own={own} onAsk={setAsked} />
          <Warnings
            warnings={located.view.warnings.filter(
              ({ code }) => ![...OVER_THE_PLACE, ...UNDER_THE_PLACE, ...NOT_WORTH_A_WORD].includes(code),
            )}
          />
          {shot && <MarkedEvents {...props} view={located.view} onChoose={setFocus} />}
        </>
      )}
      <EvidenceSection {...props} />
      <TraceShelf {...props} role="present" title="Traces of the fault" />
      <ManyFibers {...props} />
    </>
  )
}

/** What was done to the traces before the place was computed stands over it, what limits it under it, the rest at the end. */
const OVER_THE_PLACE = ['direction-swapped', 'other-fiber']
const UNDER_THE_PLACE = ['direction-unchecked', 'named-otherwise', 'evidence-conflict', 'no-end', 'fades']
const NOT_WORTH_A_WORD = ['no-event-table']

const coded = (view: LocateView, codes: readonly string[]) => view.warnings.filter(({ code }) => codes.includes(code))

function Warnings({ warnings }: { warnings: readonly LocateWarning[] }) {
  return warnings.map((warning) => (
    <Alert key={warning.message} severity="warning" variant="outlined" sx={{ mb: 1 }}>
      {warning.message}
    </Alert>
  ))
}

/** This device on the thread's ruler; null while it does not know, or where the route has no geometry. */
function onThread(plant: PlantBundle, view: LocateView, own: OwnPosition): { ground: number; accuracy: number } | null {
  const route = routeOf(plant, view)
  const nearest = own.status === 'known' && route?.geometry ? nearestOnRoute(route, own.position) : null
  if (!nearest || own.status !== 'known') return null
  return {
    ground: view.chainageSign * (nearest.chainage - view.chainageAtZero),
    accuracy: Math.hypot(nearest.away, own.accuracy),
  }
}

/** The event table with people's marks, which go to the log. */
function MarkedEvents({
  account,
  callout,
  view,
  onChoose,
}: StageProps & { view: LocateView; onChoose(ground: number): void }) {
  const { data: log } = useObservationsQuery(callout.id)
  const [add, { error }] = useAddObservationMutation()
  const working = canWork(account) && callout.state !== 'closed'
  const write = (entry: LogEntry, supersedes: string | null) =>
    void add({
      calloutId: callout.id,
      id: uuidv7(),
      observation: { entry, observedAt: new Date().toISOString(), supersedes },
    })
  return (
    <>
      <EventTable
        view={view}
        onChoose={onChoose}
        marks={standingMarks(log)}
        onMark={working ? (mark) => write({ kind: 'mark', ...mark }, null) : undefined}
        onTakeBack={working ? (id) => write({ kind: 'withdrawn', reason: '' }, id) : undefined}
      />
      <Problem error={error} />
    </>
  )
}

/** More than one fiber down: the cable's traces together say more than one fiber's. */
function ManyFibers({ callout, plant, link }: StageProps) {
  const first = link.path.find(isCableStep)
  const cable = plant.cables.find((candidate) => candidate.id === first?.cable)
  const { data: survey } = useSurveyQuery(callout.id)
  if (!cable) return null
  const hit = survey?.fibers.filter((fiber) => fiber.state !== 'sound').length ?? 0
  return (
    <Section
      title="Other fibers of the cable"
      action={
        <Button
          component={RouterLink}
          to={`/callouts/${callout.id}/survey`}
          variant="outlined"
          className="not-on-paper"
          sx={{ minHeight: 44 }}
        >
          {survey ? 'Open the cable survey' : 'Survey the cable'}
        </Button>
      }
    >
      <Typography>
        {survey
          ? `${hit} of ${survey.fibers.length} fibers read of cable ${cable.id} are hit.`
          : `Cable ${cable.id} has ${cable.fiberCount} fibers. Which of them are hit, by tube and place, tells a cut from a pull, and a tray from the cable.`}
      </Typography>
    </Section>
  )
}

function BeforeTheFirstShot({ plant, link, baselines }: StageProps & { baselines: number }) {
  const nameOf = (id: string) => plant.nodes.find((node) => node.id === id)?.name ?? id
  return (
    <Section title="Shoot the link">
      <Typography>
        From {nameOf(link.from)} and from {nameOf(link.to)}, at 1310 and 1550 nm: both ends pin the place from two
        sides, two wavelengths tell a bend from a break.{' '}
        {baselines > 0
          ? `${baselines} baseline traces are on record to compare with.`
          : 'There is no baseline on record: only the end and large steps can be judged.'}
      </Typography>
      <ShotSettings plant={plant} link={link} />
      {link.state !== 'dark' && (
        <Alert severity="warning" variant="outlined" sx={{ mt: 1 }}>
          The record says this link is {link.state}: treat it as live. No OTDR at traffic wavelengths until the desk has
          released it and the fiber is shown dark.
        </Alert>
      )}
    </Section>
  )
}

function FaultCards({ plant, link, view }: StageProps & { view: LocateView }) {
  if (view.faults.length === 0) {
    const { title, text } = noFaultWords(view)
    return (
      <Section title={title}>
        <Typography>{text}</Typography>
      </Section>
    )
  }
  return (
    <>
      {view.faults.map((fault, i) => (
        <FaultCard key={fault.fiber} plant={plant} fault={fault} index={i} count={view.faults.length} />
      ))}
      <DeskLine text={statusLine(plant, link, view.faults)} />
    </>
  )
}

/** The state of things in one line, to be sent to the operations desk. */
function DeskLine({ text }: { text: string }) {
  return (
    <Section
      title="For the desk"
      action={
        <Box sx={{ display: 'flex', gap: 1 }}>
          <Button variant="outlined" sx={{ minHeight: 44 }} onClick={() => window.print()}>
            Print
          </Button>
          <CopyButton text={text}>Copy</CopyButton>
        </Box>
      }
    >
      <Typography sx={{ userSelect: 'all' }}>{text}</Typography>
    </Section>
  )
}

/** Settings for the first shot, with what they will show. */
function ShotSettings({ plant, link }: Pick<StageProps, 'plant' | 'link'>) {
  const advice = adviseShot(buildThread(plant, link.id), null, 1550)
  return (
    <Typography sx={{ mt: 1 }}>
      Set range <strong>{metres(advice.range)}</strong>, pulse <strong>{(advice.pulse * 1e9).toFixed(0)} ns</strong>,
      averaging <strong>{advice.minutes} min</strong>, cords of {metres(advice.cords)} or more. On a typical instrument
      that shows steps of {Math.max(0.01, advice.smallestStep).toFixed(2)} dB at the far end; two events closer than{' '}
      {metres(advice.eventDeadZone)} run into one, losses need {metres(advice.attenuationDeadZone)} of fiber after a
      reflection. {advice.remarks.join(' ')}
    </Typography>
  )
}

import { describePlace, positionAt } from '@cold-thread/core/plant'
import Alert from '@mui/material/Alert'
import Box from '@mui/material/Box'
import CircularProgress from '@mui/material/CircularProgress'
import Typography from '@mui/material/Typography'
import { useTracesQuery } from '../../api/api.ts'
import { metres } from '../../thread/axisTicks.ts'
import { ThreadView } from '../../thread/ThreadView.tsx'
import { Figure } from '../../ui/Figure.tsx'
import { Judgement } from '../../ui/Judgement.tsx'
import { Section } from '../../ui/Section.tsx'
import { useLocateView } from '../../worker/useLocateView.ts'
import type { LocateView } from '../../worker/view.ts'
import type { StageProps } from '../callout/stageProps.ts'
import { TraceShelf } from '../callout/TraceShelf.tsx'

/** Where is it? The place first and large; the thread with its evidence under it. */
export function LocateStage(props: StageProps) {
  const { callout, plant } = props
  const { data: traces } = useTracesQuery(callout.id)
  const located = useLocateView(plant, callout.linkId, traces)
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
          {shot ? (
            <FaultCards {...props} view={located.view} />
          ) : (
            <BeforeTheFirstShot {...props} baselines={baselines} />
          )}
          <Section title="The thread">
            <ThreadView view={located.view} />
          </Section>
          {located.view.warnings
            .filter((warning) => !/event table/.test(warning.message))
            .map((warning) => (
              <Alert key={warning.message} severity="warning" variant="outlined" sx={{ mb: 1 }}>
                {warning.message}
              </Alert>
            ))}
        </>
      )}
      <TraceShelf {...props} role="present" title="Traces of the fault" />
    </>
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
      {link.state !== 'dark' && (
        <Alert severity="warning" variant="outlined" sx={{ mt: 1 }}>
          The record says this link is {link.state}: treat it as live. No OTDR at traffic wavelengths until the desk has
          released it and the fiber is shown dark.
        </Alert>
      )}
    </Section>
  )
}

/** The 95 % interval; where the ground stands still, in a closure or coil, it is one place. */
function Interval({ of: [from, to] }: { of: [number, number] }) {
  if (to - from < 0.5) return <>95 % at this one place</>
  return (
    <>
      95 % between <strong>{metres(from)}</strong> and <strong>{metres(to)}</strong>
    </>
  )
}

function FaultCards({ plant, view }: StageProps & { view: LocateView }) {
  if (view.faults.length === 0)
    return (
      <Section title="No fault seen">
        <Typography>
          The present traces read like the baseline, as far as their noise lets one see. Look at the difference lane, or
          shoot again with a finer pulse and longer averaging.
        </Typography>
      </Section>
    )
  return view.faults.map((fault, i) => (
    <FaultCard key={fault.fiber} plant={plant} fault={fault} index={i} count={view.faults.length} />
  ))
}

function FaultCard({
  plant,
  fault,
  index,
  count,
}: {
  plant: StageProps['plant']
  fault: LocateView['faults'][number]
  index: number
  count: number
}) {
  const nameOf = (id: string) => plant.nodes.find((node) => node.id === id)?.name ?? id
  const likeliest = fault.places[0]
  const atNode = likeliest?.node !== undefined && likeliest.probability >= 0.5 ? likeliest : null
  const where = describePlace(plant, fault.routeId, fault.cable, fault.chainage)
  const route = plant.routes.find((candidate) => candidate.id === fault.routeId)
  const position = route ? positionAt(route, fault.chainage) : null
  const losses = Object.entries(fault.loss)
  return (
    <Section
      title={`${fault.breaks ? 'Break' : fault.reflects ? 'Added loss with a reflection' : 'Added loss'}${count > 1 ? ` ${index + 1} of ${count}` : ''}`}
    >
      <Box sx={{ display: 'grid', gap: 2, gridTemplateColumns: { xs: '1fr', md: '1.5fr 1fr' } }}>
        <Box>
          <Typography
            component="p"
            sx={{ fontSize: { xs: '1.7rem', sm: '2.1rem' }, fontWeight: 700, lineHeight: 1.15 }}
          >
            {atNode ? `At ${nameOf(atNode.node!)}` : metres(fault.chainage)}
          </Typography>
          <Typography sx={{ fontSize: '1.1rem', mt: 0.5 }}>
            {atNode
              ? `chainage ${metres(fault.chainage)}, probability ${(100 * atNode.probability).toFixed(0)} %`
              : Math.abs(where.offset) < 1
                ? `at ${where.reference}`
                : `${metres(Math.abs(where.offset))} from ${where.reference}${where.towards ? ` towards ${where.towards}` : ''}`}
            {where.environment ? `, ${where.environment}` : ''}
          </Typography>
          <Typography sx={{ mt: 0.5 }}>
            <Interval of={fault.interval95} />, cable {fault.cable}, between {nameOf(fault.betweenNodes[0])} and{' '}
            {nameOf(fault.betweenNodes[1])}
          </Typography>
          {position && (
            <Typography sx={{ mt: 0.5, color: 'text.secondary' }}>
              <a href={`geo:${position[1].toFixed(6)},${position[0].toFixed(6)}`} style={{ color: 'inherit' }}>
                {position[1].toFixed(5)}, {position[0].toFixed(5)}
              </a>
            </Typography>
          )}
        </Box>
        <Box sx={{ display: 'grid', gap: 1, alignContent: 'start' }}>
          {fault.goodEnoughToDig ? (
            <Judgement tone="good" word="Pinned from both sides by known features" />
          ) : (
            <Judgement tone="close" word="Not good enough to dig" />
          )}
          {!fault.goodEnoughToDig && (
            <Typography>No feature of the baseline stands at a known node on each side of the place.</Typography>
          )}
          <Typography>
            Before digging, locate this cable and every other buried service on site. This place does not replace that.
          </Typography>
          {losses.map(([wavelength, loss]) => (
            <Typography key={wavelength}>
              {wavelength} nm:{' '}
              {loss === null ? (
                fault.breaks ? (
                  'no light passes'
                ) : (
                  'added loss not measured'
                )
              ) : (
                <>
                  added loss{' '}
                  <Figure
                    value={loss}
                    unit="dB"
                    why="Mean of both directions where both were shot: present minus baseline, least squares on each side of the step."
                  />
                </>
              )}
            </Typography>
          ))}
          <Typography>
            Fiber length:{' '}
            {fault.opticalDistance.ab === null ? (
              ''
            ) : (
              <>
                from the near end{' '}
                <Figure
                  value={fault.opticalDistance.ab}
                  unit="m"
                  digits={1}
                  why="Cords taken off, with the plant’s group index."
                />
              </>
            )}
            {fault.opticalDistance.ab !== null && fault.opticalDistance.ba !== null && ', '}
            {fault.opticalDistance.ba === null ? (
              ''
            ) : (
              <>
                from the far end{' '}
                <Figure
                  value={fault.opticalDistance.ba}
                  unit="m"
                  digits={1}
                  why="Cords taken off, with the plant’s group index."
                />
              </>
            )}
          </Typography>
        </Box>
      </Box>
    </Section>
  )
}

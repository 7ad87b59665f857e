import { isAtPanel } from '@cold-thread/core/locate'
import { describePlace, positionAt } from '@cold-thread/core/plant'
import Box from '@mui/material/Box'
import Typography from '@mui/material/Typography'
import { Fragment } from 'react'
import { metres } from '@cold-thread/core/units'
import { Figure } from '../../ui/Figure.tsx'
import { Judgement } from '../../ui/Judgement.tsx'
import { Section } from '../../ui/Section.tsx'
import type { FaultView } from '../../worker/view.ts'
import type { StageProps } from '../callout/stageProps.ts'
import { CausesList } from './CausesList.tsx'
import { NextTestsList } from './NextTestsList.tsx'

/** One fault: where it is, how sure, what it may be and what to do next. */
export function FaultCard({
  plant,
  fault,
  index,
  count,
}: {
  plant: StageProps['plant']
  fault: FaultView
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
  const { ab, ba } = fault.opticalDistance
  const { opticalSigma } = fault
  const lengths = [
    ...(ab === null ? [] : [['from the near end', ab, opticalSigma.ab] as const]),
    ...(ba === null ? [] : [['from the far end', ba, opticalSigma.ba] as const]),
  ]
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
            <Interval of={fault.interval95} />, cable {fault.cable}
            {!atNode && `, between ${nameOf(fault.betweenNodes[0])} and ${nameOf(fault.betweenNodes[1])}`}
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
          {isAtPanel(plant, fault) ? (
            <Judgement tone="good" word="At a panel: nothing to dig" />
          ) : (
            <>
              {fault.goodEnoughToDig ? (
                <Judgement tone="good" word="Pinned from both sides by known features" />
              ) : (
                <Judgement tone="close" word="Not good enough to dig" />
              )}
              {!fault.goodEnoughToDig && (
                <Typography>No feature of the baseline stands at a known node on each side of the place.</Typography>
              )}
              <Typography>
                Before digging, locate this cable and every other buried service on site. This place does not replace
                that.
              </Typography>
            </>
          )}
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
                    sigma={fault.lossSigma[wavelength] ?? null}
                    unit="dB"
                    why="Mean of both directions where both were shot: present minus baseline, least squares on each side of the step. The uncertainty is one standard deviation, with the 0.02 dB that instruments agree on."
                  />
                </>
              )}
            </Typography>
          ))}
          <Typography>
            Fiber length:{' '}
            {lengths.map(([words, value, sigma], k) => (
              <Fragment key={words}>
                {k > 0 && ', '}
                {words}{' '}
                <Figure
                  value={value}
                  sigma={sigma}
                  unit="m"
                  digits={(sigma ?? 0) >= 10 ? 0 : 1}
                  why="Cords taken off, with the plant’s group index. The uncertainty is one standard deviation of what was measured from this end; the place on the ground above is from all traces together."
                />
              </Fragment>
            ))}
          </Typography>
        </Box>
        <Box>
          <Typography variant="h3" sx={{ mb: 1 }}>
            What it may be
          </Typography>
          {fault.untold !== null && <Typography sx={{ mb: 1, fontWeight: 650 }}>{fault.untold}</Typography>}
          <CausesList causes={fault.causes} />
        </Box>
        <Box>
          <Typography variant="h3" sx={{ mb: 1 }}>
            Next test
          </Typography>
          <NextTestsList tests={fault.nextTests} />
        </Box>
      </Box>
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

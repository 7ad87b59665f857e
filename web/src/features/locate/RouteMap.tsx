import { nearestOnRoute, positionAt, type PlantBundle, type Route } from '@cold-thread/core/plant'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import { useTheme } from '@mui/material/styles'
import Typography from '@mui/material/Typography'
import { geoDistance, geoMercator, geoPath, type GeoProjection } from 'd3'
import { useRef } from 'react'
import { metres } from '@cold-thread/core/units'
import { NodeGlyph } from '../../thread/glyphs.tsx'
import { useWidth } from '../../thread/useWidth.ts'
import { Section } from '../../ui/Section.tsx'
import type { FaultView, LocateView } from '../../worker/view.ts'
import type { OwnPosition } from './useOwnPosition.ts'

const HEIGHT = 300
const MARGIN = 42
/** Mean radius, m. */
const EARTH_RADIUS = 6_371_000

/** The route as it lies, with the link's nodes, the faults and, when asked, this device. Drawn without any map service. */
export function RouteMap({
  plant,
  view,
  own,
  onAsk,
}: {
  plant: PlantBundle
  view: LocateView
  own: OwnPosition
  /** Asks the device where it is, or stops asking. */
  onAsk(wanted: boolean): void
}) {
  const { inks, palette } = useTheme()
  const surface = useRef<HTMLDivElement>(null)
  const width = useWidth(surface)
  const route = routeOf(plant, view)
  if (!route?.geometry) return null
  const projection = geoMercator().fitExtent(
    [
      [MARGIN, MARGIN],
      [Math.max(2 * MARGIN, width - MARGIN), HEIGHT - MARGIN],
    ],
    route.geometry,
  )
  const at = (chainage: number) => projection(positionAt(route, chainage)!)!
  const here = own.status === 'known' ? projection(own.position) : null
  return (
    <Section
      title="On the map"
      action={
        <Button variant="outlined" sx={{ minHeight: 44 }} onClick={() => onAsk(own.status === 'off')}>
          {own.status === 'off' ? 'Where am I?' : 'Hide where I am'}
        </Button>
      }
    >
      <Box ref={surface}>
        <svg width={width} height={HEIGHT} role="img" aria-label={`Map of ${route.name}, north is up`}>
          <path d={geoPath(projection)(route.geometry) ?? ''} fill="none" stroke={inks.thread} strokeWidth={3} />
          {view.nodes.map((node, k) => {
            const [x, y] = at(node.chainage)
            return (
              <g key={node.id} transform={`translate(${x} ${y})`}>
                <NodeGlyph kind={node.nodeKind} color={inks.thread} paper={palette.background.paper} />
                <text
                  y={k % 2 === 0 ? -14 : 24}
                  textAnchor={x < 90 ? 'start' : x > width - 90 ? 'end' : 'middle'}
                  fontSize={12.5}
                  fill={inks.label}
                  stroke={palette.background.paper}
                  strokeWidth={4}
                  paintOrder="stroke"
                >
                  {node.name}
                </text>
              </g>
            )
          })}
          {view.faults.map((fault) => (
            <FaultMark
              key={fault.ground}
              fault={fault}
              at={at}
              color={inks.ember[2]}
              paper={palette.background.paper}
            />
          ))}
          {width > 0 && <ScaleBar projection={projection} width={width} color={inks.label} />}
          {here && (
            <g transform={`translate(${here[0]} ${here[1]})`} aria-label="This device">
              <circle r={11} fill={inks.present} opacity={0.25} />
              <circle r={5} fill={inks.present} stroke={palette.background.paper} strokeWidth={1.5} />
            </g>
          )}
        </svg>
      </Box>
      <Typography aria-live="polite">
        {own.status === 'asking' && 'Asking the device…'}
        {own.status === 'refused' && own.why}
        {own.status === 'known' && ownWords(route, view.faults, own)}
      </Typography>
    </Section>
  )
}

/** The route that the link's near end stands on. */
export function routeOf(plant: PlantBundle, view: Pick<LocateView, 'nodes'>): Route | undefined {
  const first = plant.nodes.find((node) => node.id === view.nodes[0]?.id)
  return plant.routes.find((candidate) => candidate.id === first?.routeId)
}

/** A round length below an eighth of the map's width, at the foot of the map. */
function ScaleBar({ projection, width, color }: { projection: GeoProjection; width: number; color: string }) {
  const [a, b] = [projection.invert!([0, HEIGHT / 2])!, projection.invert!([width / 8, HEIGHT / 2])!]
  const longest = geoDistance(a, b) * EARTH_RADIUS
  const step = 10 ** Math.floor(Math.log10(longest))
  const length = [5, 2, 1].map((times) => times * step).find((value) => value <= longest) ?? step
  const pixels = (length / longest) * (width / 8)
  return (
    <g transform={`translate(${MARGIN} ${HEIGHT - 14})`}>
      <path d={`M0 -5 V0 H${pixels} V-5`} fill="none" stroke={color} strokeWidth={1.5} />
      <text x={pixels + 8} y={2} fontSize={12.5} fill={color}>
        {length >= 1000 ? `${length / 1000} km` : `${length} m`}, north is up
      </text>
    </g>
  )
}

function FaultMark({
  fault,
  at,
  color,
  paper,
}: {
  fault: FaultView
  at(chainage: number): [number, number]
  color: string
  paper: string
}) {
  const [low, high] = fault.interval95.map(at) as [[number, number], [number, number]]
  const [x, y] = at(fault.chainage)
  return (
    <g>
      <line x1={low[0]} y1={low[1]} x2={high[0]} y2={high[1]} stroke={color} strokeWidth={9} strokeLinecap="round" />
      <path
        d="M0 -9 L9 0 L0 9 L-9 0 Z"
        transform={`translate(${x} ${y})`}
        fill={color}
        stroke={paper}
        strokeWidth={1.5}
      >
        <title>{`${fault.breaks ? 'Break' : 'Added loss'} at ${metres(fault.chainage)}`}</title>
      </path>
    </g>
  )
}

/** "You are at 12 610 m, 8 m from the route (the device is sure to 12 m); the fault is 121 m on, towards higher chainage." */
function ownWords(
  route: Route,
  faults: readonly FaultView[],
  { position, accuracy }: { position: [number, number]; accuracy: number },
): string {
  const { chainage, away } = nearestOnRoute(route, position)!
  const here = `You are at ${metres(chainage)}, ${metres(away)} from the route (the device is sure to ${metres(accuracy)})`
  const fault = faults.toSorted((a, b) => Math.abs(a.chainage - chainage) - Math.abs(b.chainage - chainage))[0]
  if (!fault) return `${here}.`
  const ahead = fault.chainage - chainage
  return `${here}; the fault is ${metres(Math.abs(ahead))} on, towards ${ahead > 0 ? 'higher' : 'lower'} chainage.`
}

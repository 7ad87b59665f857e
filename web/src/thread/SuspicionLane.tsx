import { useTheme } from '@mui/material/styles'
import type { ScaleLinear } from 'd3'
import type { LocateView } from '../worker/view.ts'
import { chainageOf, metres } from './axisTicks.ts'
import { FaultGlyph } from './glyphs.tsx'

export const SUSPICION_HEIGHT = 84
const BASE_Y = 60
const TOP_Y = 20

/** Where the fault may be: the warmer, the likelier. Always with its interval. */
export function SuspicionLane({ view, scale }: { view: LocateView; scale: ScaleLinear<number, number> }) {
  const { inks, palette } = useTheme()
  const [left, right] = scale.range() as [number, number]
  const ground = (chainage: number) => view.chainageSign * (chainage - view.chainageAtZero)
  return (
    <g aria-label="Suspicion lane">
      <rect x={left} y={BASE_Y} width={right - left} height={3} fill={inks.grid} />
      <text x={left + 8} y={14} fontSize={12.5} fontWeight={650} fill={inks.label}>
        {view.faults.length === 0 ? 'Suspicion: none' : 'Suspicion'}
      </text>
      {view.faults.map((fault) => {
        const [a, b] = fault.interval95.map((chainage) => scale(ground(chainage))).sort((p, q) => p - q) as [
          number,
          number,
        ]
        const x = scale(ground(fault.chainage))
        if (b < left - 40 || a > right + 40) return null
        const wide = Math.max(b - a, 8)
        const middle = (a + b) / 2
        const anchor = x > right - 150 ? 'end' : x < left + 150 ? 'start' : 'middle'
        return (
          <g key={fault.chainage}>
            {fault.places.map((place) => (
              <PlaceBar
                key={place.node ?? place.cable}
                place={place}
                scale={scale}
                ground={ground}
                sigma={fault.fiberSigma}
                at={fault.ground}
              />
            ))}
            <rect x={middle - wide / 2} y={BASE_Y - 2} width={wide} height={7} fill={inks.ember[2]} />
            <g transform={`translate(${x} ${BASE_Y - 18})`}>
              <FaultGlyph color={inks.ember[2]} paper={palette.background.paper} />
            </g>
            <text
              x={Math.min(right - 8, Math.max(left + 8, x))}
              y={BASE_Y + 20}
              textAnchor={anchor}
              fontSize={12.5}
              fill={inks.label}
            >
              {`${metres(chainageOf(view, ground(fault.chainage)))}, 95 % within ${metres(fault.interval95[0])} to ${metres(fault.interval95[1])}`}
            </text>
          </g>
        )
      })}
    </g>
  )
}

/** A node's share as a bar, a stretch's as a bell over the ground. */
function PlaceBar({
  place,
  scale,
  ground,
  sigma,
  at,
}: {
  place: LocateView['faults'][number]['places'][number]
  scale: ScaleLinear<number, number>
  ground: (chainage: number) => number
  sigma: number
  at: number
}) {
  const { inks } = useTheme()
  const warmth = inks.ember[place.probability > 0.5 ? 1 : 0]
  const height = (BASE_Y - TOP_Y) * place.probability
  if (place.node !== undefined) {
    const x = scale(ground(place.from))
    return <rect x={x - 4} y={BASE_Y - height} width={8} height={height} fill={warmth} />
  }
  const points: string[] = []
  for (let k = -3; k <= 3.001; k += 0.25) {
    const x = scale(at + k * sigma)
    points.push(`${x.toFixed(1)},${(BASE_Y - height * Math.exp(-0.5 * k * k)).toFixed(1)}`)
  }
  return (
    <polygon
      points={`${points[0]!.split(',')[0]},${BASE_Y} ${points.join(' ')} ${points.at(-1)!.split(',')[0]},${BASE_Y}`}
      fill={warmth}
      opacity={0.85}
    />
  )
}

import { useTheme } from '@mui/material/styles'
import type { ScaleLinear } from 'd3'
import type { LocateView, Suspicion } from '../worker/view.ts'
import { metres } from '@cold-thread/core/units'
import { chainageOf, intervalInWords } from './axisTicks.ts'
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
            <SuspicionShape suspicion={fault.suspicion} scale={scale} />
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
              {`${metres(chainageOf(view, ground(fault.chainage)))}, ${intervalInWords(fault.interval95)}`}
            </text>
          </g>
        )
      })}
    </g>
  )
}

/** A node's share as a bar; between nodes the density, as high as the stretch's share. */
function SuspicionShape({ suspicion, scale }: { suspicion: Suspicion; scale: ScaleLinear<number, number> }) {
  const { inks } = useTheme()
  const { nodes, runs, most } = suspicion
  const [left, right] = scale.range() as [number, number]
  const inRuns = 1 - nodes.reduce((sum, node) => sum + node.probability, 0)
  const height = (BASE_Y - TOP_Y) * Math.min(1, Math.max(0.15, inRuns))
  const warmthOf = (probability: number) => inks.ember[probability > 0.5 ? 1 : 0]
  const shape = runs.flatMap((run) => {
    const tall = most > 0 ? height * (run.perMetre / most) : 0
    const [a, b] = [scale(run.from), scale(run.to)]
    if (tall < 0.5 || b < left || a > right) return []
    return [`M${a.toFixed(1)} ${BASE_Y}v${(-tall).toFixed(1)}h${Math.max(0.6, b - a + 0.3).toFixed(1)}V${BASE_Y}z`]
  })
  return (
    <>
      <path d={shape.join('')} fill={warmthOf(inRuns)} opacity={0.85} />
      {nodes.map((node) => (
        <rect
          key={node.node}
          x={scale(node.ground) - 4}
          y={BASE_Y - (BASE_Y - TOP_Y) * node.probability}
          width={8}
          height={(BASE_Y - TOP_Y) * node.probability}
          fill={warmthOf(node.probability)}
        />
      ))}
    </>
  )
}

import type { OrderOfWork } from '@cold-thread/core/plan'
import Box from '@mui/material/Box'
import { useTheme } from '@mui/material/styles'
import { area, curveStepAfter, line, scaleLinear } from 'd3'
import { useRef } from 'react'
import { MONO } from '../../app/theme.ts'
import { useWidth } from '../../thread/useWidth.ts'
import { fromBegin, hourTicks } from './planWords.ts'

const HEIGHT = 236
const MARGIN = { top: 26, right: 16, bottom: 38, left: 44 }

/** Links back over time: the median, and between the quickest and slowest tenth of the runs. */
export function RestorationCurve({ order }: { order: OrderOfWork }) {
  const { inks } = useTheme()
  const box = useRef<HTMLDivElement>(null)
  const width = useWidth(box)
  const { curve } = order
  const end = Math.max(...curve.map(({ late }) => late)) * 1.04
  const x = scaleLinear([0, end], [MARGIN.left, Math.max(MARGIN.left + 1, width - MARGIN.right)])
  const y = scaleLinear([0, curve.length], [HEIGHT - MARGIN.bottom, MARGIN.top])
  const steps = (at: 'early' | 'median' | 'late'): [number, number][] => [
    [0, 0],
    ...curve.map((point): [number, number] => [point[at], point.links]),
    [end, curve.length],
  ]
  const path = (at: 'early' | 'median' | 'late') =>
    line<[number, number]>()
      .curve(curveStepAfter)
      .x(([minutes]) => x(minutes))
      .y(([, links]) => y(links))(steps(at)) ?? ''
  // The band as one shape: for each count of links, from the early to the late time.
  const band = area<{ count: number; early: number; late: number }>()
    .curve(curveStepAfter)
    .y(({ count }) => y(count))
    .x0(({ early }) => x(early))
    .x1(({ late }) => x(late))
  const bands = curve.map(({ links, early, late }) =>
    band([
      { count: links - 1, early, late },
      { count: links, early, late },
    ]),
  )
  return (
    <Box ref={box}>
      <svg
        width={width}
        height={HEIGHT}
        role="img"
        aria-label={`Links back over time: ${curve.map(({ links, median, late }) => `${links} by ${fromBegin(median)}, 90 % by ${fromBegin(late)}`).join('; ')}`}
      >
        {hourTicks(end, Math.max(2, Math.floor(width / 110))).map((tick) => (
          <g key={tick} transform={`translate(${x(tick)} 0)`}>
            <line y1={MARGIN.top} y2={HEIGHT - MARGIN.bottom} stroke={inks.grid} />
            <text y={HEIGHT - MARGIN.bottom + 18} textAnchor="middle" fontSize={13} fontFamily={MONO} fill={inks.label}>
              {fromBegin(tick)}
            </text>
          </g>
        ))}
        {y
          .ticks(Math.min(5, curve.length))
          .filter(Number.isInteger)
          .map((tick) => (
            <text
              key={tick}
              x={MARGIN.left - 8}
              y={y(tick) + 4}
              textAnchor="end"
              fontSize={13}
              fontFamily={MONO}
              fill={inks.label}
            >
              {tick}
            </text>
          ))}
        {bands.map((shape, k) => (
          <path key={k} d={shape ?? ''} fill={inks.baseline} opacity={0.35} />
        ))}
        <path d={path('early')} fill="none" stroke={inks.baseline} strokeDasharray="4 3" />
        <path d={path('late')} fill="none" stroke={inks.baseline} strokeDasharray="4 3" />
        <path d={path('median')} fill="none" stroke={inks.present} strokeWidth={2.5} />
        <text x={MARGIN.left} y={HEIGHT - 5} fontSize={13} fill={inks.label}>
          hours from the begin
        </text>
        <text x={0} y={12} fontSize={13} fill={inks.label}>
          links back
        </text>
      </svg>
    </Box>
  )
}

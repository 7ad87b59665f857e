import type { WatchReading } from '@cold-thread/core/open'
import Box from '@mui/material/Box'
import { useTheme } from '@mui/material/styles'
import { extent, line, scaleLinear } from 'd3'
import { useRef } from 'react'
import { useWidth } from '../../thread/useWidth.ts'

const HEIGHT = 130
/** dB that the chart spans at least: noise should look like noise. */
const LEAST_SPAN = 0.3

/** Power over time, with the level before the step. */
export function WatchChart({
  readings,
  begunAt,
  before,
}: {
  readings: readonly WatchReading[]
  begunAt: number | null
  before: number | null
}) {
  const { inks } = useTheme()
  const frame = useRef<HTMLDivElement>(null)
  const width = useWidth(frame)
  const levels = [...readings.map(({ level }) => level), ...(before === null ? [] : [before])]
  const [low = -20, high = -19] = extent(levels) as [number | undefined, number | undefined]
  const middle = (low + high) / 2
  const half = Math.max(LEAST_SPAN, high - low) / 2 + 0.03
  const x = scaleLinear(
    [readings[0]?.at ?? 0, Math.max((readings[0]?.at ?? 0) + 10, readings.at(-1)?.at ?? 10)],
    [0, width],
  )
  const y = scaleLinear([middle - half, middle + half], [HEIGHT - 6, 6])
  const path = line<WatchReading>(
    ({ at }) => x(at),
    ({ level }) => y(level),
  )(readings)
  return (
    <Box ref={frame} sx={{ my: 1, border: 1, borderColor: 'divider', borderRadius: 1 }}>
      <svg width={width} height={HEIGHT} role="img" aria-label="Received power over time" style={{ display: 'block' }}>
        {y.ticks(4).map((mark) => (
          <g key={mark}>
            <line x1={0} x2={width} y1={y(mark)} y2={y(mark)} stroke={inks.grid} />
            <text x={6} y={y(mark) - 3} fontSize={11} fill={inks.label}>
              {mark.toFixed(1).replace('-', '−')} dBm
            </text>
          </g>
        ))}
        {before !== null && (
          <line
            x1={0}
            x2={width}
            y1={y(before)}
            y2={y(before)}
            stroke={inks.baseline}
            strokeWidth={2}
            strokeDasharray="6 4"
          />
        )}
        {begunAt !== null && x(begunAt) >= 0 && (
          <line x1={x(begunAt)} x2={x(begunAt)} y1={0} y2={HEIGHT} stroke={inks.cursor} strokeDasharray="2 3" />
        )}
        {path && <path d={path} fill="none" stroke={inks.present} strokeWidth={2} />}
      </svg>
    </Box>
  )
}

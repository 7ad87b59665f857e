import { fibersOfSplice, onChart, type Charted, type Usual, type WatchedAttempt } from '@cold-thread/core/join'
import Box from '@mui/material/Box'
import { useTheme } from '@mui/material/styles'
import Typography from '@mui/material/Typography'
import { scaleLinear } from 'd3'
import { useRef } from 'react'
import { useWidth } from '../../thread/useWidth.ts'

const HEIGHT = 130
const LEFT = 58
const NAME: Record<Charted, string> = { loss: 'Estimated loss', angle: 'Cleave angles', offset: 'Beside each other' }
const UNIT: Record<Charted, string> = { loss: ' dB', angle: '°', offset: ' µm' }
/** Marks of the axis that are read with ease. */
const MARKS: Record<Charted, readonly number[]> = {
  loss: [0, 0.02, 0.05, 0.1, 0.2, 0.5, 1, 2, 5],
  angle: [0, 0.2, 0.5, 1, 2, 5, 10],
  offset: [0, 0.2, 0.5, 1, 2, 5, 10],
}

/** Individual values in the order of the work, on a logarithmic scale, with the usual middle and its three-sigma limits. */
export function SessionChart({
  series,
  watched,
  usual: { middle, sigma },
}: {
  series: Charted
  watched: readonly WatchedAttempt[]
  usual: Usual
}) {
  const { inks } = useTheme()
  const frame = useRef<HTMLDivElement>(null)
  const width = useWidth(frame)
  const points = watched.flatMap((attempt, i) =>
    (series === 'offset'
      ? [[attempt.offset]]
      : fibersOfSplice(attempt).map(({ estimate, cleaveLeft, cleaveRight }) =>
          series === 'loss' ? [estimate] : [cleaveLeft, cleaveRight],
        )
    ).flatMap((values, fiber) =>
      values.flatMap((value, side) => (value === null ? [] : [{ i, fiber, side, value, y: onChart(series, value) }])),
    ),
  )
  if (points.length === 0) return null
  const center = onChart(series, middle)
  const [lower, upper] = [center - 3 * sigma, center + 3 * sigma]
  const low = Math.min(lower, onChart(series, 0), ...points.map(({ y }) => y))
  const high = Math.max(upper, ...points.map(({ y }) => y))
  const x = scaleLinear([0, Math.max(11, watched.length - 1)], [LEFT + 10, Math.max(LEFT + 60, width - 12)])
  const y = scaleLinear([low, high], [HEIGHT - 10, 10])
  const unit = UNIT[series]
  return (
    <Box sx={{ my: 1 }}>
      <Typography sx={{ fontSize: 15 }}>
        {NAME[series]}, usual {middle.toFixed(series === 'loss' ? 2 : 1)}
        {unit}
        {series === 'angle' ? ' (left circles, right squares)' : ''}
      </Typography>
      <Box ref={frame} sx={{ border: 1, borderColor: 'divider', borderRadius: 1 }}>
        <svg
          width={width}
          height={HEIGHT}
          role="img"
          aria-label={`${NAME[series]} in order: ${points.map(({ value }) => value.toFixed(series === 'loss' ? 2 : 1)).join(', ')}${unit}`}
          style={{ display: 'block' }}
        >
          {MARKS[series]
            .map((mark) => ({ mark, at: onChart(series, mark) }))
            .filter(({ at }) => at >= low - 1e-9 && at <= high + 1e-9)
            .map(({ mark, at }) => (
              <g key={mark}>
                <line x1={LEFT} x2={width} y1={y(at)} y2={y(at)} stroke={inks.grid} />
                <text x={LEFT - 6} y={y(at) + 4} fontSize={11} textAnchor="end" fill={inks.label}>
                  {mark}
                  {unit}
                </text>
              </g>
            ))}
          <line x1={LEFT} x2={width} y1={y(center)} y2={y(center)} stroke={inks.baseline} strokeWidth={2} />
          {[lower, upper].map((limit) => (
            <line
              key={limit}
              x1={LEFT}
              x2={width}
              y1={y(limit)}
              y2={y(limit)}
              stroke={inks.baseline}
              strokeWidth={2}
              strokeDasharray="6 4"
            />
          ))}
          {points.map(({ i, fiber, side, value, y: at }) =>
            side === 1 ? (
              <rect key={`${i} ${fiber} r`} x={x(i) - 4} y={y(at) - 4} width={8} height={8} fill={inks.present}>
                <title>{`${value}${unit}`}</title>
              </rect>
            ) : (
              <circle key={`${i} ${fiber} l`} cx={x(i)} cy={y(at)} r={5} fill={inks.present}>
                <title>{`${value}${unit}`}</title>
              </circle>
            ),
          )}
        </svg>
      </Box>
    </Box>
  )
}

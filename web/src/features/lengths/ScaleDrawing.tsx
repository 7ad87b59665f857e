import { spanInWords, type LengthUnits, type Preparation } from '@cold-thread/core/open'
import Box from '@mui/material/Box'
import { useTheme } from '@mui/material/styles'
import { scaleLinear } from 'd3'
import { useRef } from 'react'
import { MONO } from '../../app/theme.ts'
import { useWidth } from '../../thread/useWidth.ts'

const ROW = 46
const TOP = 34
const BAR = 14

/**
 * A prepared cable end to scale: its free end on the left, what is left of each layer as a bar that ends where the layer
 * is cut. Where a length may lie between two figures, the bar's end is lighter.
 */
export function ScaleDrawing({ preparation, units }: { preparation: Preparation; units: LengthUnits }) {
  const { inks } = useTheme()
  const frame = useRef<HTMLDivElement>(null)
  const width = useWidth(frame)
  const { layers, marks } = preparation
  // On a phone there is room for metres alone.
  const narrow = width < 560
  const told = narrow ? 'metric' : units
  const far = Math.max(...layers.map(({ endsAt }) => endsAt.max), ...marks.map(({ at }) => at.max))
  const beyond = far * 0.12
  const x = scaleLinear([0, far + beyond], [8, Math.max(40, width - 8)])
  const height = TOP + layers.length * ROW + marks.length * 30 + 16
  const ticks = x.ticks(Math.max(3, Math.floor(width / 110)))
  return (
    <Box ref={frame} sx={{ border: 1, borderColor: 'divider', borderRadius: 1, bgcolor: 'background.paper' }}>
      <svg
        width={width}
        height={height}
        role="img"
        aria-label={`Prepared cable end, to scale: ${layers.map(({ name, endsAt }) => `${name} ends ${spanInWords(endsAt, 'metric')} from the end`).join('; ')}`}
        style={{ display: 'block' }}
      >
        {ticks.map((mark) => (
          <g key={mark}>
            <line x1={x(mark)} x2={x(mark)} y1={TOP - 8} y2={height - 8} stroke={inks.grid} />
            <text
              x={x(mark)}
              y={TOP - 14}
              fontSize={12}
              fill={inks.label}
              textAnchor={mark === 0 ? 'start' : 'middle'}
              fontFamily={MONO}
            >
              {mark === 0 ? 'end' : mark < 1 ? `${Math.round(mark * 1000)} mm` : `${mark} m`}
            </text>
          </g>
        ))}
        {layers.map(({ name, endsAt }, i) => {
          const y = TOP + i * ROW
          const words =
            endsAt.max === 0
              ? `${name}: to the end`
              : `${name}: ${spanInWords(endsAt, told)}${narrow ? '' : ' from the end'}`
          return (
            <g key={name}>
              <text
                x={10}
                y={y + 13}
                fontSize={14}
                fill={inks.label}
                paintOrder="stroke"
                stroke={inks.lane}
                strokeWidth={3}
              >
                {words}
              </text>
              <rect
                x={x(endsAt.min)}
                y={y + 19}
                width={Math.max(0, x(endsAt.max) - x(endsAt.min))}
                height={BAR}
                fill={inks.thread}
                opacity={0.35}
              />
              <rect
                x={x(endsAt.max)}
                y={y + 19}
                width={Math.max(1, x(far + beyond) - x(endsAt.max))}
                height={BAR}
                fill={inks.thread}
                opacity={Math.max(0.5, 1 - i * 0.12)}
              />
              <line
                x1={x(endsAt.max)}
                x2={x(endsAt.max)}
                y1={y + 16}
                y2={y + 36}
                stroke={inks.cursor}
                strokeWidth={2}
              />
            </g>
          )
        })}
        {marks.map(({ name, at }, i) => {
          const y = TOP + layers.length * ROW + i * 30 + 6
          const left = x(at.max) > width / 2
          return (
            <g key={name}>
              <line
                x1={x(at.max)}
                x2={x(at.max)}
                y1={y}
                y2={y + 20}
                stroke={inks.cursor}
                strokeWidth={2}
                strokeDasharray="4 3"
              />
              <text
                x={left ? x(at.min) - 6 : x(at.max) + 6}
                y={y + 14}
                fontSize={13}
                fill={inks.label}
                textAnchor={left ? 'end' : 'start'}
              >
                {name}: {spanInWords(at, told)}
              </text>
            </g>
          )
        })}
      </svg>
    </Box>
  )
}

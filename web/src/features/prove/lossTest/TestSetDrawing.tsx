import type { ReferenceMethod } from '@cold-thread/core/prove'
import type { Link } from '@cold-thread/core/plant'
import Box from '@mui/material/Box'
import { useTheme } from '@mui/material/styles'
import Typography from '@mui/material/Typography'
import { useRef } from 'react'
import { useWidth } from '../../../thread/useWidth.ts'

/** What lies between source and meter while the reference is set, and while the link is read. */
const CHAINS: Record<ReferenceMethod, { reference: string[]; reading: string[] }> = {
  'one-cord': { reference: ['launch cord'], reading: ['launch cord', 'link', 'receive cord'] },
  'two-cord': { reference: ['launch cord', 'receive cord'], reading: ['launch cord', 'link', 'receive cord'] },
  'three-cord': {
    reference: ['launch cord', 'third cord', 'receive cord'],
    reading: ['launch cord', 'link', 'receive cord'],
  },
}
const MOST_WIDTH = 640
const INSTRUMENT = 62
const HEIGHT = 58

/** The set-up drawn: for the reference, and for a reading. */
export function TestSetDrawing({ method, ends }: { method: ReferenceMethod; ends: Link['ends'] }) {
  const frame = useRef<HTMLDivElement>(null)
  const width = Math.min(MOST_WIDTH, useWidth(frame))
  const { reference, reading } = CHAINS[method]
  const connectors = ends ? [ends.from, ends.to].map(({ connector, polish }) => `${connector}/${polish}`) : null
  return (
    <Box ref={frame} sx={{ maxWidth: MOST_WIDTH }}>
      <Typography sx={{ fontSize: 14, color: 'text.secondary' }}>While the reference is set</Typography>
      <Chain width={width} parts={reference} />
      <Typography sx={{ fontSize: 14, color: 'text.secondary' }}>
        While a link is read{connectors && `: this one ends in ${[...new Set(connectors)].join(' and ')}`}
      </Typography>
      <Chain width={width} parts={reading} />
    </Box>
  )
}

function Chain({ width, parts }: { width: number; parts: readonly string[] }) {
  const { inks, palette } = useTheme()
  const text = { fill: palette.text.primary, fontSize: 13, textAnchor: 'middle' as const }
  const each = Math.max(1, width - 2 * INSTRUMENT) / parts.length
  const middle = 40
  const instrument = (x: number, words: string) => (
    <g>
      <rect
        x={x + 1}
        y={middle - 15}
        width={INSTRUMENT - 2}
        height={30}
        rx={4}
        fill="none"
        stroke={inks.cursor}
        strokeWidth={2}
      />
      <text x={x + INSTRUMENT / 2} y={middle + 5} {...text}>
        {words}
      </text>
    </g>
  )
  return (
    <svg
      width={width}
      height={HEIGHT}
      role="img"
      aria-label={`source, ${parts.join(', ')}, meter`}
      style={{ display: 'block' }}
    >
      {instrument(0, 'source')}
      {parts.map((part, i) => {
        const [a, b] = [INSTRUMENT + i * each, INSTRUMENT + (i + 1) * each]
        // On a phone the words stand over each other.
        const lines = each < 100 ? part.split(' ') : [part]
        return (
          <g key={part}>
            <line
              x1={a}
              x2={b}
              y1={middle}
              y2={middle}
              stroke={part === 'link' ? inks.thread : inks.label}
              strokeWidth={part === 'link' ? 5 : 2}
            />
            {lines.map((line, k) => (
              <text key={line} x={(a + b) / 2} y={middle - 9 - 14 * (lines.length - 1 - k)} {...text}>
                {line}
              </text>
            ))}
            {i > 0 && (
              <circle cx={a} cy={middle} r={5} fill={palette.background.paper} stroke={inks.cursor} strokeWidth={2} />
            )}
          </g>
        )
      })}
      {instrument(width - INSTRUMENT, 'meter')}
    </svg>
  )
}

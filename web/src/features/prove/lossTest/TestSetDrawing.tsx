import type { ReferenceMethod } from '@cold-thread/core/prove'
import type { Link } from '@cold-thread/core/plant'
import { useTheme } from '@mui/material/styles'

/** What lies between source and meter while the reference is set, and while the link is read. */
const CHAINS: Record<ReferenceMethod, { reference: string[]; reading: string[] }> = {
  'one-cord': { reference: ['launch cord'], reading: ['launch cord', 'link', 'receive cord'] },
  'two-cord': { reference: ['launch cord', 'receive cord'], reading: ['launch cord', 'link', 'receive cord'] },
  'three-cord': {
    reference: ['launch cord', 'third cord', 'receive cord'],
    reading: ['launch cord', 'link', 'receive cord'],
  },
}
const WIDTH = 620
const BOX = 74
const ROW = 54

/** The set-up drawn: reference above, reading below. */
export function TestSetDrawing({ method, ends }: { method: ReferenceMethod; ends: Link['ends'] }) {
  const { reference, reading } = CHAINS[method]
  const connectors = ends ? [ends.from, ends.to].map(({ connector, polish }) => `${connector}/${polish}`) : null
  const label = `Reference: source, ${reference.join(', ')}, meter. Reading: source, ${reading.join(', ')}, meter.${connectors ? ` The link ends in ${connectors.join(' and ')}.` : ''}`
  return (
    <svg
      viewBox={`0 0 ${WIDTH} ${2 * ROW}`}
      width="100%"
      style={{ display: 'block', maxWidth: WIDTH }}
      role="img"
      aria-label={label}
    >
      <Chain y={0} name="reference" parts={reference} connectors={null} />
      <Chain y={ROW} name="reading" parts={reading} connectors={connectors} />
    </svg>
  )
}

function Chain({
  y,
  name,
  parts,
  connectors,
}: {
  y: number
  name: string
  parts: readonly string[]
  connectors: readonly string[] | null
}) {
  const { inks, palette } = useTheme()
  const text = { fill: palette.text.primary, fontSize: 13, textAnchor: 'middle' as const }
  const from = 78 + BOX
  const each = (WIDTH - from - BOX) / parts.length
  const middle = y + 26
  const box = (x: number, words: string) => (
    <g>
      <rect x={x} y={middle - 15} width={BOX} height={30} rx={4} fill="none" stroke={inks.cursor} strokeWidth={2} />
      <text x={x + BOX / 2} y={middle + 5} {...text}>
        {words}
      </text>
    </g>
  )
  return (
    <g>
      <text x={0} y={middle + 5} fill={palette.text.secondary} fontSize={13}>
        {name}
      </text>
      {box(78, 'source')}
      {parts.map((part, i) => {
        const [a, b] = [from + i * each, from + (i + 1) * each]
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
            <text x={(a + b) / 2} y={middle - 9} {...text}>
              {part}
            </text>
            {i > 0 && (
              <circle cx={a} cy={middle} r={5} fill={palette.background.paper} stroke={inks.cursor} strokeWidth={2} />
            )}
            {part === 'link' && connectors && (
              <text x={(a + b) / 2} y={middle + 19} {...text} fontSize={12} fill={palette.text.secondary}>
                {connectors.join(' … ')}
              </text>
            )}
          </g>
        )
      })}
      {box(WIDTH - BOX, 'meter')}
    </g>
  )
}

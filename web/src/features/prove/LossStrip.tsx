import Box from '@mui/material/Box'
import { useTheme } from '@mui/material/styles'
import { scaleLinear } from 'd3'

/** Loss of one joint: what it was, what it is with its uncertainty, and what is allowed, dB on one scale. */
export interface Strip {
  before: number | null
  after: number | null
  sigma: number | null
  limit: number | null
}

const WIDTH = 132
const HEIGHT = 22

/** A strip on its own scale, from nothing to a little over what is allowed or read. */
export function LossStrip({ before, after, sigma, limit }: Strip) {
  const { inks, palette } = useTheme()
  const spread = 2 * (sigma ?? 0)
  const most = Math.max(0.05, 1.25 * (limit ?? 0), (before ?? 0) * 1.1, ((after ?? 0) + spread) * 1.1)
  const least = Math.min(0, before ?? 0, (after ?? 0) - spread)
  const x = scaleLinear([least, most], [6, WIDTH - 6])
  const over = after !== null && limit !== null && after - spread > limit
  const words = [
    before === null ? null : `was ${before.toFixed(3)} dB`,
    after === null ? 'not measured' : `is ${after.toFixed(3)} dB`,
    limit === null ? null : `allowed ${limit.toFixed(2)} dB`,
  ]
  return (
    <svg width={WIDTH} height={HEIGHT} role="img" aria-label={words.filter((one) => one !== null).join(', ')}>
      {limit !== null && <rect x={x(least)} width={x(limit) - x(least)} y={7} height={8} rx={2} fill={inks.grid} />}
      {limit !== null && <rect x={x(limit) - 1} width={2} y={2} height={18} fill={inks.cursor} />}
      {after !== null && spread > 0 && (
        <line x1={x(after - spread)} x2={x(after + spread)} y1={11} y2={11} stroke={inks.after} strokeWidth={2} />
      )}
      {before !== null && <circle cx={x(before)} cy={11} r={4.5} fill="none" stroke={inks.baseline} strokeWidth={2} />}
      {after !== null &&
        (over ? (
          <rect x={x(after) - 4.5} y={6.5} width={9} height={9} fill={palette.error.main} />
        ) : (
          <circle cx={x(after)} cy={11} r={4} fill={inks.after} />
        ))}
    </svg>
  )
}

/** What the strips show. */
export function StripKey() {
  const { inks, palette } = useTheme()
  const parts = [
    [<circle key="b" cx={8} cy={8} r={4.5} fill="none" stroke={inks.baseline} strokeWidth={2} />, 'was'],
    [<circle key="a" cx={8} cy={8} r={4} fill={inks.after} />, 'is, line: ± two standard uncertainties'],
    [<rect key="o" x={4} y={4} width={9} height={9} fill={palette.error.main} />, 'is, over its limit'],
    [<rect key="l" x={7} y={0} width={2} height={16} fill={inks.cursor} />, 'allowed'],
  ] as const
  return (
    <Box sx={{ display: 'flex', gap: 2, flexWrap: 'wrap', fontSize: 14, mb: 1 }}>
      {parts.map(([mark, word]) => (
        <Box key={word} component="span" sx={{ display: 'inline-flex', gap: 0.75, alignItems: 'center' }}>
          <svg width={16} height={16} aria-hidden>
            {mark}
          </svg>
          {word}
        </Box>
      ))}
    </Box>
  )
}

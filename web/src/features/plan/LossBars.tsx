import type { ProjectedLoss } from '@cold-thread/core/plan'
import Box from '@mui/material/Box'
import Typography from '@mui/material/Typography'
import { useTheme } from '@mui/material/styles'
import { scaleLinear } from 'd3'
import { useRef } from 'react'
import { useWidth } from '../../thread/useWidth.ts'
import { Figure } from '../../ui/Figure.tsx'

const ROW = 46
const MOST_ROWS = 8

/** Loss of each link before, now and after against its budget; the tightest first. */
export function LossBars({ projected }: { projected: readonly ProjectedLoss[] }) {
  const { inks } = useTheme()
  const box = useRef<HTMLDivElement>(null)
  const width = useWidth(box)
  const rows = projected.toSorted((a, b) => a.margin - b.margin)
  const shown = rows.slice(0, MOST_ROWS)
  const most = Math.max(1, ...shown.flatMap(({ limit, after, now }) => [limit, after.loss + 2 * after.sigma, now ?? 0]))
  const x = scaleLinear([0, most * 1.02], [0, Math.max(0, width)])
  return (
    <Box ref={box}>
      <Box sx={{ display: 'flex', gap: 2, flexWrap: 'wrap', fontSize: 14, mb: 0.5 }}>
        <Key swatch={<rect width={18} height={8} y={3} fill={inks.baseline} />} word="before" />
        <Key
          swatch={<rect width={18} height={8} y={3} fill={inks.after} />}
          word="after, line: ± two standard uncertainties"
        />
        <Key swatch={<circle cx={9} cy={7} r={4.5} fill="none" stroke={inks.cursor} strokeWidth={2} />} word="now" />
        <Key swatch={<rect x={8} width={3} height={14} fill={inks.cursor} />} word="budget, TIA-568.3-D" />
      </Box>
      {shown.map(({ link, wavelength, before, now, dark, after, limit, margin }) => (
        <Box key={`${link.id} ${wavelength}`} sx={{ mt: 0.75 }}>
          <Typography sx={{ fontSize: 14 }}>
            {link.name}, {wavelength} nm: margin{' '}
            <strong>
              <Figure
                value={margin}
                sigma={after.sigma}
                unit="dB"
                why={`budget ${limit.toFixed(2)} dB (TIA-568.3-D: length, mated pairs and splices) less ${after.loss.toFixed(2)} dB after the repair; before: ${before.loss.toFixed(2)} dB, ${before.from === 'measured' ? 'measured in the baseline' : 'estimated from the records'}`}
              />
            </strong>
            {before.from === 'estimated' && ' (before: estimated from the records)'}
            {dark && ', no light now'}
          </Typography>
          <svg
            width={width}
            height={ROW - 22}
            role="img"
            aria-label={`${link.name} at ${wavelength} nm: ${before.loss.toFixed(1)} dB before, ${after.loss.toFixed(1)} dB after, budget ${limit.toFixed(1)} dB`}
          >
            <rect width={x(before.loss)} height={8} y={1} fill={inks.baseline} />
            <rect width={x(after.loss)} height={8} y={12} fill={inks.after} />
            <line
              x1={x(Math.max(0, after.loss - 2 * after.sigma))}
              x2={x(after.loss + 2 * after.sigma)}
              y1={16}
              y2={16}
              stroke={inks.cursor}
              strokeWidth={2}
            />
            {now !== null && <circle cx={x(now)} cy={5} r={4.5} fill="none" stroke={inks.cursor} strokeWidth={2} />}
            <rect x={x(limit) - 1.5} width={3} height={22} fill={inks.cursor} />
          </svg>
        </Box>
      ))}
      {rows.length > MOST_ROWS && (
        <Typography sx={{ fontSize: 14, color: 'text.secondary', mt: 1 }}>
          {rows.length - MOST_ROWS} more have more margin than these.
        </Typography>
      )}
    </Box>
  )
}

function Key({ swatch, word }: { swatch: React.ReactNode; word: string }) {
  return (
    <Box component="span" sx={{ display: 'inline-flex', gap: 0.75, alignItems: 'center' }}>
      <svg width={19} height={14} aria-hidden>
        {swatch}
      </svg>
      {word}
    </Box>
  )
}

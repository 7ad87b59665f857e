import type { RankedCause } from '@cold-thread/core/locate'
import Box from '@mui/material/Box'
import { useTheme } from '@mui/material/styles'
import Typography from '@mui/material/Typography'

const SHOWN = 3

/** The likeliest causes of a fault, each with what speaks for it. */
export function CausesList({ causes }: { causes: readonly RankedCause[] }) {
  const { inks } = useTheme()
  return (
    <Box component="ol" aria-label="Causes" sx={{ listStyle: 'none', p: 0, m: 0, display: 'grid', gap: 1 }}>
      {causes.slice(0, SHOWN).map(({ cause, name, probability, because }, i) => (
        <Box component="li" key={cause}>
          <Box sx={{ display: 'flex', alignItems: 'baseline', gap: 1.5 }}>
            <Typography component="span" sx={{ fontWeight: i === 0 ? 700 : 500, flex: 1 }}>
              {name}
            </Typography>
            <Typography component="span" sx={{ fontVariantNumeric: 'tabular-nums' }}>
              {(100 * probability).toFixed(0)} %
            </Typography>
          </Box>
          <Box sx={{ height: 5, bgcolor: inks.grid, borderRadius: 1, overflow: 'hidden' }} aria-hidden>
            <Box sx={{ width: `${100 * probability}%`, height: '100%', bgcolor: inks.present }} />
          </Box>
          {because.length > 0 && (
            <Typography sx={{ fontSize: 14, color: 'text.secondary' }}>{because.join('; ')}</Typography>
          )}
        </Box>
      ))}
    </Box>
  )
}

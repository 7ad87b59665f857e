import type { Callout } from '@cold-thread/contract'
import type { Cause } from '@cold-thread/core/locate'
import Box from '@mui/material/Box'
import { useTheme } from '@mui/material/styles'
import Typography from '@mui/material/Typography'
import { median } from 'd3'
import { causeName } from '../../ui/causeName.ts'
import { Section } from '../../ui/Section.tsx'
import { duration } from '../../ui/time.ts'

/** What closed callouts were, and how long each kind stayed open in the middle. */
export function CauseStatistics({ callouts }: { callouts: readonly Callout[] }) {
  const { inks } = useTheme()
  const closed = callouts.filter(({ closedAt, simulated }) => closedAt !== null && !simulated)
  const known = closed.filter(({ cause }) => cause !== null)
  if (known.length === 0) return null
  const by = new Map<Cause, Callout[]>()
  for (const one of known) by.set(one.cause!, [...(by.get(one.cause!) ?? []), one])
  const rows = [...by].sort((a, b) => b[1].length - a[1].length)
  const most = rows[0]![1].length
  return (
    <Section title="What closed callouts were">
      <Box component="ul" aria-label="Causes of closed callouts" sx={{ listStyle: 'none', p: 0, m: 0 }}>
        {rows.map(([cause, some]) => (
          <Box component="li" key={cause} sx={{ py: 0.75 }}>
            <Typography>
              <strong>{causeName(cause)}</strong>: {some.length} of {known.length}, open for{' '}
              {duration(median(some, opened)!)} in the middle
            </Typography>
            <Box sx={{ height: 6, bgcolor: inks.grid, borderRadius: 1 }} aria-hidden>
              <Box sx={{ width: `${(100 * some.length) / most}%`, height: '100%', bgcolor: inks.present }} />
            </Box>
          </Box>
        ))}
      </Box>
      <Typography sx={{ fontSize: 14, color: 'text.secondary', mt: 0.5 }}>
        As the leads said who closed them
        {closed.length > known.length && `; of ${closed.length - known.length} more it is not known`}. Practice is not
        counted.
      </Typography>
    </Section>
  )
}

function opened({ openedAt, closedAt }: Callout): number {
  return Date.parse(closedAt!) - Date.parse(openedAt)
}

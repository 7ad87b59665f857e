import type { RepairOption } from '@cold-thread/core/plan'
import Box from '@mui/material/Box'
import Typography from '@mui/material/Typography'
import { Section } from '../../ui/Section.tsx'

/** What can hurt someone in these repairs. */
export function Cautions({ options }: { options: readonly RepairOption[] }) {
  const hazards = [...new Set(options.flatMap((option) => option.hazards))]
  if (hazards.length === 0) return null
  return (
    <Section title="Cautions">
      <Box component="ul" sx={{ pl: 3, my: 0 }}>
        {hazards.map((hazard) => (
          <li key={hazard}>{hazard}</li>
        ))}
      </Box>
      <Typography sx={{ fontSize: 14, color: 'text.secondary', mt: 1 }}>
        Local codes, the operator’s rules and the makers’ sheets come first; licensed work stays with those licensed.
      </Typography>
    </Section>
  )
}

import type { Observation } from '@cold-thread/contract'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import Typography from '@mui/material/Typography'
import { v7 as uuidv7 } from 'uuid'
import { useAddObservationMutation } from '../../api/api.ts'
import { Problem } from '../../ui/Problem.tsx'
import { Section } from '../../ui/Section.tsx'

/** Corrections of one entry by two people, side by side: one is chosen, the others are taken back. */
export function Rivals({
  rivals,
  working,
  show,
}: {
  rivals: readonly Observation[]
  working: boolean
  show(one: Observation): React.ReactNode
}) {
  const [add, { error }] = useAddObservationMutation()
  const choose = async (chosen: Observation) => {
    for (const { id, calloutId } of rivals)
      if (id !== chosen.id)
        await add({
          calloutId,
          id: uuidv7(),
          observation: {
            entry: { kind: 'withdrawn', reason: `the correction by ${chosen.by} stands` },
            observedAt: new Date().toISOString(),
            supersedes: id,
          },
        })
  }
  return (
    <Section title="Corrected by two: which stands?">
      <Box sx={{ display: 'grid', gap: 2, gridTemplateColumns: { xs: '1fr', sm: '1fr 1fr' } }}>
        {rivals.map((one) => (
          <Box key={one.id}>
            <Typography sx={{ fontWeight: 650 }}>{one.by}</Typography>
            {show(one)}
            {working && (
              <Button variant="outlined" onClick={() => void choose(one)} sx={{ mt: 0.5 }}>
                This one stands
              </Button>
            )}
          </Box>
        ))}
      </Box>
      <Problem error={error} />
    </Section>
  )
}

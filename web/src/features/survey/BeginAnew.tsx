import type { Callout, SurveyRole } from '@cold-thread/contract'
import Button from '@mui/material/Button'
import Typography from '@mui/material/Typography'
import { useState } from 'react'
import { useWithdrawSurveyMutation } from '../../api/api.ts'
import { Problem } from '../../ui/Problem.tsx'
import { Section } from '../../ui/Section.tsx'

/** Takes all fibers' traces out of the evidence, asked twice. */
export function BeginAnew({ callout, role, count }: { callout: Callout; role: SurveyRole; count: number }) {
  const [withdraw, { error }] = useWithdrawSurveyMutation()
  const [sure, setSure] = useState(false)
  return (
    <Section title="Begin anew">
      <Typography sx={{ mb: 1 }}>
        A wrong end or wrong cords spoil all fibers alike. Taking them out of the evidence keeps their files.
      </Typography>
      <Button
        variant="outlined"
        color={sure ? 'error' : 'primary'}
        sx={{ minHeight: 44 }}
        onClick={() => {
          if (sure) void withdraw({ calloutId: callout.id, role })
          setSure(!sure)
        }}
      >
        {sure ? `Yes, take ${count} fibers out` : 'Take these traces out'}
      </Button>
      <Problem error={error} />
    </Section>
  )
}

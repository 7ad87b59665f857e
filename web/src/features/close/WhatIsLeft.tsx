import type { SignOff } from '@cold-thread/contract'
import { EMPTY_KIT } from '@cold-thread/core/kit'
import { followUps, type FollowUp, type Proof } from '@cold-thread/core/prove'
import Box from '@mui/material/Box'
import Typography from '@mui/material/Typography'
import { useKitQuery, useObservationsQuery, usePlansQuery, useVerdictQuery } from '../../api/api.ts'
import { Section } from '../../ui/Section.tsx'
import type { StageProps } from '../callout/stageProps.ts'

const WORDS: Record<FollowUp['kind'], string> = {
  link: 'On the link',
  permanent: 'On the cable',
  splice: 'Joints',
  wear: 'Wear',
  calibration: 'Calibration',
  stock: 'Stock',
}

/** What is still to be done when the callout is closed: on the link, the cable, in the kit. */
export function WhatIsLeft({ callout, signed }: StageProps & { signed: SignOff | null }) {
  const { data: verdict } = useVerdictQuery(callout.id, { skip: signed !== null })
  const { data: log } = useObservationsQuery(callout.id)
  const { data: plans } = usePlansQuery(callout.id)
  const { data: kit } = useKitQuery()
  const proof = (signed?.proof ?? verdict?.proof) as Proof | undefined
  if (!proof || !log) return null
  const left = followUps({
    proof,
    log,
    optionIds: plans?.[0]?.content.optionIds ?? [],
    kit: kit?.kit ?? EMPTY_KIT,
    now: signed?.at ?? new Date().toISOString(),
  })
  if (left.length === 0) return null
  return (
    <Section title="What is left">
      <Box component="ul" aria-label="What is left" sx={{ listStyle: 'none', p: 0, m: 0 }}>
        {left.map(({ kind, what, because }) => (
          <Box component="li" key={`${kind} ${what}`} sx={{ borderTop: 1, borderColor: 'divider', py: 0.75 }}>
            <Typography>
              <strong>{WORDS[kind]}</strong>: {what}
            </Typography>
            <Typography sx={{ fontSize: 14, color: 'text.secondary' }}>{because}</Typography>
          </Box>
        ))}
      </Box>
    </Section>
  )
}

import { evidenceInWords, type EvidencePlace } from '@cold-thread/core/locate'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import Typography from '@mui/material/Typography'
import { useState } from 'react'
import { v7 as uuidv7 } from 'uuid'
import { useAddObservationMutation, useObservationsQuery } from '../../api/api.ts'
import { canWork } from '../../app/rights.ts'
import { metres } from '@cold-thread/core/units'
import { Problem } from '../../ui/Problem.tsx'
import { Section } from '../../ui/Section.tsx'
import { clock } from '../../ui/time.ts'
import type { StageProps } from '../callout/stageProps.ts'
import { EvidenceForm } from './EvidenceForm.tsx'
import { standingEvidence } from './useLocated.ts'

/** What people saw, heard and read out: it moves the place at once, and can be taken back. */
export function EvidenceSection(props: StageProps) {
  const { account, callout, plant } = props
  const { data: log } = useObservationsQuery(callout.id)
  const [add, { error, isLoading }] = useAddObservationMutation()
  const [open, setOpen] = useState(false)
  const evidence = standingEvidence(log)
  const working = canWork(account) && callout.state !== 'closed'
  if (!working && evidence.length === 0) return null
  const nameOf = (place: EvidencePlace) =>
    'node' in place ? (plant.nodes.find((node) => node.id === place.node)?.name ?? place.node) : metres(place.chainage)
  const takeBack = (id: string) =>
    add({
      calloutId: callout.id,
      id: uuidv7(),
      observation: {
        entry: { kind: 'withdrawn', reason: '' },
        observedAt: new Date().toISOString(),
        supersedes: id,
      },
    })
  return (
    <Section
      title="Evidence from people"
      action={
        working && !open ? (
          <Button variant="outlined" onClick={() => setOpen(true)}>
            Add evidence
          </Button>
        ) : undefined
      }
    >
      {evidence.length === 0 && !open && (
        <Typography sx={{ color: 'text.secondary' }}>
          A digger seen, light at a panel, power at a closure, a distance read out over the phone: each moves the place.
        </Typography>
      )}
      <Box component="ul" aria-label="Evidence" sx={{ listStyle: 'none', p: 0, m: 0 }}>
        {evidence.map((observation) => (
          <Box
            component="li"
            key={observation.id}
            sx={{ display: 'flex', gap: 1, alignItems: 'center', borderBottom: 1, borderColor: 'divider', py: 0.5 }}
          >
            <Box sx={{ flex: 1 }}>
              <Typography>{evidenceInWords(observation.entry.evidence, nameOf)}</Typography>
              <Typography sx={{ fontSize: 14, color: 'text.secondary' }}>
                {clock(observation.observedAt)}, {observation.by}
              </Typography>
            </Box>
            {working && (
              <Button disabled={isLoading} onClick={() => void takeBack(observation.id)} sx={{ minHeight: 44 }}>
                Take back
              </Button>
            )}
          </Box>
        ))}
      </Box>
      <Problem error={error} />
      {open && <EvidenceForm {...props} onDone={() => setOpen(false)} />}
    </Section>
  )
}

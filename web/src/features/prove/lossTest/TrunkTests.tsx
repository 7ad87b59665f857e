import { judgeTrunk, trunkReferencesOf, trunkTestsOf, type HeldReference } from '@cold-thread/core/prove'
import type { Link } from '@cold-thread/core/plant'
import Box from '@mui/material/Box'
import Typography from '@mui/material/Typography'
import { useMemo } from 'react'
import { useObservationsQuery } from '../../../api/api.ts'
import { canWork } from '../../../app/rights.ts'
import { Judgement } from '../../../ui/Judgement.tsx'
import { Section } from '../../../ui/Section.tsx'
import { clock } from '../../../ui/time.ts'
import type { StageProps } from '../../callout/stageProps.ts'
import { EnterTrunk } from './EnterTrunk.tsx'
import { TrunkGrid } from './TrunkGrid.tsx'

/** Multi-fiber trunks: every channel from either end, by its tester's table. */
export function TrunkTests({ account, callout, plant, link }: StageProps) {
  const { data: log } = useObservationsQuery(callout.id)
  const tests = useMemo(() => trunkTestsOf(log ?? []), [log])
  const references = useMemo(() => trunkReferencesOf(log ?? []), [log])
  const working = canWork(account) && callout.state !== 'closed'
  if (!working && tests.length === 0) return null
  return (
    <Section title="Multi-fiber trunks">
      {tests.map((test) => {
        const judged = judgeTrunk(test)
        return (
          <Box key={test.id} sx={{ mb: 2 }}>
            <Typography>
              <strong>{test.trunk}</strong>, {test.end} end, {test.wavelength} nm, polarity {test.polarity}:{' '}
              <Judgement tone={judged.good ? 'good' : 'bad'} word={judged.good ? 'every channel good' : 'not good'} />
            </Typography>
            <Typography sx={{ fontSize: 14, color: 'text.secondary' }}>
              {clock(test.at)}, {test.by}
              {judged.polarity && `; ${judged.polarity.words}`}; {referenceWords(test.held)}
            </Typography>
            <TrunkGrid channels={test.channels} judged={judged} />
            <Typography>
              <strong>Next:</strong> {judged.next}
            </Typography>
          </Box>
        )
      })}
      {working && (
        <Box component="details" open={tests.length > 0 || endsInMpo(link)}>
          <Box component="summary" sx={{ py: 1.25, cursor: 'pointer' }}>
            Read a trunk channel by channel
          </Box>
          <EnterTrunk callout={callout} plant={plant} link={link} last={tests.at(-1)} references={references} />
        </Box>
      )}
    </Section>
  )
}

function endsInMpo({ ends }: Link): boolean {
  return [ends?.from, ends?.to].some((end) => end?.connector.toUpperCase() === 'MPO')
}

function referenceWords(held: HeldReference | null): string {
  if (held === null) return 'the tester’s reference is not on record'
  const { reference, moved } = held
  const set = `reference ${reference.copied ? 'copied' : 'set'} ${clock(reference.at)}`
  if (moved === null) return `${set}, not looked at since`
  return moved.length === 0 ? `${set}, held when set again` : `${set}, moved when set again`
}

import { isCableStep } from '@cold-thread/core/plant'
import type { Proof } from '@cold-thread/core/prove'
import Box from '@mui/material/Box'
import CircularProgress from '@mui/material/CircularProgress'
import TextLink from '@mui/material/Link'
import Typography from '@mui/material/Typography'
import { Link as RouterLink } from 'react-router'
import { useSignOffQuery, useVerdictQuery } from '../../api/api.ts'
import { Problem } from '../../ui/Problem.tsx'
import { Section } from '../../ui/Section.tsx'
import type { StageProps } from '../callout/stageProps.ts'
import { TraceShelf } from '../callout/TraceShelf.tsx'
import { ContinuityForm } from './lossTest/ContinuityForm.tsx'
import { LossTest } from './lossTest/LossTest.tsx'
import { ReceivedPowerForm } from './lossTest/ReceivedPowerForm.tsx'
import { TrunkTests } from './lossTest/TrunkTests.tsx'
import { ReadingsTable } from './ReadingsTable.tsx'
import { VerdictLine } from './VerdictLine.tsx'

/** Is it as it was? The verdict large, why, what next; then every joint before and after. */
export function ProveStage(props: StageProps) {
  const { callout } = props
  const { data: signOff } = useSignOffQuery(callout.id)
  const { data: verdict, error, isFetching } = useVerdictQuery(callout.id, { skip: callout.state === 'closed' })
  const proof = (signOff?.proof ?? verdict?.proof) as Proof | undefined
  return (
    <>
      <Problem error={error} />
      {!proof && isFetching && (
        <Box sx={{ display: 'flex', gap: 2, alignItems: 'center', p: 2 }}>
          <CircularProgress size={24} aria-label="Computing" /> Comparing with the baseline…
        </Box>
      )}
      {proof && <ProofCard proof={proof} />}
      {proof && proof.events.length > 0 && (
        <Section title="Before and after">
          <ReadingsTable proof={proof} />
        </Section>
      )}
      <TraceShelf {...props} role="after" title="Traces after the repair" />
      <EveryFiber {...props} />
      <LossTest {...props} />
      <TrunkTests {...props} />
      <ContinuityForm {...props} />
      <ReceivedPowerForm {...props} proof={proof} />
    </>
  )
}

/** Where a whole cable was hit, its other fibers are proved on a page of their own. */
function EveryFiber({ callout, link }: StageProps) {
  const first = link.path.find(isCableStep)
  if (!first) return null
  return (
    <Typography sx={{ mb: 2 }}>
      <TextLink component={RouterLink} to={`/callouts/${callout.id}/fibers`} sx={{ fontWeight: 650 }}>
        Every fiber of cable {first.cable}
      </TextLink>
      : their traces together, each against its baseline and its neighbours.
    </Typography>
  )
}

/** What is wrong by what mending it gives per minute; then whatever else would settle it. */
function NextSteps({ proof: { causes, next } }: { proof: Proof }) {
  const own = new Set(causes.map((cause) => cause.next))
  const others = next.filter((one) => !own.has(one))
  if (causes.length === 0 && others.length === 0) return null
  return (
    <>
      <Typography sx={{ fontWeight: 650 }}>{causes.length > 1 ? 'Next, what gives most first' : 'Next'}</Typography>
      <Box component="ol" aria-label="Next" sx={{ pl: 3, my: 0.5 }}>
        {causes.map((cause, i) => (
          <li key={`${i} ${cause.cause} ${cause.place}`}>
            {cause.next}: {cause.excess === null ? 'light again' : `up to ${cause.excess.toFixed(2)} dB`}, about{' '}
            {cause.minutes} min
          </li>
        ))}
        {others.map((one) => (
          <li key={one}>{one}</li>
        ))}
      </Box>
    </>
  )
}

function ProofCard({ proof }: { proof: Proof }) {
  return (
    <Section title="Verdict">
      <VerdictLine verdict={proof.verdict} />
      <Box component="ul" sx={{ pl: 3, my: 1 }}>
        {proof.reasons.map((reason) => (
          <li key={reason}>{reason}</li>
        ))}
      </Box>
      <NextSteps proof={proof} />
      <Typography sx={{ fontSize: 14, color: 'text.secondary', mt: 1 }}>
        Judged by the rule book “{proof.rules.name}”, version {proof.rules.version}.
      </Typography>
    </Section>
  )
}

import type { Account, CableProofRecord } from '@cold-thread/contract'
import { ranges } from '@cold-thread/core/fiber'
import type { FiberProof, Verdict } from '@cold-thread/core/prove'
import Box from '@mui/material/Box'
import CircularProgress from '@mui/material/CircularProgress'
import LinearProgress from '@mui/material/LinearProgress'
import Typography from '@mui/material/Typography'
import { useEffect, useState } from 'react'
import { api, useCableProofQuery } from '../../api/api.ts'
import { useAppDispatch } from '../../app/store.ts'
import { canWork } from '../../app/rights.ts'
import { Judgement } from '../../ui/Judgement.tsx'
import { Problem } from '../../ui/Problem.tsx'
import { Section } from '../../ui/Section.tsx'
import { VERDICTS } from '../prove/VerdictLine.tsx'
import { BeginAnew } from '../survey/BeginAnew.tsx'
import { CableShell, type CableProps } from '../survey/CableShell.tsx'
import { SurveyImport } from '../survey/SurveyImport.tsx'
import { FiberTable } from './FiberTable.tsx'

/** Worst first: what the technician goes to next. */
const ORDER: readonly Verdict[] = ['not-restored', 'cannot-tell', 'restored-with-remarks', 'restored']
/** ms between two looks at how far the server is. */
const LOOK = 1500

/** Every fiber of a cable after the repair: which are not as they were, and why. */
export function CableProofPage({ account }: { account: Account }) {
  return (
    <CableShell account={account} title="every fiber after the repair" back="Prove">
      {(props) => <CableProof {...props} />}
    </CableShell>
  )
}

function CableProof(props: CableProps) {
  const { account, callout, plant, cable } = props
  const [judging, setJudging] = useState(false)
  const { data, error } = useCableProofQuery(callout.id, { pollingInterval: judging ? LOOK : 0 })
  const running = data ? data.done < data.of : false
  if (running !== judging) setJudging(running)
  // The link's own verdict tells of the other fibers.
  const dispatch = useAppDispatch()
  useEffect(() => {
    if (data) dispatch(api.util.invalidateTags(['Verdict']))
  }, [dispatch, data, running])
  const working = canWork(account) && callout.state !== 'closed'
  if (data === undefined && !error) return <CircularProgress aria-label="Loading" />
  return (
    <>
      <Problem error={error} />
      {data && (
        <>
          <Counts record={data} />
          {data.proof.fibers.length > 0 && (
            <Section title="Fiber by fiber">
              <FiberTable proof={data.proof} plant={plant} cable={cable} />
            </Section>
          )}
        </>
      )}
      {!data && !working && <Typography>No fiber of this cable was shot after the repair.</Typography>}
      {working && <SurveyImport {...props} role="after" begun={Boolean(data)} />}
      {working && data && <BeginAnew callout={callout} role="after" count={data.of} />}
    </>
  )
}

/** How many fibers are what; those that are not restored by their numbers. */
function Counts({ record: { done, of, proof } }: { record: CableProofRecord }) {
  const by = new Map<Verdict, FiberProof[]>()
  for (const fiber of proof.fibers) by.set(fiber.verdict, [...(by.get(fiber.verdict) ?? []), fiber])
  return (
    <Section title={done < of ? 'So far' : 'All fibers together'}>
      {done < of && (
        <>
          <Typography role="status">
            Judging: {done} of {of} fibers
          </Typography>
          <LinearProgress variant="determinate" value={(100 * done) / of} aria-label="Fibers judged" sx={{ mb: 1 }} />
        </>
      )}
      <Box component="ul" aria-label="Verdicts" sx={{ listStyle: 'none', p: 0, m: 0 }}>
        {ORDER.flatMap((verdict) => {
          const some = by.get(verdict)
          if (!some) return []
          const numbers = some.map(({ fiber }) => fiber)
          return (
            <Box component="li" key={verdict} sx={{ py: 0.5, fontSize: '1.15rem' }}>
              <strong>{some.length}</strong> <Judgement {...VERDICTS[verdict]} />
              {verdict !== 'restored' && `: ${some.length === 1 ? 'fiber' : 'fibers'} ${ranges(numbers)}`}
            </Box>
          )
        })}
      </Box>
      {done === of && proof.missing.length > 0 && (
        <Typography sx={{ mt: 0.5 }}>
          Not shot: {proof.missing.length === 1 ? 'fiber' : 'fibers'} {ranges(proof.missing)}.
        </Typography>
      )}
    </Section>
  )
}

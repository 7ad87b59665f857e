import type { SignOff } from '@cold-thread/contract'
import type { Proof } from '@cold-thread/core/prove'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import TextField from '@mui/material/TextField'
import Typography from '@mui/material/Typography'
import { useState } from 'react'
import { v7 as uuidv7 } from 'uuid'
import { useAddSignOffMutation, useSignOffQuery, useTracesQuery, useVerdictQuery } from '../../api/api.ts'
import { canLead } from '../../app/rights.ts'
import { Problem } from '../../ui/Problem.tsx'
import { Section } from '../../ui/Section.tsx'
import { clock } from '../../ui/time.ts'
import { VerdictLine } from '../prove/VerdictLine.tsx'
import type { StageProps } from '../callout/stageProps.ts'

/** What do we now know? The lead's signature over the evidence, and everything to take along as files. */
export function CloseStage(props: StageProps) {
  const { callout } = props
  const { data: signOff, error } = useSignOffQuery(callout.id)
  return (
    <>
      <Problem error={error} />
      {signOff ? <Signed signOff={signOff as SignOff} /> : signOff === null && <ToSign {...props} />}
      <Report {...props} signed={signOff != null} />
      <Files {...props} />
    </>
  )
}

function Signed({ signOff }: { signOff: SignOff }) {
  return (
    <Section title="Signed off">
      <VerdictLine verdict={signOff.proof.verdict} />
      <Typography sx={{ mt: 1 }}>
        {signOff.by}, {clock(signOff.at)}
      </Typography>
      {signOff.remark && <Typography>{signOff.remark}</Typography>}
      <Box component="ul" sx={{ pl: 3, my: 1 }}>
        {signOff.proof.reasons.map((reason) => (
          <li key={reason}>{reason}</li>
        ))}
      </Box>
      <Typography sx={{ fontSize: 14, color: 'text.secondary', overflowWrap: 'anywhere' }}>
        Evidence, SHA-256: {signOff.evidence}
      </Typography>
    </Section>
  )
}

function ToSign({ account, callout }: StageProps) {
  const { data: verdict, error, isFetching } = useVerdictQuery(callout.id)
  const [sign, { error: signError, isLoading }] = useAddSignOffMutation()
  const [remark, setRemark] = useState('')
  const [signOffId] = useState(() => uuidv7())
  const proof = verdict?.proof as Proof | undefined
  const proved = proof?.verdict === 'restored' || proof?.verdict === 'restored-with-remarks'
  return (
    <Section title="Sign off">
      <Problem error={error} />
      {!proof && isFetching && <Typography>Comparing with the baseline…</Typography>}
      {proof && (
        <>
          <VerdictLine verdict={proof.verdict} />
          <Box component="ul" sx={{ pl: 3, my: 1 }}>
            {proof.reasons.map((reason) => (
              <li key={reason}>{reason}</li>
            ))}
          </Box>
          {!proved && (
            <Typography sx={{ fontWeight: 650 }}>
              Only a proved repair can be signed off. Next: {proof.next.join('; ')}.
            </Typography>
          )}
          {proved && !canLead(account) && <Typography sx={{ fontWeight: 650 }}>Waiting for a lead to sign.</Typography>}
          {proved && canLead(account) && (
            <Box sx={{ display: 'grid', gap: 1.5, maxWidth: 640 }}>
              <TextField
                label="Remark"
                value={remark}
                onChange={(event) => setRemark(event.target.value)}
                multiline
                minRows={2}
              />
              <Problem error={signError} />
              <Button
                variant="contained"
                size="large"
                disabled={isLoading || isFetching}
                onClick={() =>
                  void sign({ calloutId: callout.id, id: signOffId, signOff: { evidence: verdict!.evidence, remark } })
                }
              >
                Sign as {account.displayName}
              </Button>
              <Typography sx={{ fontSize: 14, color: 'text.secondary' }}>
                The signature covers this verdict, all traces and the log. Afterwards the callout takes no more entries.
              </Typography>
            </Box>
          )}
        </>
      )}
    </Section>
  )
}

/** Everything on paper, summary first. */
function Report({ callout, signed }: StageProps & { signed: boolean }) {
  return (
    <Section title="Report">
      <Typography sx={{ mb: 1.5 }}>
        Verdict and reasons first, then what was done, every figure before and after with its limit, the traces, each
        joint, instruments and who signed.{!signed && ' It is not signed yet, and says so.'}
      </Typography>
      <Box sx={{ display: 'flex', gap: 1, flexWrap: 'wrap' }}>
        {(['A4', 'Letter'] as const).map((paper) => (
          <Button
            key={paper}
            variant="outlined"
            size="large"
            href={`/api/callouts/${callout.id}/report.pdf?paper=${paper}`}
            download
            sx={{ minHeight: 48 }}
          >
            PDF, {paper}
          </Button>
        ))}
      </Box>
    </Section>
  )
}

function Files({ callout }: StageProps) {
  const { data: traces } = useTracesQuery(callout.id)
  const groups = [
    ['Baseline', 'baseline'],
    ['Before the repair', 'present'],
    ['After the repair', 'after'],
  ] as const
  const standing = (traces ?? []).filter((trace) => !trace.withdrawn)
  return (
    <Section
      title="Files"
      action={
        standing.some((trace) => trace.role === 'after') && (
          <Button variant="outlined" href={`/api/callouts/${callout.id}/readings.csv`} download>
            Readings as CSV
          </Button>
        )
      }
    >
      {groups.map(([title, role]) => {
        const files = standing.filter((trace) => trace.role === role)
        if (files.length === 0) return null
        return (
          <Box key={role} sx={{ mb: 1 }}>
            <Typography variant="h3">{title}</Typography>
            <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 1 }}>
              {files.map((trace) => (
                <Button key={trace.id} size="small" href={`/api/traces/${trace.id}/file`} download>
                  {trace.fileName}
                </Button>
              ))}
            </Box>
          </Box>
        )
      })}
    </Section>
  )
}

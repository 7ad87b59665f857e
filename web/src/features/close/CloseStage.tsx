import type { SignOff } from '@cold-thread/contract'
import type { Proof } from '@cold-thread/core/prove'
import Alert from '@mui/material/Alert'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import TextField from '@mui/material/TextField'
import Typography from '@mui/material/Typography'
import { useState } from 'react'
import { v7 as uuidv7 } from 'uuid'
import {
  useAddSignOffMutation,
  useAsBuiltQuery,
  useObservationsQuery,
  useSignOffQuery,
  useTracesQuery,
  useVerdictQuery,
} from '../../api/api.ts'
import { useEnter } from '../../api/useEnter.ts'
import { canLead, canWork } from '../../app/rights.ts'
import { causeName } from '../../ui/causeName.ts'
import { Problem } from '../../ui/Problem.tsx'
import { Section } from '../../ui/Section.tsx'
import { clock } from '../../ui/time.ts'
import { CauseField, useCause } from './CauseField.tsx'
import { WhatIsLeft } from './WhatIsLeft.tsx'
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
      <WhatIsLeft {...props} signed={signOff ?? null} />
      <RecordChanges {...props} signed={signOff != null} />
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
        {signOff.cause && `; it was: ${causeName(signOff.cause)}`}
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

function ToSign(props: StageProps) {
  const { account, callout } = props
  const { data: verdict, error, isFetching } = useVerdictQuery(callout.id)
  const [sign, { error: signError, isLoading }] = useAddSignOffMutation()
  const { enter, error: enterError, busy } = useEnter(callout.id)
  const [remark, setRemark] = useState('')
  const cause = useCause(props)
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
          {proved && (
            <Box sx={{ display: 'grid', gap: 1.5, maxWidth: 640 }}>
              <Provisional {...props} evidence={verdict!.evidence} />
              {canWork(account) && (
                <TextField
                  label="Remark"
                  value={remark}
                  onChange={(event) => setRemark(event.target.value)}
                  slotProps={{ htmlInput: { maxLength: 2000 } }}
                  multiline
                  minRows={2}
                />
              )}
              <Problem error={signError ?? enterError} />
              {canLead(account) ? (
                <>
                  <CauseField {...cause} />
                  <Button
                    variant="contained"
                    size="large"
                    disabled={isLoading || isFetching}
                    onClick={() =>
                      void sign({
                        calloutId: callout.id,
                        id: signOffId,
                        signOff: { evidence: verdict!.evidence, remark, cause: cause.value },
                      })
                    }
                  >
                    Sign as {account.displayName}
                  </Button>
                  <Typography sx={{ fontSize: 14, color: 'text.secondary' }}>
                    The signature covers this verdict, all traces and the log. Afterwards the callout takes no more
                    entries.
                  </Typography>
                </>
              ) : canWork(account) ? (
                <>
                  <Button
                    variant="contained"
                    size="large"
                    disabled={busy || isFetching}
                    onClick={() =>
                      void enter({
                        kind: 'provisional-sign-off',
                        evidence: verdict!.evidence,
                        verdict: proof.verdict as 'restored' | 'restored-with-remarks',
                        remark: remark.trim(),
                      })
                    }
                    sx={{ minHeight: 56 }}
                  >
                    Sign provisionally as {account.displayName}
                  </Button>
                  <Typography sx={{ fontSize: 14, color: 'text.secondary' }}>
                    It says that the work is done and measured. A lead signs finally; until then everything can be added
                    to, and what changes afterwards is shown.
                  </Typography>
                </>
              ) : (
                <Typography sx={{ fontWeight: 650 }}>Waiting for a lead to sign.</Typography>
              )}
            </Box>
          )}
        </>
      )}
    </Section>
  )
}

/** Who signed at night, over what; and what came after it. */
function Provisional({ callout, evidence }: StageProps & { evidence: string }) {
  const { data: log } = useObservationsQuery(callout.id)
  const { data: traces } = useTracesQuery(callout.id)
  const last = (log ?? []).findLast(({ entry, superseded }) => entry.kind === 'provisional-sign-off' && !superseded)
  if (last?.entry.kind !== 'provisional-sign-off') return null
  const later = {
    traces: (traces ?? []).filter(({ addedAt, calloutId }) => calloutId === callout.id && addedAt > last.receivedAt),
    entries: (log ?? []).filter(
      ({ receivedAt, entry }) => receivedAt > last.receivedAt && entry.kind !== 'provisional-sign-off',
    ),
  }
  const same = last.entry.evidence === evidence
  const counted = [
    later.traces.length > 0 && `${later.traces.length} ${later.traces.length === 1 ? 'trace' : 'traces'}`,
    later.entries.length > 0 &&
      `${later.entries.length} ${later.entries.length === 1 ? 'entry' : 'entries'} of the log`,
  ].filter((one) => one !== false)
  return (
    <Alert severity={same ? 'success' : 'warning'} variant="outlined" role="status">
      Signed provisionally by {last.by}, {clock(last.observedAt)}
      {last.entry.remark && `: “${last.entry.remark}”`}.{' '}
      {same
        ? 'Nothing has changed since.'
        : `What it was signed over has changed since${counted.length > 0 ? `: ${counted.join(', ')}` : ''}. Look at it again before you sign.`}
    </Alert>
  )
}

/** What the record says otherwise from now on, and the traces that the link is held against next time. */
function RecordChanges({ callout, signed }: StageProps & { signed: boolean }) {
  const { data, error } = useAsBuiltQuery(callout.id)
  if (!data || (data.changes.length === 0 && data.baselines.length === 0 && data.others.length === 0))
    return <Problem error={error} />
  return (
    <Section title={signed ? 'The record as built' : 'What signing changes in the record'}>
      <Problem error={error} />
      {data.changes.map(({ cable, words }) => (
        <Box key={cable} sx={{ mb: 1 }}>
          <Typography variant="h3">Cable {cable}</Typography>
          <Box component="ul" sx={{ pl: 3, my: 0.5 }}>
            {words.map((one) => (
              <li key={one}>{one}</li>
            ))}
          </Box>
        </Box>
      ))}
      {data.changes.length === 0 && <Typography sx={{ mb: 1 }}>No new closure: the record stays as it is.</Typography>}
      {data.baselines.length > 0 && (
        <Typography>
          {signed ? 'New baseline of the link' : 'Becomes the link’s baseline'}: {data.baselines.join(', ')}. The old
          one is kept.
        </Typography>
      )}
      {data.others.length > 0 && (
        <Typography sx={{ mt: 1 }}>
          {signed ? 'New baselines of other links' : 'Other links whose fibers are restored get a new baseline, too'}:{' '}
          {data.others.map(({ link, baselines }) => `${link} (${baselines.length} traces)`).join(', ')}.
        </Typography>
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
        <Button
          size="large"
          href={`/api/callouts/${callout.id}/report.pdf?as=page`}
          target="_blank"
          rel="noopener"
          sx={{ minHeight: 48 }}
        >
          Look at it first
        </Button>
        <Button size="large" href={`/api/callouts/${callout.id}/callout.zip`} download sx={{ minHeight: 48 }}>
          Whole callout, ZIP
        </Button>
      </Box>
      <Typography sx={{ fontSize: 14, color: 'text.secondary', mt: 1 }}>
        The ZIP holds the log, traces, photos, plans, signature and plant record: another installation takes it in on
        its page of callouts.
      </Typography>
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
              {role === 'after' && (
                <Button
                  size="small"
                  variant="outlined"
                  href={`/api/callouts/${callout.id}/repaired.zip`}
                  download
                  sx={{ minHeight: 44 }}
                >
                  All, their condition set to “as repaired”
                </Button>
              )}
            </Box>
          </Box>
        )
      })}
    </Section>
  )
}

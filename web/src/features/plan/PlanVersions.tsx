import type { Plan } from '@cold-thread/contract'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import Table from '@mui/material/Table'
import TableBody from '@mui/material/TableBody'
import TableCell from '@mui/material/TableCell'
import TableHead from '@mui/material/TableHead'
import TableRow from '@mui/material/TableRow'
import TextField from '@mui/material/TextField'
import Typography from '@mui/material/Typography'
import { useState } from 'react'
import { useApprovePlanMutation } from '../../api/api.ts'
import { canLead } from '../../app/rights.ts'
import { Judgement } from '../../ui/Judgement.tsx'
import { Problem } from '../../ui/Problem.tsx'
import { Section } from '../../ui/Section.tsx'
import { clock } from '../../ui/time.ts'
import type { StageProps } from '../callout/stageProps.ts'
import { finishInWords, minutesInWords } from './planWords.ts'

/** The saved versions side by side; the newest can be approved by a lead. */
export function PlanVersions({
  account,
  callout,
  plans,
  onOpen,
}: Pick<StageProps, 'account' | 'callout'> & { plans: readonly Plan[]; onOpen(plan: Plan): void }) {
  const [approve, { error, isLoading }] = useApprovePlanMutation()
  const [remark, setRemark] = useState('')
  const newest = plans[0]
  if (!newest) return null
  const mayApprove = canLead(account) && newest.approval === null && callout.state !== 'closed'
  return (
    <Section title="Saved plans">
      <Box sx={{ overflowX: 'auto' }}>
        <Table size="small" aria-label="Saved plans">
          <TableHead>
            <TableRow>
              <TableCell align="right">Version</TableCell>
              <TableCell>Repair</TableCell>
              <TableCell>First circuit</TableCell>
              <TableCell>Finished</TableCell>
              <TableCell align="right">Least margin</TableCell>
              <TableCell>Window</TableCell>
              <TableCell>Saved</TableCell>
              <TableCell>Approval</TableCell>
              <TableCell />
            </TableRow>
          </TableHead>
          <TableBody>
            {plans.map((plan) => {
              const { summary, window, edits } = plan.content
              return (
                <TableRow key={plan.id}>
                  <TableCell align="right">{plan.version}</TableCell>
                  <TableCell sx={{ minWidth: 180 }}>
                    {summary.name}
                    {edits.length > 0 && `, ${edits.length} changed by hand`}
                  </TableCell>
                  <TableCell>
                    {summary.firstCircuit
                      ? `${summary.firstCircuit.name}: ${minutesInWords(summary.firstCircuit.p50)}`
                      : 'none'}
                  </TableCell>
                  <TableCell>{finishInWords({ p50: summary.finish50, p90: summary.finish90 })}</TableCell>
                  <TableCell align="right">
                    {summary.margin === null ? 'not known' : `${summary.margin.toFixed(1)}\u00a0dB`}
                  </TableCell>
                  <TableCell>{window ? `${window.name}, ${clock(window.start)}` : 'now'}</TableCell>
                  <TableCell>
                    {clock(plan.at)}, {plan.by}
                  </TableCell>
                  <TableCell>
                    {plan.approval ? (
                      <>
                        <Judgement tone="good" word="approved" /> {plan.approval.by}, {clock(plan.approval.at)}
                        {plan.approval.remark && `: ${plan.approval.remark}`}
                      </>
                    ) : plan === newest ? (
                      'waits for a lead'
                    ) : (
                      'replaced'
                    )}
                  </TableCell>
                  <TableCell>
                    <Button size="small" onClick={() => onOpen(plan)}>
                      Open
                    </Button>
                  </TableCell>
                </TableRow>
              )
            })}
          </TableBody>
        </Table>
      </Box>
      <Problem error={error} />
      {mayApprove && (
        <Box sx={{ display: 'flex', gap: 1.5, mt: 1.5, flexWrap: 'wrap' }}>
          <TextField
            size="small"
            label="Remark"
            value={remark}
            onChange={(event) => setRemark(event.target.value)}
            sx={{ flex: '1 1 260px' }}
          />
          <Button
            variant="contained"
            disabled={isLoading}
            onClick={() => void approve({ calloutId: callout.id, id: newest.id, approval: { remark } })}
          >
            Approve version {newest.version}
          </Button>
        </Box>
      )}
      {!canLead(account) && newest.approval === null && (
        <Typography sx={{ fontSize: 14, color: 'text.secondary', mt: 1 }}>
          A lead approves the newest version.
        </Typography>
      )}
    </Section>
  )
}

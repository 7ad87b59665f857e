import { PLAN_RULES, type ThreePoint } from '@cold-thread/core/plan'
import Box from '@mui/material/Box'
import FormControlLabel from '@mui/material/FormControlLabel'
import Switch from '@mui/material/Switch'
import Typography from '@mui/material/Typography'
import type { ProposalView } from '../../worker/planView.ts'
import type { PlanDraft } from './draft.ts'

/** What was learned of the minutes of steps: shown, and used only when asked for. */
export function Rates({
  proposal,
  draft,
  change,
}: {
  proposal: ProposalView
  draft: PlanDraft
  change(some: Partial<PlanDraft>): void
}) {
  const minutes = ({ best, likely, worst }: ThreePoint) => {
    const digits = likely < 10 ? 1 : 0
    return `${likely.toFixed(digits)} (${best.toFixed(digits)} to ${worst.toFixed(digits)}) min`
  }
  return (
    <Box component="details" sx={{ mt: 1 }}>
      <Box component="summary" sx={{ cursor: 'pointer', minHeight: 44, pt: 1.25 }}>
        Where the minutes come from
      </Box>
      <Typography>{proposal.rulesSource}.</Typography>
      {proposal.rates.length > 0 && (
        <>
          <Box component="ul" sx={{ pl: 3, my: 0.5 }}>
            {proposal.rates.map(({ kind, count, planned, learned }) => (
              <li key={kind}>
                {PLAN_RULES.steps[kind].name}: {minutes(planned)} by the rule book, {minutes(learned)} with {count} done
              </li>
            ))}
          </Box>
          <FormControlLabel
            control={
              <Switch
                checked={draft.learnedRates}
                onChange={(event) => change({ learnedRates: event.target.checked })}
              />
            }
            label="Plan with the learned minutes"
          />
        </>
      )}
    </Box>
  )
}

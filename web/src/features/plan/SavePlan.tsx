import type { Plan } from '@cold-thread/contract'
import { PLAN_RULES, type RepairOption } from '@cold-thread/core/plan'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import { v7 as uuidv7 } from 'uuid'
import { useAddPlanMutation } from '../../api/api.ts'
import { Problem } from '../../ui/Problem.tsx'
import type { OrderView } from '../../worker/planView.ts'
import type { StageProps } from '../callout/stageProps.ts'
import { tightest } from './planWords.ts'
import type { PlanInput } from './usePlan.ts'

/** Keeps the plan as a new version, made on the one that was opened. */
export function SavePlan({
  callout,
  base,
  onSaved,
  onDrop,
  input,
  main,
  before,
  order,
}: Pick<StageProps, 'callout'> & {
  input: PlanInput
  main: RepairOption
  before: RepairOption | null
  order: OrderView['order']
  base: number
  onSaved(version: number): void
  onDrop: (() => void) | null
}) {
  const [save, { error, isLoading }] = useAddPlanMutation()
  const { draft, fault } = input
  const first = order.restored[0]
  const content: Plan['content'] = {
    cable: fault.cable,
    chainage: fault.chainage,
    optionIds: before ? [before.id, main.id] : [main.id],
    hit: draft.hit,
    site: draft.site,
    scenario: draft.scenario,
    weights: draft.weights,
    edits: draft.edits,
    learnedRates: draft.learnedRates,
    window: draft.window,
    rules: { name: PLAN_RULES.name, version: PLAN_RULES.version },
    summary: {
      name: before ? `${before.name}, then ${main.name}` : main.name,
      finish50: order.finish.p50,
      finish90: order.finish.p90,
      firstCircuit: first
        ? { name: first.circuits[0]?.name ?? first.name, p50: first.at.p50, p90: first.at.p90 }
        : null,
      margin: tightest(main.projected)?.margin ?? null,
    },
  }
  return (
    <Box sx={{ textAlign: 'right' }}>
      {onDrop && (
        <Button onClick={onDrop} className="not-on-paper">
          Drop the changes
        </Button>
      )}
      <Button
        variant="contained"
        size="large"
        disabled={isLoading}
        className="not-on-paper"
        onClick={() =>
          void save({ calloutId: callout.id, id: uuidv7(), plan: { content, version: base } }).then(
            ({ data }) => data && onSaved(data.version),
          )
        }
      >
        Save as version {base + 1}
      </Button>
      <Problem error={error} />
    </Box>
  )
}

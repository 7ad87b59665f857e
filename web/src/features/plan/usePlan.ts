import type { Kit } from '@cold-thread/core/kit'
import type { RepairOption } from '@cold-thread/core/plan'
import type { Cable, Link, PlantBundle } from '@cold-thread/core/plant'
import type { StepTime } from '@cold-thread/contract'
import { usePlanner, type Running } from '../../worker/usePlanner.ts'
import type { OrderView, ProposalView } from '../../worker/planView.ts'
import type { FaultView, LocateView } from '../../worker/view.ts'
import type { PlanDraft } from './draft.ts'

export interface PlanInput {
  plant: PlantBundle
  link: Link
  fault: FaultView
  measured: LocateView['measured']
  kit: Kit
  kitVersion: number
  stepTimes: StepTime[]
  draft: PlanDraft
  today: string
}

/** Runs of the order of work whose percentiles are shown. */
const RUNS = 1000

/** The repairs that apply, recomputed whenever something that they rest on changes. */
export function useProposal(input: PlanInput | null): Running<ProposalView> {
  const key = input && keyOf(input)
  return usePlanner<ProposalView>(key, (planner) => planner.propose(proposeRequest(input!)))
}

/** Stands for all that a proposal rests on. */
export function keyOf({ link, fault, kitVersion, stepTimes, draft, today }: PlanInput): string {
  const { hit, site, scenario, weights, learnedRates } = draft
  const placed = [fault.cable, fault.chainage, fault.places, fault.causes, fault.loss]
  return JSON.stringify([link.id, placed, kitVersion, stepTimes, hit, site, scenario, weights, learnedRates, today])
}

export function proposeRequest({ plant, link, fault, measured, kit, stepTimes, draft, today }: PlanInput) {
  const { chainage, interval95, cable, betweenNodes, places, goodEnoughToDig, breaks, reflects, causes, loss } = fault
  return {
    plant,
    linkId: link.id,
    fault: { chainage, interval95, cable, betweenNodes, places, goodEnoughToDig, breaks, reflects, causes, loss },
    hit: draft.hit,
    kit,
    site: draft.site,
    scenario: draft.scenario,
    weights: draft.weights,
    measured: { [link.id]: measured },
    stepsDone: stepTimes.map(({ step, minutes, byRules }) => ({ kind: step, minutes, byRules })),
    learnedRates: draft.learnedRates,
    today,
  }
}

/** The order of work of one repair; `key` tells proposals apart. */
export function useOrder(
  input: PlanInput | null,
  proposal: ProposalView | null,
  option: RepairOption | null,
  others: RepairOption[],
): Running<OrderView> {
  const cable = input?.plant.cables.find(({ id }) => id === proposal?.cable)
  const key =
    input && proposal && option && cable
      ? JSON.stringify([keyOf(input), option.id, others.map(({ id }) => id), option.steps.length, input.draft.edits])
      : null
  return usePlanner<OrderView>(key, (planner, onProgress) =>
    planner.order(orderRequest(input!, proposal!, option!, others, cable!, RUNS), onProgress),
  )
}

export function orderRequest(
  { kit, link, draft, today }: PlanInput,
  { hit }: ProposalView,
  option: RepairOption,
  others: RepairOption[],
  cable: Cable,
  runs: number,
) {
  return { option, others, hit, edits: draft.edits, kit, scenario: draft.scenario, cable, link, today, runs }
}

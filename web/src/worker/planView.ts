import type { Kit } from '@cold-thread/core/kit'
import type {
  HitFiber,
  LearnedRate,
  OrderOfWork,
  packingList,
  PlanEdit,
  ProposeInput,
  RepairOption,
  RepairProposal,
  Scenario,
  StepDone,
} from '@cold-thread/core/plan'
import type { Cable, Link } from '@cold-thread/core/plant'

export type ProposeRequest = Omit<ProposeInput, 'rules'> & { stepsDone: StepDone[]; learnedRates: boolean }

/** Repairs that apply, with what was learned of their minutes. */
export type ProposalView = RepairProposal & { rates: LearnedRate[]; rulesSource: string }

export interface OrderRequest {
  option: RepairOption
  /** Repairs done before it: packed together. */
  others: RepairOption[]
  hit: HitFiber[]
  edits: PlanEdit[]
  kit: Kit
  scenario: Scenario
  cable: Cable
  link: Link
  /** ISO date. */
  today: string
  runs: number
}

export interface OrderView {
  order: OrderOfWork
  packing: ReturnType<typeof packingList>
}

/** When the first circuit is back and all is finished, minutes. */
export interface ScenarioFigures {
  first: number | null
  p50: number
  p90: number
}

/** What one of several scenarios comes to; or why it can't be. */
export type WhatIf = { figures: ScenarioFigures; problem?: undefined } | { figures?: undefined; problem: string }

export interface CompareRequest {
  request: ProposeRequest
  optionId: string
  scenarios: Scenario[]
  runs: number
}

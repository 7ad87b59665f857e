import type { ProjectedLoss } from './projectLoss.ts'
import type { RepairKind, TerminationWay } from '../planRules.ts'
import type { SlackSum } from './slack.ts'
import type { Step } from '../schedule/steps.ts'

/** Something a repair takes, counted. */
export interface Part {
  kind: string
  /** What must fit, such as a connector with its polish. */
  fit: string | null
  /** Fibers that it must hold, where that matters. */
  fibers: number | null
  count: number
  unit: 'piece' | 'm'
  /** For what, in words. */
  use: string
}

/** Something that is not at hand, with what would do instead. */
export interface Lack {
  what: string
  needed: number
  there: number
  unit: 'piece' | 'm'
  substitute: string | null
}

/** A repair as it would be done, before it is weighed against others. */
export interface DraftOption {
  id: string
  kind: RepairKind
  way: TerminationWay | null
  name: string
  /** Why it can't be done; empty when it can. */
  whyNot: string[]
  steps: Step[]
  parts: Part[]
  projected: ProjectedLoss[]
  /** Links whose circuits it does not bring back, by name. */
  leavesOut: string[]
  slack: SlackSum | null
  permanence: 'permanent' | 'interim' | 'temporary'
  hazards: string[]
  reflectanceRisk: string | null
  /** What speaks for it besides figures. */
  reasons: string[]
}

/** Minutes from the begin. */
export interface OptionMinutes {
  /** Until the most important circuit is back, in half of the runs; null where it brings none back. */
  firstCircuit: number | null
  /** Until all that it brings back are, in half of the runs. */
  allCircuits: number | null
  /** Until the last step is done, by the mean of each step. */
  all: number
  /** The last step, as one run of ten is quicker, half are, and nine of ten are. */
  finish: { p10: number; p50: number; p90: number }
  /** People's minutes. */
  people: number
}

/** A repair weighed against the others. */
export interface RepairOption extends DraftOption {
  possible: boolean
  /** Probability that it cures the fault. */
  chance: number
  minutes: OptionMinutes
  lacks: Lack[]
  /** Weighted sum of what it costs against the others', 0 to 1: less is better; null where it can't be done. */
  score: number | null
  /** Its part of each wish, 0 (best of all) to 1. */
  wishes: Record<string, number>
}

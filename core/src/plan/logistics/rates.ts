import type { PlanRules, StepKind } from '../planRules.ts'
import type { SpliceSteps } from '../schedule/splicing.ts'
import { momentsOf, type ThreePoint } from '../schedule/threePoint.ts'

/** Steps of a kind as they were done, one alone or all of a line of the plan. */
export interface StepDone {
  kind: StepKind
  minutes: number
  /** What the rule book has for the same, mean minutes. */
  byRules: number
}

/** What steps of a kind really take. */
export interface LearnedRate {
  kind: StepKind
  count: number
  /** Learned minutes over those of the rule book. */
  stretch: number
  planned: ThreePoint
  learned: ThreePoint
}

/** The rule book's minutes weigh as much as so many steps done (judgement). */
const PRIOR_COUNT = 5

/**
 * Minutes by kind after what was done: each is a ratio to what the rule book has for the same work; the rule book counts
 * as {@link PRIOR_COUNT} of them at 1. The estimate keeps its shape and is stretched, and reaches over the quickest and
 * slowest done when there are enough.
 */
export function learnRates(rules: PlanRules, done: readonly StepDone[]): LearnedRate[] {
  const usable = done.filter(({ byRules }) => byRules > 0)
  const kinds = [...new Set(usable.map(({ kind }) => kind))]
  return kinds.map((kind) => {
    const ratios = usable.flatMap((step) => (step.kind === kind ? [step.minutes / step.byRules] : []))
    const planned = rules.steps[kind].minutes
    const { mean } = momentsOf(planned)
    const stretch = (PRIOR_COUNT + ratios.reduce((a, b) => a + b, 0)) / (PRIOR_COUNT + ratios.length)
    const learned = stretched(planned, stretch)
    if (ratios.length >= PRIOR_COUNT) {
      learned.best = Math.min(learned.best, mean * Math.min(...ratios))
      learned.worst = Math.max(learned.worst, mean * Math.max(...ratios))
    }
    return { kind, count: ratios.length, stretch, planned, learned }
  })
}

function stretched({ best, likely, worst }: ThreePoint, by: number): ThreePoint {
  return { best: best * by, likely: likely * by, worst: worst * by }
}

/** The rule book with learned minutes in it, named as such; what has minutes of its own is stretched as its kind is. */
export function withRates(rules: PlanRules, rates: readonly LearnedRate[]): PlanRules {
  const steps = { ...rules.steps }
  for (const { kind, learned } of rates) steps[kind] = { ...steps[kind], minutes: learned }
  const stretchOf = (kind: StepKind) => rates.find((rate) => rate.kind === kind)?.stretch ?? 1
  const splice = (times: SpliceSteps): SpliceSteps => {
    const by = stretchOf('splice')
    return { prepare: times.prepare * by, splice: times.splice * by, oven: times.oven, store: times.store * by }
  }
  const terminations = Object.fromEntries(
    Object.entries(rules.terminations).map(([way, rule]) => [
      way,
      { ...rule, minutes: stretched(rule.minutes, stretchOf('terminate')) },
    ]),
  ) as PlanRules['terminations']
  const count = rates.reduce((sum, rate) => sum + rate.count, 0)
  return {
    ...rules,
    steps,
    splicing: { ...rules.splicing, single: splice(rules.splicing.single), ribbon: splice(rules.splicing.ribbon) },
    terminations,
    haulPace: rules.haulPace / stretchOf('haul'),
    source: `${rules.source}; minutes learned from ${count} steps done`,
  }
}

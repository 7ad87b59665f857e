import type { PlanRules, StepKind } from './planRules.ts'
import { momentsOf, type ThreePoint } from './threePoint.ts'

/** A step as it was done. */
export interface StepDone {
  kind: StepKind
  minutes: number
}

/** What steps of a kind really take. */
export interface LearnedRate {
  kind: StepKind
  count: number
  planned: ThreePoint
  learned: ThreePoint
}

/** The rule book's minutes weigh as much as so many steps done (judgement). */
const PRIOR_COUNT = 5

/**
 * Minutes by kind after what was done: the rule book's mean and the mean of those done, weighted by their counts; the
 * estimate keeps its shape and is stretched, and reaches over the quickest and slowest done when there are enough.
 */
export function learnRates(rules: PlanRules, done: readonly StepDone[]): LearnedRate[] {
  const kinds = [...new Set(done.map(({ kind }) => kind))]
  return kinds.map((kind) => {
    const minutes = done.flatMap((step) => (step.kind === kind ? [step.minutes] : []))
    const planned = rules.steps[kind].minutes
    const { mean } = momentsOf(planned)
    const average = minutes.reduce((a, b) => a + b, 0) / minutes.length
    const stretch = (PRIOR_COUNT + (minutes.length * average) / mean) / (PRIOR_COUNT + minutes.length)
    const learned = { best: planned.best * stretch, likely: planned.likely * stretch, worst: planned.worst * stretch }
    if (minutes.length < PRIOR_COUNT) return { kind, count: minutes.length, planned, learned }
    return {
      kind,
      count: minutes.length,
      planned,
      learned: {
        best: Math.min(learned.best, ...minutes),
        likely: learned.likely,
        worst: Math.max(learned.worst, ...minutes),
      },
    }
  })
}

/** The rule book with learned minutes in it, named as such. */
export function withRates(rules: PlanRules, rates: readonly LearnedRate[]): PlanRules {
  const steps = { ...rules.steps }
  for (const { kind, learned } of rates) steps[kind] = { ...steps[kind], minutes: learned }
  const count = rates.reduce((sum, rate) => sum + rate.count, 0)
  return { ...rules, steps, source: `${rules.source}; minutes learned from ${count} steps done` }
}

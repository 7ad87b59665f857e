import {
  learnRates,
  orderOfWork,
  packingList,
  PLAN_RULES,
  proposeRepairs,
  unitsFor,
  withRates,
  type RepairOption,
  type StepDone,
} from '@cold-thread/core/plan'
import { CodedError } from '@cold-thread/core/errors'
import { seededRandom } from '@cold-thread/core/math'
import type { CompareRequest, OrderRequest, OrderView, ProposalView, ProposeRequest, WhatIf } from './planView.ts'

/** Failures cross the worker's border as data: a class would lose its name. */
export type PlanOutcome<T> = { value: T } | { problem: string }

/** Progress is told so often. */
const TELL_EVERY_MS = 100

function attempt<T>(run: () => T): PlanOutcome<T> {
  try {
    return { value: run() }
  } catch (error) {
    if (error instanceof CodedError) return { problem: error.message }
    throw error
  }
}

const rulesFor = (done: readonly StepDone[], learned: boolean) =>
  learned && done.length > 0 ? withRates(PLAN_RULES, learnRates(PLAN_RULES, done)) : PLAN_RULES

/** Large plans are improved less: each try takes as long as the plan is. */
const triesFor = ({ steps }: RepairOption) => Math.min(60, Math.floor(20_000 / Math.max(1, steps.length)))

/** What plans ask of the worker. */
export const planner = {
  propose({ stepsDone, learnedRates, ...request }: ProposeRequest): PlanOutcome<ProposalView> {
    return attempt(() => {
      const rules = rulesFor(stepsDone, learnedRates)
      const proposal = proposeRepairs({ ...request, rules })
      return { ...proposal, rates: learnRates(PLAN_RULES, stepsDone), rulesSource: rules.source }
    })
  },

  /** Order of work of an option, with the packing list of all that are to be done. */
  order(request: OrderRequest, onProgress: (part: number) => void): PlanOutcome<OrderView> {
    return attempt(() => {
      const { option, others, hit, edits, kit, scenario, cable, link, today, runs } = request
      let told = performance.now()
      const order = orderOfWork({
        steps: option.steps,
        units: unitsFor(option, { kit, scenario }, today),
        hit,
        tubeSize: cable.tubeSize,
        edits,
        random: seededRandom(1),
        tries: triesFor(option),
        runs,
        onRun: (done) => {
          const now = performance.now()
          if (now - told > TELL_EVERY_MS) {
            told = now
            onProgress(done / runs)
          }
          return true
        },
      })
      return { order, packing: packingList([...others, option], { kit, cable, link, scenario, today }) }
    })
  },

  /** The same repair in several scenarios, without changes by hand. */
  compare(
    { request, optionId, scenarios, runs }: CompareRequest,
    onProgress: (part: number) => void,
  ): PlanOutcome<WhatIf[]> {
    const { stepsDone, learnedRates, ...input } = request
    const rules = rulesFor(stepsDone, learnedRates)
    const cable = input.plant.cables.find(({ id }) => id === input.fault.cable)
    if (!cable) return { problem: `there is no cable "${input.fault.cable}"` }
    return {
      value: scenarios.map((scenario, k): WhatIf => {
        onProgress(k / scenarios.length)
        const outcome = attempt((): WhatIf => {
          const { options, hit } = proposeRepairs({ ...input, rules, scenario })
          const option = options.find(({ id }) => id === optionId)
          if (!option?.possible) return { problem: option?.whyNot.join('; ') ?? 'not possible' }
          const order = orderOfWork({
            steps: option.steps,
            units: unitsFor(option, { kit: input.kit, scenario }, input.today ?? null),
            hit,
            tubeSize: cable.tubeSize,
            edits: [],
            random: seededRandom(1),
            tries: triesFor(option),
            runs,
          })
          const { p50, p90 } = order.finish
          return { figures: { first: order.restored[0]?.at.p50 ?? null, p50, p90 } }
        })
        return 'value' in outcome ? outcome.value : { problem: outcome.problem }
      }),
    }
  },
}

export type Planner = typeof planner

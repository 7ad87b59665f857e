import type { PlanContent } from '@cold-thread/contract'
import { FIRST_SCENARIO, PLAN_RULES, SITE_DEFAULTS } from '@cold-thread/core/plan'

/** A plan with a temporary repair and a section of new cable after it. */
export const SAMPLE_PLAN: PlanContent = {
  cable: 'TN-3',
  chainage: 24_060,
  optionIds: ['temporary', 'section'],
  hit: null,
  site: SITE_DEFAULTS,
  scenario: FIRST_SCENARIO,
  weights: PLAN_RULES.weights,
  edits: [{ kind: 'before', line: 'a', other: 'b' }],
  learnedRates: false,
  window: null,
  rules: { name: 'repair plan', version: 1 },
  summary: { name: 'A section', finish50: 300, finish90: 400, firstCircuit: null, margin: 5 },
}

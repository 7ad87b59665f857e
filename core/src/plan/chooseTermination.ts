import { itemsOf, kindName, whyUnfit, type Kit } from '../kit/index.ts'
import { PLAN_RULES, type PlanRules, type TerminationWay } from './planRules.ts'
import { momentsOf } from './threePoint.ts'

/** What a new connector is chosen for. */
export interface TerminationCase {
  fiber: 'single-mode' | 'multimode'
  polish: 'PC' | 'UPC' | 'APC'
  kit: Kit
  /** What counts first. */
  first: 'time' | 'loss'
}

/** One way of getting a connector on, with what speaks for and against it. */
export interface TerminationChoice {
  way: TerminationWay
  name: string
  /** Mean, and standard deviation. */
  minutes: { mean: number; sigma: number }
  /** dB */
  loss: { expected: number; sigma: number }
  reasons: string[]
  /** Why it can't be done here; null where nothing stands against it. */
  against: string | null
}

const POLISHED: readonly TerminationWay[] = ['epoxy', 'anaerobic', 'hot-melt']
/** Common practice, no published source. */
const FACTS: Record<TerminationWay, string> = {
  pigtail: 'Its end was polished in a factory; quick where the splicer stands here anyway',
  'splice-on': 'Its end was polished in a factory; quick where the splicer stands here anyway',
  mechanical: 'Quick, no power and no polish; dearer, and more loss; red light tells at once whether it is good',
  anaerobic: 'Cheap parts, low loss; sets in minutes; loss and reflectance are as good as the hand that polishes',
  'hot-melt': 'Cheap parts, low loss, can be heated again; loss and reflectance are as good as the hand that polishes',
  epoxy: 'Cheap parts, the lowest loss and the most lasting; slow, it cures in an oven or overnight',
}

/**
 * Ways of putting a connector on, the best first: those that can be done here before those that can't, then by minutes or
 * by expected loss. Minutes and losses are the plan's (judgement).
 */
export function chooseTermination(
  { fiber, polish, kit, first }: TerminationCase,
  rules: Pick<PlanRules, 'terminations'> = PLAN_RULES,
): TerminationChoice[] {
  const fit = (kind: string) => itemsOf(kit, kind).some((item) => whyUnfit(item, null) === null)
  const choices = Object.entries(rules.terminations).map(([id, rule]): TerminationChoice => {
    const way = id as TerminationWay
    const lacking = [...rule.tools, ...rule.parts].filter((kind) => !fit(kind))
    const reasons = [FACTS[way]]
    if (fiber === 'single-mode' && POLISHED.includes(way))
      reasons.push('Single-mode asks more of the polish: look at the end before it is mated')
    const against =
      polish === 'APC' && POLISHED.includes(way)
        ? 'an angle of 8° is polished in the factory, not here'
        : lacking.length > 0
          ? `not in the kit: ${lacking.map(kindName).join(', ')}`
          : null
    const { mean, variance } = momentsOf(rule.minutes)
    return { way, name: rule.name, minutes: { mean, sigma: Math.sqrt(variance) }, loss: rule.loss, reasons, against }
  })
  const rank = (one: TerminationChoice) => (first === 'time' ? one.minutes.mean : one.loss.expected)
  return choices.sort(
    (a, b) =>
      Number(a.against !== null) - Number(b.against !== null) || rank(a) - rank(b) || a.minutes.mean - b.minutes.mean,
  )
}

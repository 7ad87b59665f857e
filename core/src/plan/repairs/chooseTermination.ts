import { itemsOf, kindName, whyUnfit, type Kit } from '../../kit/index.ts'
import { PLAN_RULES, type PlanRules, type TerminationWay } from '../planRules.ts'
import { momentsOf } from '../schedule/threePoint.ts'

/** What a way can be chosen by. */
export const TERMINATION_AIMS = ['time', 'loss', 'reflectance', 'cost', 'hand'] as const
export type TerminationAim = (typeof TERMINATION_AIMS)[number]

/** What a new connector is chosen for. */
export interface TerminationCase {
  fiber: 'single-mode' | 'multimode'
  polish: 'PC' | 'UPC' | 'APC'
  kit: Kit
  /** What counts first. */
  first: TerminationAim
}

/** One way of getting a connector on, with what speaks for and against it. */
export interface TerminationChoice {
  way: TerminationWay
  name: string
  /** Mean, and standard deviation. */
  minutes: { mean: number; sigma: number }
  /** dB */
  loss: { expected: number; sigma: number }
  /** Where its end is polished: in a factory it reflects least, by hand as the hand polishes, gel or cleave most. */
  end: 'factory' | 'by hand' | 'cleaved'
  /** What its parts cost, and how much practice it asks for. */
  cost: Degree
  hand: Degree
  reasons: string[]
  /** Why it can't be done here; null where nothing stands against it. */
  against: string | null
}

/** Little first. */
const DEGREES = ['little', 'some', 'much'] as const
export type Degree = (typeof DEGREES)[number]
const ENDS = ['factory', 'by hand', 'cleaved'] as const

/** In words and degrees: judgement from common practice, no published source. */
const NATURE: Record<TerminationWay, Pick<TerminationChoice, 'end' | 'cost' | 'hand'>> = {
  pigtail: { end: 'factory', cost: 'some', hand: 'some' },
  'splice-on': { end: 'factory', cost: 'some', hand: 'some' },
  mechanical: { end: 'cleaved', cost: 'much', hand: 'little' },
  anaerobic: { end: 'by hand', cost: 'little', hand: 'much' },
  'hot-melt': { end: 'by hand', cost: 'little', hand: 'much' },
  epoxy: { end: 'by hand', cost: 'little', hand: 'much' },
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
 * Ways of putting a connector on, the best first: those that can be done here before those that can't, then by what
 * counts first, then by minutes. Minutes and losses are the plan's (judgement).
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
    const minutes = { mean, sigma: Math.sqrt(variance) }
    return { way, name: rule.name, minutes, loss: rule.loss, ...NATURE[way], reasons, against }
  })
  const ranks: Record<TerminationAim, (one: TerminationChoice) => number> = {
    time: ({ minutes }) => minutes.mean,
    loss: ({ loss }) => loss.expected,
    reflectance: ({ end }) => ENDS.indexOf(end),
    cost: ({ cost }) => DEGREES.indexOf(cost),
    hand: ({ hand }) => DEGREES.indexOf(hand),
  }
  const rank = ranks[first]
  return choices.sort(
    (a, b) =>
      Number(a.against !== null) - Number(b.against !== null) || rank(a) - rank(b) || a.minutes.mean - b.minutes.mean,
  )
}

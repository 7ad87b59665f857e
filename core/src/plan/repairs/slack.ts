import type { PlantBundle, PlantNode } from '../../plant/types.ts'

/** What a closure at a break takes, m of sheath. */
export interface SlackNeeds {
  /** Way from the closure to the bench (vehicle or tent), entered for the site. */
  toBench: number
  /** Sheath opened and prepared at the bench, each side. */
  preparation: number
  /** Damaged sheath that is cut away. */
  lost: number
}

/** Where a closure would take its slack from, and whether that is enough. m of sheath. */
export interface SlackSum {
  /** Coils that can be drawn on towards lower and higher chainage, nearest first. */
  before: Coil[]
  after: Coil[]
  needed: number
  available: number
  /** How much is missing; 0 where it is enough. */
  short: number
  /** How far the closure must stand from the break, towards the side with too little: above 0 towards higher chainage. */
  shift: number
  /** What is left in the coils for next time, when it is enough. */
  remains: { before: number; after: number } | null
}

export interface Coil {
  node: string
  sheath: number
}

/**
 * Slack for one closure at a break: each side needs the way to the bench and its preparation, both together also what is
 * cut away. A side with too little is helped by the other one when the closure moves towards it. A coil that passes
 * uncut can be drawn on from further on; at a node where the cable ends nothing comes from beyond.
 * Common practice, no published source: a break mid-span needs one closure when the slack holds both working lengths and
 * the lost length; two closures and a new length otherwise.
 */
export function slackFor(plant: PlantBundle, cable: string, chainage: number, needs: SlackNeeds): SlackSum {
  const routeId = plant.cables.find(({ id }) => id === cable)?.routeId
  const nodes = plant.nodes.filter((node) => node.routeId === routeId).toSorted((a, b) => a.chainage - b.chainage)
  const before = coilsFrom(nodes.filter((node) => node.chainage <= chainage).toReversed(), cable, 'after')
  const after = coilsFrom(
    nodes.filter((node) => node.chainage > chainage),
    cable,
    'before',
  )
  const working = needs.toBench + needs.preparation
  const needed = 2 * working + needs.lost
  const [left, right] = [before, after].map((coils) => coils.reduce((sum, coil) => sum + coil.sheath, 0)) as [
    number,
    number,
  ]
  const available = left + right
  const short = Math.max(0, needed - available)
  // Cut back by so much, a side reaches the bench with what it has; the other one bridges that length as well.
  const shift = left < working ? left - working : right < working ? working - right : 0
  if (short > 0) return { before, after, needed, available, short, shift, remains: null }
  // What is cut away is taken from the side that holds more.
  const remains = { before: left - working - shift, after: right - working + shift }
  const [richer, other] =
    remains.before >= remains.after ? (['before', 'after'] as const) : (['after', 'before'] as const)
  const taken = Math.min(needs.lost, remains[richer])
  remains[richer] -= taken
  remains[other] -= needs.lost - taken
  return { before, after, needed, available, short, shift, remains }
}

/** Coils of a cable on one side of a break; beyond a coil whose cable is cut or fixed nothing can be drawn. */
function coilsFrom(nodes: readonly PlantNode[], cable: string, facing: 'before' | 'after'): Coil[] {
  const coils: Coil[] = []
  for (const node of nodes) {
    const through = node.slack.find((slack) => slack.cable === cable && slack.side === 'through')
    if (through) coils.push({ node: node.id, sheath: through.sheath })
    const ending = node.slack.find((slack) => slack.cable === cable && slack.side === facing)
    if (ending) coils.push({ node: node.id, sheath: ending.sheath })
    if (ending || (!through && node.slack.some((slack) => slack.cable === cable))) break
  }
  return coils
}

import type { Cable, PlantBundle } from '../../plant/types.ts'
import type { Task } from './network.ts'
import type { PlanRules, SiteFacts, StepKind } from '../planRules.ts'
import type { ThreePoint } from './threePoint.ts'

/** A task of a repair with what it is and where. */
export interface Step extends Task {
  kind: StepKind
  /** Where, in the words of the plant. */
  site: string
  /** Ids of the links whose circuits are back when it is done. */
  restores?: readonly string[]
  /** Fibers of the hurt cable that it works on. */
  fibers?: readonly number[]
}

/** A place of work, with who works there when crews are apart. */
export interface Site {
  id: string
  name: string
  /** 1 or 2 when the crews work apart; null where anyone may work. */
  crew: 1 | 2 | null
}

export interface StepDetails {
  name?: string
  minutes?: ThreePoint
  needs?: readonly string[]
  restores?: readonly string[]
  fibers?: readonly number[]
  /** Sets it apart from others of its kind at the site. */
  mark?: string
}

/** Lays steps one after the other; ids are the same each time, so that an order of one's own can be kept. */
export class StepList {
  readonly steps: Step[] = []
  readonly #rules: PlanRules
  constructor(rules: PlanRules) {
    this.#rules = rules
  }

  /** Adds a step behind others. @returns its id */
  add(kind: StepKind, site: Site, after: readonly string[], details: StepDetails = {}): string {
    const rule = this.#rules.steps[kind]
    const { minutes = rule.minutes, needs = rule.needs, mark, restores, fibers } = details
    const id = [kind, site.id, mark].filter((part) => part !== undefined).join('@')
    this.steps.push({
      id,
      kind,
      site: site.name,
      name: details.name ?? rule.name,
      minutes,
      after: [...new Set(after)],
      needs: needs.map((need) => atCrew(need, site.crew)),
      ...(restores ? { restores } : {}),
      ...(fibers ? { fibers } : {}),
    })
    return id
  }

  /** Adds tasks made elsewhere. */
  take(tasks: readonly Task[], kind: StepKind, site: Site, fibersOf: (id: string) => readonly number[]): void {
    for (const task of tasks)
      this.steps.push({
        ...task,
        needs: task.needs.map((need) => atCrew(need, site.crew)),
        kind,
        site: site.name,
        fibers: fibersOf(task.id),
      })
  }
}

/** A need that one crew has to fill. */
export function atCrew(need: string, crew: Site['crew']): string {
  return crew === null ? need : `${crew}:${need}`
}

/** What stands between a crew and the cable at a place. */
export type Ground = 'indoor' | 'dig' | 'aerial' | 'structure' | 'chamber'

/** From the words of the cable's record; a buried or ducted run where it says nothing, the costlier case. */
export function groundAt(cable: Cable, chainage: number): Ground {
  const span = cable.spans?.find(({ from, to }) => chainage >= from && chainage <= to)
  const words = span?.environment.toLowerCase() ?? ''
  if (/aerial|pole|messenger/.test(words)) return 'aerial'
  if (/building|indoor|room/.test(words)) return 'indoor'
  if (/bridge|aqueduct|trough|gallery|crossing/.test(words)) return 'structure'
  return 'dig'
}

/** Ground at a node: its own chamber, panel or pole. */
export function groundAtNode(plant: PlantBundle, node: string, site: SiteFacts): Ground {
  const kind = plant.nodes.find(({ id }) => id === node)?.kind
  if (kind === 'panel') return 'indoor'
  if (kind === 'pole') return 'aerial'
  return site.belowGround ? 'chamber' : 'structure'
}

/**
 * Travel, signs and permit, and all that is done before a cable or closure can be touched.
 * @param after what must be done before the crew leaves for the place
 * @returns ids after which the work itself may begin
 */
export function arrive(
  list: StepList,
  site: Site,
  ground: Ground,
  facts: SiteFacts,
  after: readonly string[] = [],
  travel: StepDetails = {},
): string[] {
  const there = list.add('travel', site, after, { name: `travel to ${site.name}`, ...travel })
  if (ground === 'indoor') return [there]
  const permit = facts.traffic ? [list.add('permit', site, [])] : []
  const setUp = list.add('set-up', site, [there, ...permit], {
    ...(facts.traffic ? { needs: ['traffic control', 'cabling', 'traffic signs'] } : {}),
  })
  switch (ground) {
    case 'dig': {
      const located = list.add('locate-services', site, [setUp])
      return [list.add('dig', site, [located])]
    }
    case 'chamber':
      return [list.add('gas-test', site, [setUp])]
    case 'aerial':
    case 'structure':
      return [list.add('access', site, [setUp])]
  }
}

/** Closing up after the work at a place. @returns ids after which the crew may leave */
export function leave(
  list: StepList,
  site: Site,
  ground: Ground,
  after: readonly string[],
  hasClosure: boolean,
): string[] {
  if (ground === 'indoor') return [...after]
  let last = [...after]
  if (hasClosure) last = [list.add('pressure-test', site, [list.add('close', site, last)])]
  if (ground === 'dig') last = [list.add('reinstate', site, last)]
  return [list.add('clear-up', site, last)]
}

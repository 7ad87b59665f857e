import type { Kit } from '../../kit/kit.ts'
import type { Cable, PlantBundle } from '../../plant/types.ts'
import type { HitFiber } from './hit.ts'
import type { DraftOption, Part } from './option.ts'
import type { PlaceChance, PlacedFault } from './placed.ts'
import type { PlaceClass } from '../../locate/posterior/suspicionRules.ts'
import { projectLoss, type LossChange, type MeasuredLosses } from './projectLoss.ts'
import type { PlanRules, SiteFacts } from '../planRules.ts'
import type { Scenario } from '../logistics/crews.ts'
import { arrive, type Site, type StepList } from '../schedule/steps.ts'

/** All that a repair is drawn up from. */
export interface RepairCase {
  plant: PlantBundle
  linkId: string
  fault: PlacedFault
  cable: Cable
  hit: HitFiber[]
  places: Record<PlaceClass, PlaceChance>
  kit: Kit
  site: SiteFacts
  scenario: Scenario
  rules: PlanRules
  measured: MeasuredLosses
}

export const part = (
  kind: string,
  count: number,
  use: string,
  fit: string | null = null,
  fibers: number | null = null,
): Part => ({
  kind,
  fit,
  fibers,
  count,
  unit: kind === 'cable' || kind === 'surface cable' ? 'm' : 'piece',
  use,
})

/** Lost and gained joints of a repair, in every link that it brings back. */
export function project(repair: RepairCase, brought: readonly HitFiber[], change: LossChange) {
  const links = [...new Map(brought.flatMap(({ link }) => (link ? [[link.id, link] as const] : []))).values()]
  return links.flatMap((link) => projectLoss(repair.plant, link, repair.fault, change, repair.measured, repair.linkId))
}

/** Splices that a repair adds to each link. */
export function addedSplices(count: number, { adds }: PlanRules, mechanical = false): LossChange {
  const one = mechanical ? adds.mechanicalSplice : adds.splice
  return { splices: count, added: { loss: count * one.expected, sigma: Math.sqrt(count) * one.sigma } }
}

export const NO_CHANGE: LossChange = { splices: 0, added: { loss: 0, sigma: 0 } }

/** Links on fibers, most important first, each once. */
export function linksOf(fibers: readonly HitFiber[]): { id: string; name: string; fibers: number[] }[] {
  const byId = new Map<string, { id: string; name: string; fibers: number[]; priority: number }>()
  for (const { fiber, link, priority } of fibers) {
    if (!link) continue
    const known = byId.get(link.id)
    if (known) known.fibers.push(fiber)
    else byId.set(link.id, { id: link.id, name: link.name, fibers: [fiber], priority })
  }
  return [...byId.values()].sort((a, b) => a.priority - b.priority)
}

/** The desk's word for each link that is back. @returns ids of the confirmations */
export function confirmEach(
  list: StepList,
  site: Site,
  links: readonly { id: string; name: string; fibers: number[] }[],
  afterOf: (fibers: readonly number[]) => readonly string[],
): string[] {
  return links.map(({ id, name, fibers }) =>
    list.add('confirm', site, afterOf(fibers), {
      name: `desk confirms light: ${name}`,
      mark: id,
      restores: [id],
      fibers,
    }),
  )
}

/** Loss and reflectance from both ends of the link, for the proof. */
export function proveFromBothEnds(list: StepList, repair: RepairCase, after: readonly string[]): void {
  const link = repair.plant.links.find(({ id }) => id === repair.linkId)!
  let before = after
  for (const end of [link.from, link.to]) {
    const node = repair.plant.nodes.find(({ id }) => id === end)!
    const site: Site = { id: `end-${end}`, name: node.name, crew: null }
    const there = arrive(list, site, 'indoor', repair.site, before)
    before = [list.add('final-test', site, there, { name: `loss and reflectance from ${node.name}` })]
  }
}

/** Consumables of so many splices. */
export function spliceParts(splices: number, ribbon: boolean): Part[] {
  return [
    part(ribbon ? 'ribbon sleeve' : 'splice sleeve', splices, 'one a splice'),
    part('wipe', 2 * splices, 'two a splice'),
  ]
}

export type Draft = Omit<DraftOption, 'way' | 'slack' | 'leavesOut' | 'reflectanceRisk'> & Partial<DraftOption>

/** A draft with what it leaves open as nothing. */
export function draft(option: Draft): DraftOption {
  return { way: null, slack: null, leavesOut: [], reflectanceRisk: null, ...option }
}

import { coreOf, type FiberCore } from '@cold-thread/core/fiber'
import { isCableStep, type Cable, type Link, type PlantBundle } from '@cold-thread/core/plant'
import { useKitQuery } from '../../../api/api.ts'

/** Wavelengths that installed links are tested at, nm: both are checked each day; longer ones where they are used. */
export const CHECKED_WAVELENGTHS = { 'single-mode': [1310, 1550], multimode: [850, 1300] } as const

/** Wavelengths that links of a kind are tested at, nm. */
export const TEST_WAVELENGTHS = { 'single-mode': [1310, 1550, 1625], multimode: [850, 1300] } as const

export const NOT_SAID = 'not said'

/** What was chosen, as it is logged. */
export const said = (id: string): string | null => (id === NOT_SAID ? null : id)

/** Things of a kind in the kit, to choose from. */
export function useInstruments(kind: 'light source' | 'power meter'): (readonly [string, string])[] {
  const { data: kit } = useKitQuery()
  const items = (kit?.kit.items ?? []).filter((item) => item.kind === kind)
  return [[NOT_SAID, NOT_SAID], ...items.map((item) => [item.id, item.name] as const)]
}

/** The link's first cable; null where the record has none. */
export function firstCable(plant: PlantBundle, link: Link): Cable | null {
  const first = link.path.find(isCableStep)?.cable
  return plant.cables.find(({ id }) => id === first) ?? null
}

/** Kind and core of a link's fiber, by its first cable. */
export function coreOfLink(plant: PlantBundle, link: Link): FiberCore {
  return coreOf(firstCable(plant, link) ?? { fiberType: '' })
}

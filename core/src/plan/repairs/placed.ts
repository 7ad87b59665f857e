import { buildThread, type ThreadNode } from '../../plant/thread.ts'
import type { PlantBundle } from '../../plant/types.ts'
import type { Fault } from '../../locate/locate.ts'
import type { Cause, PlaceClass } from '../../locate/posterior/suspicionRules.ts'

/** What a plan needs to know of a fault that Locate has placed. */
export type PlacedFault = Pick<
  Fault,
  'chainage' | 'interval95' | 'cable' | 'betweenNodes' | 'places' | 'goodEnoughToDig' | 'breaks' | 'reflects'
> & {
  causes: readonly { cause: Cause; name: string; probability: number }[]
  loss: Record<string, number | null>
}

/** How likely the fault lies at each kind of place, and at which node of that kind most of all. */
export interface PlaceChance {
  probability: number
  node: ThreadNode | null
}

/** Probabilities by kind of place; a node is a connector or splice of the link, or passed uncut (a coil). */
export function chanceByPlace(plant: PlantBundle, linkId: string, fault: PlacedFault): Record<PlaceClass, PlaceChance> {
  const nodes = new Map(buildThread(plant, linkId).nodes.map((node) => [node.id, node]))
  const out: Record<PlaceClass, PlaceChance> = {
    splice: { probability: 0, node: null },
    connector: { probability: 0, node: null },
    coil: { probability: 0, node: null },
    run: { probability: 0, node: null },
  }
  const largest = { splice: 0, connector: 0, coil: 0, run: 0 }
  for (const place of fault.places) {
    const node = place.node === undefined ? null : (nodes.get(place.node) ?? null)
    const kind = node === null ? 'run' : placeClassOf(node)
    out[kind].probability += place.probability
    if (place.probability > largest[kind]) {
      largest[kind] = place.probability
      out[kind].node = node
    }
  }
  return out
}

function placeClassOf({ joint }: ThreadNode): PlaceClass {
  return joint === 'connector' ? 'connector' : joint === 'through' ? 'coil' : 'splice'
}

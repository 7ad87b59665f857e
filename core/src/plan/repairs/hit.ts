import { isCableStep, nodeAfter, nodeBefore } from '../../plant/check.ts'
import type { Cable, Circuit, Link, PlantBundle } from '../../plant/types.ts'
import type { PlacedFault } from './placed.ts'

/** A fiber of the hurt cable with the link that rides it. */
export interface HitFiber {
  fiber: number
  link: Link | null
  circuits: readonly Circuit[]
  /** The most important circuit's priority; Infinity on a fiber that carries none. */
  priority: number
}

/** The links that ride a cable across a chainage, by fiber; those at a node's joint too. */
export function linksAcross(plant: PlantBundle, cable: string, chainage: number): Map<number, Link> {
  const byFiber = new Map<number, Link>()
  const at = new Map(plant.nodes.map((node) => [node.id, node.chainage]))
  for (const link of plant.links)
    link.path.forEach((step, j) => {
      if (!isCableStep(step) || step.cable !== cable) return
      const [a, b] = [at.get(nodeBefore(link, j))!, at.get(nodeAfter(link, j))!]
      if (chainage >= Math.min(a, b) && chainage <= Math.max(a, b)) byFiber.set(step.fiber, link)
    })
  return byFiber
}

/**
 * The fibers of the cable that are hit: those given, or as the kind of fault has it: a break or crush in the run takes
 * the whole cable until a survey says otherwise; at a joint or in a coil, the link's own fiber.
 */
export function hitFibers(
  plant: PlantBundle,
  cable: Cable,
  linkId: string,
  fault: PlacedFault,
  given: readonly number[] | null,
): HitFiber[] {
  const links = linksAcross(plant, cable.id, fault.chainage)
  const own = [...links].filter(([, link]) => link.id === linkId).map(([fiber]) => fiber)
  const inRun = fault.places.reduce((sum, place) => sum + (place.node === undefined ? place.probability : 0), 0) > 0.5
  const all = Array.from({ length: cable.fiberCount }, (_, k) => k + 1)
  const fibers = given ?? (fault.breaks && inRun ? all : own)
  return fibers.map((fiber) => {
    const link = links.get(fiber) ?? null
    const circuits = link?.circuits ?? []
    return { fiber, link, circuits, priority: Math.min(Infinity, ...circuits.map(({ priority }) => priority)) }
  })
}

/** Fibers that are spliced together: one by one within their tube, or as a ribbon at once. */
export interface FiberGroup {
  tube: number
  fibers: HitFiber[]
}

/**
 * Fibers in the order in which the circuits need them: the tube with the most important circuit first, in it the fibers
 * by priority. Tubes without circuits, then dark fibers of the tubes that were begun, come last.
 */
export function inCircuitOrder(hit: readonly HitFiber[], tubeSize: number): FiberGroup[] {
  const tubes = new Map<number, HitFiber[]>()
  for (const fiber of hit) {
    const tube = Math.ceil(fiber.fiber / tubeSize)
    tubes.set(tube, [...(tubes.get(tube) ?? []), fiber])
  }
  const most = (fibers: readonly HitFiber[]) => Math.min(...fibers.map(({ priority }) => priority))
  return [...tubes]
    .map(([tube, fibers]) => ({
      tube,
      fibers: fibers.toSorted((a, b) => compare(a.priority, b.priority) || a.fiber - b.fiber),
    }))
    .sort((a, b) => compare(most(a.fibers), most(b.fibers)) || a.tube - b.tube)
}

/** Infinity − Infinity is no number. */
function compare(a: number, b: number): number {
  return a === b ? 0 : a - b
}

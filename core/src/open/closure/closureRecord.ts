import type { Cable, PlantBundle, PlantNode } from '../../plant/types.ts'
import { groupWord } from '../../fiber/finder.ts'

/** One splice of a closure by the record: which fibers meet, and for which link. */
export interface RecordedSplice {
  a: { cable: string; fiber: number }
  b: { cable: string; fiber: number }
  link: string
}

/** A cable at a closure, by the record. */
export interface CableAt {
  cable: Cable
  /** Uncut: it passes; cut: it ends here. */
  passes: boolean
  /** Fibers with a splice here; the others of a cut cable end here unused, those of an uncut one pass. */
  spliced: number[]
}

/** Splices at a node, from the paths of the links. */
export function splicesAt(plant: PlantBundle, node: string): RecordedSplice[] {
  return plant.links.flatMap((link) =>
    link.path.flatMap((step, i): RecordedSplice[] => {
      if (!('node' in step) || step.node !== node || step.joint === 'connector') return []
      const [a, b] = [link.path[i - 1], link.path[i + 1]]
      return a && b && 'cable' in a && 'cable' in b ? [{ a, b, link: link.id }] : []
    }),
  )
}

/** Cables that pass or end at a node. */
export function cablesAt(plant: PlantBundle, node: PlantNode): CableAt[] {
  const splices = splicesAt(plant, node.id)
  return plant.cables
    .filter(({ routeId, from, to }) => routeId === node.routeId && node.chainage >= from && node.chainage <= to)
    .map((cable) => ({
      cable,
      passes: node.chainage > cable.from && node.chainage < cable.to,
      spliced: [
        ...new Set(splices.flatMap(({ a, b }) => [a, b].flatMap((end) => (end.cable === cable.id ? [end.fiber] : [])))),
      ].sort((a, b) => a - b),
    }))
}

/** Cables that go into a closure by the record: cut there, spliced there, or with a coil of their own at it. */
export function cablesIn(plant: PlantBundle, node: PlantNode): CableAt[] {
  const coiled = new Set(node.slack.map(({ cable }) => cable))
  return cablesAt(plant, node).filter(
    ({ cable, passes, spliced }) => !passes || spliced.length > 0 || coiled.has(cable.id),
  )
}

/** Tubes, modules or bundles of a cable. */
export function groupsOf(cable: Pick<Cable, 'fiberCount' | 'tubeSize' | 'construction'>): {
  count: number
  word: string
} {
  return { count: Math.ceil(cable.fiberCount / cable.tubeSize), word: groupWord(cable.construction) }
}

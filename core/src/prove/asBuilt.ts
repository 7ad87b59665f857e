import { checkPlant, isCableStep, nodeAfter, nodeBefore } from '../plant/check.ts'
import type { Cable, Link, PathStep, PlantBundle, PlantNode } from '../plant/types.ts'
import { acceptedJoints, type LoggedJoint } from './work.ts'
import type { LoggedEntry } from '../log/standing.ts'

/** The plant as it is after a repair, and in words what differs from the record before it. */
export interface AsBuilt {
  plant: PlantBundle
  /** By cable; empty where nothing changed. */
  changes: { cable: string; words: string[] }[]
}

/** Joints of one place are within so much of each other, m: people write down the same closure differently. */
const SAME_CLOSURE = 3
/** Less fiber than this is within what two surveys differ by, m (judgement). */
const LEAST_ADDED = 3

/**
 * Puts the closures that a repair made into the record: where they are, which links are joined there, and the cable that was
 * spliced in.
 * @param id of the callout: nodes are named after it
 * @param added fiber that the repair added, m; null where it is not known
 * @throws PlantError where the log contradicts the record
 */
export function asBuilt(
  plant: PlantBundle,
  linkId: string,
  id: string,
  log: readonly LoggedEntry[],
  added: number | null,
): AsBuilt {
  const closures = closuresOf(plant, acceptedJoints(log))
  if (closures.length === 0) return { plant, changes: [] }
  const made: PlantBundle = {
    ...plant,
    nodes: plant.nodes.map((node) => ({ ...node, slack: node.slack.map((slack) => ({ ...slack })) })),
    links: plant.links.map((link) => ({ ...link, path: [...link.path] })),
  }
  const changes = new Map<string, string[]>()
  const tell = (cable: string, words: string) => changes.set(cable, [...(changes.get(cable) ?? []), words])
  const ownCables = new Set(
    plant.links.find((link) => link.id === linkId)?.path.flatMap((step) => (isCableStep(step) ? [step.cable] : [])),
  )
  let left = added !== null && Math.abs(added) >= LEAST_ADDED ? added : 0
  for (const [i, { cable, chainage, joints }] of closures.entries()) {
    const node: PlantNode = {
      id: `repair-${id.slice(-8)}-${i + 1}`,
      name: `Repair closure at ${chainage.toFixed(0)} m`,
      kind: 'closure',
      routeId: cable.routeId,
      chainage,
      slack: [],
      trayFiber: [],
    }
    made.nodes.push(node)
    tell(cable.id, `new closure at ${chainage.toFixed(0)} m`)
    if (left !== 0 && ownCables.has(cable.id)) {
      tell(cable.id, lengthen(made, node, cable, left))
      left = 0
    }
    for (const link of made.links) {
      const at = stepThrough(made, link, cable, chainage)
      if (at < 0) continue
      const step = link.path[at] as { cable: string; fiber: number }
      const joint = joints.find((one) => step.fiber >= one.fiber && step.fiber < one.fiber + one.fibers)
      if (!joint) continue
      link.path.splice(at, 1, step, { node: node.id, joint: 'splice' } satisfies PathStep, { ...step })
      tell(cable.id, `fiber ${step.fiber}, ${link.name}: spliced at ${chainage.toFixed(0)} m`)
    }
  }
  checkPlant(made)
  return { plant: made, changes: [...changes].map(([cable, words]) => ({ cable, words })) }
}

/** Joints off the record by cable and place. */
function closuresOf(plant: PlantBundle, joints: readonly LoggedJoint[]) {
  const closures: { cable: Cable; chainage: number; joints: LoggedJoint[] }[] = []
  for (const joint of joints) {
    const cable = plant.cables.find(({ id }) => id === joint.cable)
    if (joint.node !== null || !cable || joint.chainage < cable.from || joint.chainage > cable.to) continue
    const home = closures.find(
      (one) => one.cable.id === cable.id && Math.abs(one.chainage - joint.chainage) <= SAME_CLOSURE,
    )
    if (home) home.joints.push(joint)
    else closures.push({ cable, chainage: joint.chainage, joints: [joint] })
  }
  return closures.sort((a, b) => a.chainage - b.chainage)
}

/** Which step of a link's path runs in a cable past a chainage; −1 where none does. */
function stepThrough(plant: PlantBundle, link: Link, cable: Cable, chainage: number): number {
  const chainageOf = (id: string) => plant.nodes.find((node) => node.id === id)!.chainage
  return link.path.findIndex((step, j) => {
    if (!isCableStep(step) || step.cable !== cable.id) return false
    const ends = [chainageOf(nodeBefore(link, j)), chainageOf(nodeAfter(link, j))]
    return chainage > Math.min(...ends) && chainage < Math.max(...ends)
  })
}

/** Cable spliced in lies coiled at the new closure; cable that was taken came out of the nearest coil. */
function lengthen(plant: PlantBundle, node: PlantNode, cable: Cable, added: number): string {
  const sheath = added / cable.helixFactor
  if (sheath > 0) {
    node.slack.push({ cable: cable.id, side: 'after', sheath })
    return `${sheath.toFixed(1)} m of cable more, coiled at the new closure`
  }
  const coils = plant.nodes
    .flatMap((other) => other.slack.map((slack) => ({ other, slack })))
    .filter(({ slack }) => slack.cable === cable.id && slack.sheath + sheath >= 0)
    .sort((a, b) => Math.abs(a.other.chainage - node.chainage) - Math.abs(b.other.chainage - node.chainage))
  const [nearest] = coils
  if (!nearest) return `${(-sheath).toFixed(1)} m of cable less: no coil of the record is so long, correct it by hand`
  nearest.slack.sheath += sheath
  return `${(-sheath).toFixed(1)} m of cable taken from the coil at ${nearest.other.name}`
}

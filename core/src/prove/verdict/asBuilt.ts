import { checkPlant, isCableStep, nodeAfter, nodeBefore } from '../../plant/check.ts'
import type { Cable, Link, PathStep, PlantBundle, PlantNode } from '../../plant/types.ts'
import { acceptedJoints, newClosures, type LoggedJoint } from './work.ts'
import type { LoggedEntry } from '../../log/standing.ts'

/** The plant as it is after a repair, and in words what differs from the record before it. */
export interface AsBuilt {
  plant: PlantBundle
  /** By cable; empty where nothing changed. */
  changes: { cable: string; words: string[] }[]
}

/** A section of new cable, as it was planned: in which cable, around which chainage. */
export interface PlannedSection {
  cable: string
  chainage: number
}

export interface RepairDone {
  linkId: string
  /** Nodes are named after it. */
  calloutId: string
  log: readonly LoggedEntry[]
  /** Fiber that the repair added, m; null where it is not known. */
  added: number | null
  /** Null where the plan has none, or there is no plan. */
  section: PlannedSection | null
}

/** Less fiber than this is within what two surveys differ by, m (judgement). */
const LEAST_ADDED = 3

/**
 * Puts the closures that a repair made into the record: where they are, which links are joined there, and the cable that was
 * spliced in. A planned section gets a cable record of its own, of the old cable's kind, and what it added lies half at each
 * of its closures; without one, added cable lies at the first closure.
 * @throws PlantError where the log contradicts the record
 */
export function asBuilt(plant: PlantBundle, { linkId, calloutId, log, added, section }: RepairDone): AsBuilt {
  const closures = closuresOf(plant, acceptedJoints(log))
  if (closures.length === 0) return { plant, changes: [] }
  const made: PlantBundle = {
    ...plant,
    cables: [...plant.cables],
    nodes: plant.nodes.map((node) => ({ ...node, slack: node.slack.map((slack) => ({ ...slack })) })),
    links: plant.links.map((link) => ({ ...link, path: [...link.path] })),
  }
  const changes = new Map<string, string[]>()
  const tell = (cable: string, words: string) => changes.set(cable, [...(changes.get(cable) ?? []), words])
  const ownCables = new Set(
    plant.links.find((link) => link.id === linkId)?.path.flatMap((step) => (isCableStep(step) ? [step.cable] : [])),
  )
  let left = added !== null && Math.abs(added) >= LEAST_ADDED ? added : 0
  const ends = section && sectionEnds(closures, section)
  const nodes = new Map<Closure, PlantNode>()
  for (const [i, closure] of closures.entries()) {
    const { cable, chainage, joints } = closure
    const node: PlantNode = {
      id: `repair-${calloutId.slice(-8)}-${i + 1}`,
      name: `Repair closure at ${chainage.toFixed(0)} m`,
      kind: 'closure',
      routeId: cable.routeId,
      chainage,
      slack: [],
      trayFiber: [],
    }
    made.nodes.push(node)
    nodes.set(closure, node)
    tell(cable.id, `new closure at ${chainage.toFixed(0)} m`)
    if (left !== 0 && ownCables.has(cable.id) && !ends) {
      tell(cable.id, lengthen(made.nodes, node, cable, left))
      left = 0
    }
    for (const link of made.links) {
      const at = stepThrough(made, link, cable, chainage)
      if (at < 0) continue
      const step = link.path[at] as { cable: string; fiber: number }
      if (!joints.some((one) => step.fiber >= one.fiber && step.fiber < one.fiber + one.fibers)) continue
      link.path.splice(at, 1, step, { node: node.id, joint: 'splice' } satisfies PathStep, { ...step })
      tell(cable.id, `fiber ${step.fiber}, ${link.name}: spliced at ${chainage.toFixed(0)} m`)
    }
  }
  if (ends) {
    const [begin, end] = [nodes.get(ends[0])!, nodes.get(ends[1])!]
    for (const words of laySection(made, ends[0].cable, begin, end, added === null ? null : left))
      tell(ends[0].cable.id, words)
  }
  checkPlant(made)
  return { plant: made, changes: [...changes].map(([cable, words]) => ({ cable, words })) }
}

interface Closure {
  cable: Cable
  chainage: number
  joints: LoggedJoint[]
}

/** New closures in cables that the record has, where the cable lies. */
function closuresOf(plant: PlantBundle, joints: readonly LoggedJoint[]): Closure[] {
  return newClosures(joints).flatMap(({ cable: id, chainage, joints: own }) => {
    const cable = plant.cables.find((one) => one.id === id)
    return cable && chainage >= cable.from && chainage <= cable.to ? [{ cable, chainage, joints: own }] : []
  })
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

/** The two neighbouring closures of the planned cable whose middle is nearest to the planned place; null with less than two. */
function sectionEnds(closures: readonly Closure[], { cable, chainage }: PlannedSection): [Closure, Closure] | null {
  const own = closures.filter((closure) => closure.cable.id === cable)
  const middleOff = ([a, b]: [Closure, Closure]) => Math.abs((a.chainage + b.chainage) / 2 - chainage)
  const pairs = own.slice(1).map((closure, i): [Closure, Closure] => [own[i]!, closure])
  return pairs.sort((a, b) => middleOff(a) - middleOff(b))[0] ?? null
}

/**
 * Puts a section of new cable between two closures and leads the links through it that were joined at both. Coils of the old
 * cable in between are in their way no more.
 * @param added m of fiber by which their way is longer; null where it is not known
 */
function laySection(plant: PlantBundle, old: Cable, begin: PlantNode, end: PlantNode, added: number | null): string[] {
  const name = `${old.id}-section-${begin.chainage.toFixed(0)}`
  const taken = plant.cables.filter(({ id }) => id === name || id.startsWith(`${name}-`)).length
  const laid: Cable = {
    ...old,
    id: taken === 0 ? name : `${name}-${taken + 1}`,
    from: begin.chainage,
    to: end.chainage,
    spans: old.spans
      ?.filter((span) => span.from < end.chainage && span.to > begin.chainage)
      .map((span) => ({
        ...span,
        from: Math.max(span.from, begin.chainage),
        to: Math.min(span.to, end.chainage),
      })),
  }
  const between = `between ${begin.chainage.toFixed(0)} m and ${end.chainage.toFixed(0)} m`
  const joinedAt = (link: Link, node: PlantNode) =>
    link.path.findIndex((step) => !isCableStep(step) && step.node === node.id)
  const words: string[] = []
  let through = 0
  for (const link of plant.links) {
    const [first, last] = [joinedAt(link, begin), joinedAt(link, end)].sort((a, b) => a - b) as [number, number]
    if (last < 0) continue
    if (first < 0) {
      words.push(`${link.name} was joined at one end of the new section only: it stays in ${old.id} on record`)
      continue
    }
    link.path[first + 1] = { ...(link.path[first + 1] as { fiber: number }), cable: laid.id }
    through++
  }
  if (through === 0) return added ? [...words, lengthen(plant.nodes, begin, old, added)] : words
  plant.cables.push(laid)
  const isBetween = ({ chainage }: PlantNode) => chainage > begin.chainage && chainage < end.chainage
  const passedBy = plant.nodes
    .filter(isBetween)
    .flatMap((node) => node.slack.flatMap(({ cable, sheath }) => (cable === old.id ? [{ node, sheath }] : [])))
  for (const { node, sheath } of passedBy)
    words.push(`the coil of ${sheath.toFixed(1)} m at ${node.name} is in the links’ way no more`)
  words.unshift(
    `new section ${laid.id} ${between}, on record as the same kind of cable: correct it where it is another`,
  )
  const more =
    (added ?? 0) + (added === null ? 0 : passedBy.reduce((sum, { sheath }) => sum + sheath, 0) * old.helixFactor)
  if (more === 0) return words
  const elsewhere = plant.nodes.filter((node) => !isBetween(node))
  if (more < 0) return [...words, lengthen(elsewhere, begin, old, more)]
  const coil = more / laid.helixFactor / 2
  begin.slack.push({ cable: laid.id, side: 'after', sheath: coil })
  end.slack.push({ cable: laid.id, side: 'before', sheath: coil })
  return [...words, `${(2 * coil).toFixed(1)} m of cable more, half of it coiled at each of its closures`]
}

/** Cable spliced in lies coiled at the new closure; cable that was taken came out of the nearest coil of these nodes. */
function lengthen(nodes: readonly PlantNode[], node: PlantNode, cable: Cable, added: number): string {
  const sheath = added / cable.helixFactor
  if (sheath > 0) {
    node.slack.push({ cable: cable.id, side: 'after', sheath })
    return `${sheath.toFixed(1)} m of cable more, coiled at the new closure`
  }
  const coils = nodes
    .flatMap((other) => other.slack.map((slack) => ({ other, slack })))
    .filter(({ slack }) => slack.cable === cable.id && slack.sheath + sheath >= 0)
    .sort((a, b) => Math.abs(a.other.chainage - node.chainage) - Math.abs(b.other.chainage - node.chainage))
  const [nearest] = coils
  if (!nearest) return `${(-sheath).toFixed(1)} m of cable less: no coil of the record is so long, correct it by hand`
  nearest.slack.sheath += sheath
  return `${(-sheath).toFixed(1)} m of cable taken from the coil at ${nearest.other.name}`
}

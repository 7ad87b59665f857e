import {
  buildThread,
  fiberAtChainage,
  placeAt,
  type PlantBundle,
  type PlantNode,
  type Cable,
  type Thread,
} from '../src/plant/index.ts'
import { seededRandom, seedFrom, type Random } from '../src/math/index.ts'
import { shootLink, type Damage, type LinkShot } from '../src/sim/index.ts'
import { analyzeTrace, decodeTrace } from '../src/trace/index.ts'
import type { Shot } from '../src/locate/index.ts'

/** A made-up link with a fault, as it is (truth) and as the records say. */
export interface FaultCase {
  seed: number
  kind: 'break' | 'bad-splice' | 'dirty-connector'
  truth: PlantBundle
  records: PlantBundle
  linkId: string
  damage: Damage
  /** Where it truly is on the ground, m. */
  chainage: number
  pulseWidth: number
  spacing: number
  averages: number
}

export const LINK = 'link'

export function pick<T>(random: Random, items: readonly T[]): T {
  return items[Math.floor(random.uniform() * items.length)]!
}

/** A plant of a few cables with closures, hand-holes and panels; every length is drawn at random. */
export function randomPlant(random: Random, lengthFactor = 1): PlantBundle {
  const cableCount = 2 + Math.floor(random.uniform() * 4)
  const cables: Cable[] = []
  const nodes: PlantNode[] = []
  let at = 0
  const node = (id: string, kind: PlantNode['kind'], chainage: number): PlantNode => {
    const made: PlantNode = { id, name: id, kind, routeId: 'route', chainage, slack: [], trayFiber: [] }
    nodes.push(made)
    return made
  }
  let previous = node('n0', 'panel', 0)
  for (let i = 0; i < cableCount; i++) {
    const to = at + (800 + 4200 * random.uniform()) * lengthFactor
    const cable: Cable = {
      id: `c${i}`,
      routeId: 'route',
      from: at,
      to,
      sheathFactor: 1 + 0.02 * random.uniform(),
      helixFactor: 1.002 + 0.01 * random.uniform(),
      construction: 'loose-tube',
      fiberCount: 48,
      tubeSize: 12,
      colorOrder: 'TIA-598',
      fiberType: 'G.652.D',
      groupIndex: { '1310': 1.4676, '1550': 1.4682 },
    }
    cables.push(cable)
    previous.slack.push({ cable: cable.id, side: 'after', sheath: 8 + 15 * random.uniform() })
    previous.trayFiber!.push({ cable: cable.id, fiber: 1.5 })
    if (random.uniform() < 0.5)
      node(`h${i}`, 'handhole', at + (to - at) * (0.3 + 0.4 * random.uniform())).slack.push({
        cable: cable.id,
        side: 'through',
        sheath: 10 + 20 * random.uniform(),
      })
    const next = node(`n${i + 1}`, i === cableCount - 1 ? 'panel' : 'closure', to)
    next.slack.push({ cable: cable.id, side: 'before', sheath: 8 + 15 * random.uniform() })
    next.trayFiber!.push({ cable: cable.id, fiber: 1.5 })
    previous = next
    at = to
  }
  const path: PlantBundle['links'][number]['path'] = []
  cables.forEach((cable, i) => {
    if (i > 0) path.push({ node: `n${i}`, joint: random.uniform() < 0.15 ? 'connector' : 'splice' })
    path.push({ cable: cable.id, fiber: 5 })
  })
  return {
    format: 'cold-thread/plant',
    version: 1,
    name: 'made up',
    routes: [{ id: 'route', name: 'route', length: at, landmarks: [] }],
    cables,
    nodes,
    links: [{ id: LINK, name: 'link', from: 'n0', to: `n${cableCount}`, state: 'dark', path, circuits: [] }],
  }
}

/** Records as they are kept: 3 m off in coils, 0.3 % in factors, 1.5 m in chainages, one standard deviation each. */
export function recordsOf(truth: PlantBundle, random: Random): PlantBundle {
  const records = structuredClone(truth)
  for (const cable of records.cables) cable.sheathFactor *= 1 + 0.003 * random.normal()
  for (const node of records.nodes)
    for (const slack of node.slack) slack.sheath = Math.max(0, slack.sheath + 3 * random.normal())
  const ground = seededRandom(seedFrom(...truth.cables.map(({ to }) => to)))
  for (const node of records.nodes.slice(1)) moveNode(records, node, 1.5 * ground.normal())
  return records
}

/** A node's chainage, and of the cables that end there, as somebody wrote it down. */
function moveNode(records: PlantBundle, node: PlantNode, by: number): void {
  for (const cable of records.cables) {
    if (cable.from === node.chainage) cable.from += by
    if (cable.to === node.chainage) cable.to += by
  }
  records.routes[0]!.length = Math.max(records.routes[0]!.length, node.chainage + by)
  node.chainage += by
}

/** A fault of one of three kinds at a random place, with random instrument settings. */
export function randomFaultCase(seed: number): FaultCase {
  const random = seededRandom(seed * 7919 + 13)
  const truth = randomPlant(random)
  const records = recordsOf(truth, random)
  const thread = buildThread(truth, LINK)
  const kind = pick(random, ['break', 'break', 'bad-splice', 'dirty-connector'] as const)
  const pulseWidth = 10 ** (1 + 1.477 * random.uniform()) * 1e-9
  const rounded = Math.round(pulseWidth * 1e9) * 1e-9
  const spacing = Math.max(0.05, (rounded * 299_792_458) / (2 * 1.468) / (2 + 6 * random.uniform()))
  const damage = randomDamage(random, kind, truth, thread)
  const chainage = chainageOf(truth, thread, damage)
  return {
    seed,
    kind,
    truth,
    records,
    linkId: LINK,
    damage,
    chainage,
    pulseWidth: rounded,
    spacing,
    averages: 2 ** (12 + Math.floor(5 * random.uniform())),
  }
}

function randomDamage(random: Random, kind: FaultCase['kind'], truth: PlantBundle, thread: Thread): Damage {
  const path = truth.links[0]!.path
  if (kind === 'break') {
    const fiber = (0.03 + 0.94 * random.uniform()) * thread.fiberLength
    return { at: { fiber }, breaks: true, reflectance: random.uniform() < 0.5 ? -15 - 30 * random.uniform() : null }
  }
  const joints = path.flatMap((step) => ('node' in step ? [step] : []))
  const wanted = joints.filter((step) => (step.joint === 'connector') === (kind === 'dirty-connector'))
  if (wanted.length === 0) {
    // No such joint on this link: the added loss of a damaged fiber somewhere along it.
    const fiber = (0.05 + 0.9 * random.uniform()) * thread.fiberLength
    return { at: { fiber }, breaks: false, loss: 0.2 + 2 * random.uniform() }
  }
  const loss = 0.1 * 10 ** (1.2 * random.uniform())
  const reflectance = kind === 'dirty-connector' ? -35 + 5 * random.normal() : null
  return { at: { node: pick(random, wanted).node }, breaks: false, loss, reflectance }
}

export function chainageOf(truth: PlantBundle, thread: Thread, damage: Damage): number {
  if ('node' in damage.at) {
    const { node } = damage.at
    return truth.nodes.find((candidate) => candidate.id === node)!.chainage
  }
  const fiber = 'fiber' in damage.at ? damage.at.fiber : fiberAtChainage(thread, damage.at.chainage)
  return placeAt(thread, 'fiber', fiber).chainage
}

/** Shoots baseline and present, both ways. */
export function shootCase(fault: FaultCase, wavelength = 1550): { baseline: Shot[]; present: Shot[] } {
  const cords = { launch: 500, receive: 500 }
  const take = (direction: 'ab' | 'ba', damages: Damage[], seed: number): Shot => {
    const shot: LinkShot = {
      direction,
      wavelength,
      cords,
      damages,
      seed,
      takenAt: '2026-03-01T00:00:00Z',
      condition: 'BC',
      settings: { pulseWidth: fault.pulseWidth, spacing: fault.spacing, averages: fault.averages },
    }
    const bytes = shootLink(fault.truth, fault.linkId, { seed: fault.seed }, shot)
    return {
      name: `${direction} ${wavelength}`,
      direction,
      analysis: analyzeTrace(decodeTrace(bytes)),
      launch: cords.launch,
      receive: cords.receive,
    }
  }
  const both = (damages: Damage[], base: number) =>
    (['ab', 'ba'] as const).map((direction, i) => take(direction, damages, fault.seed * 100 + base + i))
  return { baseline: both([], 1), present: both([fault.damage], 11) }
}

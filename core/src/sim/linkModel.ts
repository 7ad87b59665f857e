import { CodedError } from '../errors/index.ts'
import { typicalFiber } from '../fiber/backscatter.ts'
import { fiberAtChainage, groupIndexOf, placeAt, type Thread, type ThreadNode } from '../plant/thread.ts'
import type { Cable } from '../plant/types.ts'
import { damageLoss, type Damage } from './damage.ts'
import type { FiberModel, FiberSpan, Joint } from './fiberModel.ts'
import { seededRandom, seedFrom } from '../math/random.ts'

/** Optical properties that a link's records do not hold, drawn once per cable and joint from a seed. */
export interface LinkOptics {
  seed: number
  /** Standard deviation of splice losses around their median, as a factor's logarithm. */
  spliceSpread?: number
}

export interface Cords {
  /** m of fiber between the instrument and the link's near connection. */
  launch: number
  /** m of fiber beyond the far connection. */
  receive: number
  /** How much more than typical fiber each of them scatters, dB. */
  backscatter?: { launch: number; receive: number }
  /** What the survey's own matings lose more than the connections on average, dB, seen from the instrument. */
  matings?: { near: number; far: number }
}

const MEDIAN_SPLICE_LOSS_DB = 0.05
const CONNECTOR_LOSS_DB = 0.3
const CORD_BACKSCATTER_OFFSET_DB = 0.1
const EXTENT_PARTS = 60
/** Reflectance of a polished end in air (Fresnel, n 1.468). */
const OPEN_END_DB = -14.7

/**
 * The optical model of a link as seen from one end through its cords.
 * @param thread laid out from the end that is shot from (`buildThread(…, 'ba')` for the far end): the true lengths
 * @param damages faults put in; places in metres of fiber count from the link's `from` in both directions
 */
export function modelOfLink(
  thread: Thread,
  optics: LinkOptics,
  wavelength: number,
  cords: Cords,
  damages: readonly Damage[] = [],
): FiberModel {
  const marks = [
    ...thread.nodes
      .filter((node) => node.joint !== 'through')
      .map((node) => ({ fiber: node.fiber, joint: jointAt(node, optics, wavelength), breaks: false, node: node.id })),
    ...damages.flatMap((damage) => damageMarks(thread, damage, wavelength)),
  ].sort((a, b) => a.fiber - b.fiber)
  mergeAtNodes(marks)
  const first = cableAt(thread, 0)
  const last = cableAt(thread, thread.fiberLength)
  const elements: FiberModel['elements'] = [{ kind: 'joint', loss: 0, reflectance: -48 }]
  if (cords.launch > 0)
    elements.push(cordSpan(cords.launch, thread.cables.get(first)!, wavelength, cords.backscatter?.launch))
  if (cords.matings) {
    marks[0]!.joint.loss += cords.matings.near
    marks.at(-1)!.joint.loss += cords.matings.far
  }
  let at = 0
  for (const mark of marks) {
    elements.push(...spansBetween(thread, optics, wavelength, at, mark.fiber))
    at = mark.fiber
    if (mark.breaks) return { elements, endReflectance: mark.joint.reflectance }
    elements.push(mark.joint)
  }
  if (cords.receive <= 0) {
    // Without a receive cord the last connector is open: glass against air.
    const open = elements.pop() as Joint
    return { elements, endReflectance: open.reflectance === null ? null : OPEN_END_DB }
  }
  elements.push(cordSpan(cords.receive, thread.cables.get(last)!, wavelength, cords.backscatter?.receive))
  return { elements, endReflectance: OPEN_END_DB }
}

interface Mark {
  fiber: number
  joint: Joint
  breaks: boolean
  node: string | null
}

function damageMarks(thread: Thread, damage: Damage, wavelength: number): Mark[] {
  const { at } = damage
  const joint: Joint = { kind: 'joint', loss: damageLoss(damage, wavelength), reflectance: damage.reflectance ?? null }
  if ('node' in at) {
    const node = thread.nodes.find((candidate) => candidate.id === at.node)
    if (!node) throw new CodedError('not-found', `the link does not pass node "${at.node}"`)
    return [{ fiber: node.fiber, joint, breaks: damage.breaks, node: node.id }]
  }
  const fiber =
    'fiber' in at
      ? thread.direction === 'ab'
        ? at.fiber
        : thread.fiberLength - at.fiber
      : fiberAtChainage(thread, at.chainage)
  if (fiber < 0 || fiber > thread.fiberLength) throw new CodedError('out-of-range', 'the damage lies beyond the link')
  if (!damage.extent) return [{ fiber, joint, breaks: damage.breaks, node: null }]
  // Loss along a stretch, as many small losses closer together than a pulse is long.
  const toward = thread.direction === 'ab' ? damage.extent : -damage.extent
  return Array.from({ length: EXTENT_PARTS }, (_, k) => ({
    fiber: Math.min(thread.fiberLength, Math.max(0, fiber + (toward * k) / EXTENT_PARTS)),
    joint: { ...joint, loss: joint.loss / EXTENT_PARTS },
    breaks: false,
    node: null,
  }))
}

/** A damage at a joint's own place worsens that joint instead of standing beside it. */
function mergeAtNodes(marks: Mark[]): void {
  for (let i = marks.length - 1; i > 0; i--) {
    const [a, b] = [marks[i - 1]!, marks[i]!]
    if (a.node === null || a.node !== b.node) continue
    a.joint = {
      kind: 'joint',
      loss: a.joint.loss + b.joint.loss,
      reflectance: stronger(a.joint.reflectance, b.joint.reflectance),
    }
    a.breaks ||= b.breaks
    marks.splice(i, 1)
  }
}

function stronger(a: number | null, b: number | null): number | null {
  return a === null ? b : b === null ? a : Math.max(a, b)
}

function jointAt(node: ThreadNode, optics: LinkOptics, wavelength: number): Joint {
  const random = seededRandom(seedFrom(optics.seed, 'joint', node.id))
  const spread = Math.exp((optics.spliceSpread ?? 0.6) * random.normal())
  const atWavelength = wavelength > 1450 ? 0.95 : 1
  if (node.joint === 'connector')
    return {
      kind: 'joint',
      loss: CONNECTOR_LOSS_DB * Math.min(spread, 1.8) * atWavelength,
      reflectance: -52 + 3 * random.normal(),
    }
  if (node.joint === 'mechanical') return { kind: 'joint', loss: 0.15 * spread, reflectance: -45 + 3 * random.normal() }
  return { kind: 'joint', loss: Math.min(0.25, MEDIAN_SPLICE_LOSS_DB * spread) * atWavelength, reflectance: null }
}

function cableAt(thread: Thread, fiber: number): string {
  return placeAt(thread, 'fiber', fiber).piece.cable
}

function spansBetween(thread: Thread, optics: LinkOptics, wavelength: number, from: number, to: number): FiberSpan[] {
  const spans: FiberSpan[] = []
  for (const piece of thread.pieces) {
    const length = Math.min(to, piece.fiberTo) - Math.max(from, piece.fiberFrom)
    if (length <= 0) continue
    const glass = glassOf(thread, optics, piece.cable, wavelength)
    const previous = spans.at(-1)
    if (previous && previous.attenuation === glass.attenuation && previous.backscatter === glass.backscatter)
      previous.length += length
    else spans.push({ kind: 'span', length, ...glass })
  }
  return spans
}

/** Each cable's glass differs a little from the typical: attenuation by a few per cent, backscatter by tenths of a dB. */
function glassOf(
  thread: Thread,
  optics: LinkOptics,
  cableId: string,
  wavelength: number,
): Omit<FiberSpan, 'kind' | 'length'> {
  const random = seededRandom(seedFrom(optics.seed, 'glass', cableId))
  const typical = typicalFiber(wavelength)
  return {
    attenuation: (typical.attenuation / 1000) * (1 + 0.03 * random.normal()),
    backscatter: typical.backscatter + 0.15 * random.normal(),
    groupIndex: groupIndexOf(thread.cables.get(cableId)!, wavelength),
  }
}

function cordSpan(length: number, cable: Cable, wavelength: number, more = CORD_BACKSCATTER_OFFSET_DB): FiberSpan {
  const typical = typicalFiber(wavelength)
  return {
    kind: 'span',
    length,
    attenuation: typical.attenuation / 1000,
    backscatter: typical.backscatter + more,
    groupIndex: groupIndexOf(cable, wavelength),
  }
}

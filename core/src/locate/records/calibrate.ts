import { buildThread, fiberAtChainage, fiberAtDelay, placeAt, type Thread } from '../../plant/thread.ts'
import type { Direction, PlantBundle } from '../../plant/types.ts'
import { pulseLengthOf, type Trace } from '../../trace/trace.ts'
import { delayFromDistance } from '../../units/light.ts'
import { findLinkEnds, type LinkEnds } from '../shots/linkEnds.ts'
import { condition, covarianceOf, dot, priorErrors, sensitivityAt, type RecordErrors } from './recordErrors.ts'
import type { Shot } from '../shots/shot.ts'

/** A known node of the plant that shows in a trace. */
export interface Feature {
  node: string
  /** m of fiber from the link's `from`, by the records */
  fiber: number
}

/** A link's records, corrected by what the baseline traces show. */
export interface Calibration {
  /** Laid out from the link's `from` and from its `to`. */
  threads: Record<Direction, Thread>
  errors: RecordErrors
  features: Feature[]
  /** Sensitivity of the whole fiber length, for shots from the far end. */
  whole: Float64Array
}

/** An event further from a node's predicted place than this many standard deviations is not that node. */
const GATE = 3.5
/** An edge's start is known to about this part of the pulse, whatever its shape. */
const EDGE_PART = 0.018

/** One standard deviation of an edge's place in a trace, m, beyond the noise. */
export function edgeSigma(trace: Trace): number {
  return EDGE_PART * pulseLengthOf(trace)
}

/**
 * Learns how far the records are off from events at known nodes.
 * Each shot gives its link ends and then, most certain first, the joints that its events fit.
 */
export function calibrate(plant: PlantBundle, linkId: string, shots: readonly Shot[]): Calibration {
  const threads = { ab: buildThread(plant, linkId, 'ab'), ba: buildThread(plant, linkId, 'ba') }
  const errors = priorErrors(threads.ab)
  const whole = sensitivityAt(threads.ab, errors, threads.ab.fiberLength)
  let calibration: Calibration = { threads, errors, features: [], whole }
  for (const shot of shots) calibration = learnFrom(calibration, shot)
  return calibration
}

function learnFrom(calibration: Calibration, shot: Shot): Calibration {
  const thread = calibration.threads[shot.direction]
  const ends = findLinkEnds(shot, thread)
  const { trace, events } = shot.analysis
  const first = thread.nodes[0]!
  const last = thread.nodes.at(-1)!
  let next = withFeature(calibration, shot.direction, first.id, first.fiber)
  if (ends.end)
    next = observe(
      next,
      shot,
      last.fiber,
      fiberOf(thread, trace, ends, ends.end.distance),
      Math.hypot(ends.start.sigma, ends.end.sigma),
      last.id,
    )
  const marks = events
    .filter((event) => event.kind !== 'start' && event.kind !== 'end')
    .map((event) => ({
      fiber: fiberOf(thread, trace, ends, event.distance),
      sigma: Math.hypot(event.distanceSigma, ends.start.sigma, edgeSigma(trace)),
    }))
  const joints = thread.nodes.slice(1, -1).filter((node) => node.joint !== 'through')
  const open = new Set(joints.map((node) => node.id))
  for (;;) {
    const predictions = joints.map((node) => ({ node, ...predict(next, shot.direction, node.fiber) }))
    const best = predictions.filter(({ node }) => open.has(node.id)).sort((a, b) => a.sigma - b.sigma)[0]
    if (!best) return next
    open.delete(best.node.id)
    const mark = nearestMark(marks, best)
    const rival =
      mark &&
      predictions.some(
        (other) => other !== best && Math.abs(other.fiber - mark.fiber) < Math.abs(best.fiber - mark.fiber),
      )
    if (mark && !rival) next = observe(next, shot, best.node.fiber, mark.fiber, mark.sigma, best.node.id)
  }
}

function nearestMark<T extends { fiber: number; sigma: number }>(
  marks: readonly T[],
  predicted: { fiber: number; sigma: number },
): T | null {
  const within = marks.filter(
    (mark) => Math.abs(mark.fiber - predicted.fiber) < GATE * Math.hypot(mark.sigma, predicted.sigma),
  )
  return within.sort((a, b) => Math.abs(a.fiber - predicted.fiber) - Math.abs(b.fiber - predicted.fiber))[0] ?? null
}

/** Metres of fiber from the link's near end that a place in the trace stands for, by the plant's indices. */
export function fiberOf(thread: Thread, trace: Trace, ends: LinkEnds, distance: number): number {
  const delay = delayFromDistance(distance - ends.start.distance, trace.groupIndex)
  return delay < 0 ? 0 : fiberAtDelay(thread, delay, trace.wavelength)
}

/** How the measured fiber length from the shot's end depends on the record errors, at `fiber` m from that end. */
function sensitivityFrom(calibration: Calibration, direction: Direction, fiber: number): Float64Array {
  const { threads, errors, whole } = calibration
  if (direction === 'ab') return sensitivityAt(threads.ab, errors, fiber)
  const beyond = sensitivityAt(threads.ab, errors, threads.ab.fiberLength - fiber)
  return whole.map((value, i) => value - beyond[i]!)
}

/** Where a node should show, m of fiber from the shot's end, with what is known so far. */
export function predict(
  calibration: Calibration,
  direction: Direction,
  fiber: number,
): { fiber: number; sigma: number } {
  const sensitivity = sensitivityFrom(calibration, direction, fiber)
  return {
    fiber: fiber + dot(sensitivity, calibration.errors.mean),
    sigma: Math.sqrt(Math.max(0, covarianceOf(calibration.errors, sensitivity, sensitivity))),
  }
}

function observe(
  calibration: Calibration,
  shot: Shot,
  recordFiber: number,
  measuredFiber: number,
  sigma: number,
  node: string,
): Calibration {
  const sensitivity = sensitivityFrom(calibration, shot.direction, recordFiber)
  const observed = { sensitivity, residual: measuredFiber - recordFiber, sigma: Math.max(0.2, sigma) }
  const errors = condition(calibration.errors, observed)
  return withFeature({ ...calibration, errors }, shot.direction, node, recordFiber)
}

function withFeature(calibration: Calibration, direction: Direction, node: string, fiber: number): Calibration {
  if (calibration.features.some((feature) => feature.node === node)) return calibration
  const fromStart = direction === 'ab' ? fiber : calibration.threads.ab.fiberLength - fiber
  return { ...calibration, features: [...calibration.features, { node, fiber: fromStart }] }
}

/**
 * The place by the records (m of fiber from the link's `from`) of a length measured from one end.
 * @returns the place and how it moves with the record errors (its sensitivity)
 */
export function recordPlace(
  calibration: Calibration,
  direction: Direction,
  measured: number,
): { fiber: number; sensitivity: Float64Array } {
  const total = calibration.threads.ab.fiberLength
  let fiber = measured
  for (let round = 0; round < 6; round++)
    fiber = measured - dot(sensitivityFrom(calibration, direction, clamp(fiber, total)), calibration.errors.mean)
  const sensitivity = sensitivityFrom(calibration, direction, clamp(fiber, total))
  if (direction === 'ab') return { fiber, sensitivity: sensitivity.map((value) => -value) }
  return { fiber: total - fiber, sensitivity }
}

function clamp(value: number, high: number): number {
  return Math.min(Math.max(value, 0), high)
}

/** Ground on the thread's ruler, m, of a node or a chainage; null when the link does not pass there. */
export function groundOf(thread: Thread, place: { node: string } | { chainage: number }): number | null {
  if ('node' in place) return thread.nodes.find((node) => node.id === place.node)?.ground ?? null
  try {
    return placeAt(thread, 'fiber', fiberAtChainage(thread, place.chainage)).ground
  } catch {
    return null
  }
}

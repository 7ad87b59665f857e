import { calibrate, predict, type Calibration } from '../../locate/records/calibrate.ts'
import { findLinkEnds, movedFarEnd, type LinkEnds } from '../../locate/shots/linkEnds.ts'
import type { Shot } from '../../locate/shots/shot.ts'
import { delayToFiber, type ThreadNode } from '../../plant/thread.ts'
import type { PlantBundle } from '../../plant/types.ts'
import type { TraceEvent } from '../../trace/events/events.ts'
import { lossAt } from '../../trace/events/lossAt.ts'
import { pulseLengthOf } from '../../trace/trace.ts'
import { distanceFromDelay } from '../../units/light.ts'
import type { OneWayLoss } from '../../trace/twoWay.ts'

/** A shot ready to be read at places of the link. */
export interface Survey {
  shot: Shot
  ends: LinkEnds
  calibration: Calibration
  /** How far what lies beyond the repair is moved by fiber added or taken out, m; 0 on a baseline. */
  shift: number
  /** Where it was added, by the log: m of fiber from the shot's own end; null where the log tells of none. */
  repairedAt: number | null
}

export interface SiteReading extends OneWayLoss {
  reflectance: number | null
}

/** The joints of the link's path: its two ends and what lies between. */
export function jointsOf(calibration: Calibration): ThreadNode[] {
  return calibration.threads.ab.nodes.filter((node) => node.joint !== 'through')
}

/** @param repaired shot after a repair, which may have moved the far end */
export function survey(shots: readonly Shot[], calibration: Calibration, repaired = false): Survey[] {
  return shots.map((shot) => {
    const thread = calibration.threads[shot.direction]
    const { start, end } = findLinkEnds(shot, thread)
    const ends = { start, end: end ?? (repaired ? movedFarEnd(shot, thread, start) : null) }
    return { shot, ends, calibration, shift: 0, repairedAt: null }
  })
}

/** Calibration on the baseline; on the shots themselves where there is none. */
export function calibrateFor(
  plant: PlantBundle,
  linkId: string,
  baseline: readonly Shot[],
  after: readonly Shot[],
): Calibration {
  return calibrate(plant, linkId, baseline.length > 0 ? baseline : after)
}

/** Where a joint should show in a trace, m on the trace's scale. */
export function expectedDistance(survey: Survey, node: ThreadNode): number {
  const thread = survey.calibration.threads[survey.shot.direction]
  const fromHere = thread.nodes.find((candidate) => candidate.id === node.id && candidate.joint === node.joint)!
  return distanceOfFiber(survey, fromHere.fiber)
}

/** Where a place on the record, m of fiber from the shot's own end, should show in its trace. */
export function distanceOfFiber(survey: Survey, recordFiber: number): number {
  const { shot, ends, calibration } = survey
  const { trace } = shot.analysis
  const thread = calibration.threads[shot.direction]
  const { fiber } = predict(calibration, shot.direction, recordFiber)
  // Fiber that the record does not have counts with the instrument's own index.
  const beyond = Math.max(0, fiber - thread.fiberLength)
  const delay = delayToFiber(thread, fiber - beyond, trace.wavelength)
  return ends.start.distance + distanceFromDelay(delay, trace.groupIndex) + beyond
}

/** How near an event must be to a joint's place to be the joint. */
export function siteTolerance(shot: Shot): number {
  const { trace } = shot.analysis
  return pulseLengthOf(trace) + 2 * trace.spacing + 8
}

/** Loss and reflectance at a joint, at its place as recorded or moved by what the repair added. */
export function readSite(survey: Survey, node: ThreadNode): SiteReading | null {
  const { shot } = survey
  const tolerance = siteTolerance(shot)
  const places = placesOf(survey, node, tolerance)
  const found = places.map((place) => eventNear(shot, place, tolerance)).find((event) => event !== null)
  if (found?.kind === 'end') return null
  return lossAt(shot.analysis, found?.distance ?? places.at(-1)!, tolerance)
}

/** Where a joint may show, the likeliest first: what lies beyond the repair is moved by what was added there. */
function placesOf(survey: Survey, node: ThreadNode, tolerance: number): number[] {
  const { shift, repairedAt, calibration, shot } = survey
  const expected = expectedDistance(survey, node)
  if (repairedAt !== null) {
    const fromHere = calibration.threads[shot.direction].nodes.find(({ id }) => id === node.id)!.fiber
    return [fromHere > repairedAt ? expected + shift : expected]
  }
  return Math.abs(shift) > tolerance / 2 ? [expected, expected + shift] : [expected]
}

function eventNear(shot: Shot, distance: number, tolerance: number): TraceEvent | null {
  let best: TraceEvent | null = null
  for (const event of shot.analysis.events) {
    if (event.kind === 'start') continue
    const away = Math.abs(event.distance - distance)
    if (away <= tolerance + 2.5 * event.distanceSigma && (!best || away < Math.abs(best.distance - distance)))
      best = event
  }
  return best
}

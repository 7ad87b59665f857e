import { fiberOf, recordPlace } from '../locate/calibrate.ts'
import { fiberAtChainage, placeAt, type ThreadNode } from '../plant/thread.ts'
import { lossAt } from '../trace/lossAt.ts'
import type { ProofEvent } from './proof.ts'
import { holdsAgainst, type RuleBook } from './rules.ts'
import { distanceOfFiber, expectedDistance, siteTolerance, type Survey } from './sites.ts'
import { twoWayLoss, type OneWayLoss } from '../trace/twoWay.ts'

/** A place off the record where the traces after the repair show an event or the log says that a joint was made. */
interface NewPlace {
  /** m of fiber from the link's `from`, by the records */
  fiber: number
  seen: ReturnType<typeof strangersIn>
  logged: boolean
}

/** The located place of a new joint may be this far from where it shows, m. */
const LOGGED_PLACE_SPREAD = 25

/**
 * New joints at one wavelength: those of the log, and events that are no joint of the record and did not show before.
 * Each is measured from both ends, where it shows and where it does not.
 * @param logged chainages from the log
 */
export function judgeNewJoints(
  joints: readonly ThreadNode[],
  before: readonly Survey[],
  after: readonly Survey[],
  logged: readonly number[],
  rules: RuleBook,
): ProofEvent[] {
  const thread = after[0]!.calibration.threads.ab
  const places: NewPlace[] = logged.map((chainage) => ({
    fiber: fiberAtChainage(thread, chainage),
    seen: [],
    logged: true,
  }))
  for (const event of after.flatMap((item) => strangersIn(item, joints, before))) {
    const home = places.find(
      (place) =>
        Math.abs(place.fiber - event.fiber) < event.tolerance + (place.logged ? LOGGED_PLACE_SPREAD : 0) &&
        place.seen.every((other) => other.direction !== event.direction),
    )
    if (home) home.seen.push(event)
    else places.push({ fiber: event.fiber, seen: [event], logged: false })
  }
  return places.map((place) => judgePlace(place, after, rules))
}

function judgePlace({ fiber, seen, logged }: NewPlace, after: readonly Survey[], rules: RuleBook): ProofEvent {
  const shown = seen.length > 0 ? seen.reduce((sum, event) => sum + event.fiber, 0) / seen.length : fiber
  const from = (direction: 'ab' | 'ba') =>
    seen.find((event) => event.direction === direction) ?? unseenFrom(direction, shown, after)
  const mean = twoWayLoss(from('ab'), from('ba'))
  const { chainage } = placeAt(after[0]!.calibration.threads.ab, 'fiber', shown)
  const { limit } = rules.splice
  const reflectances = seen.map((event) => event.reflectance).filter((value) => value !== null)
  return {
    wavelength: after[0]!.shot.analysis.trace.wavelength,
    chainage,
    node: null,
    place: `${chainage.toFixed(0)} m`,
    kind: logged ? 'splice' : 'event',
    status: mean ? 'new' : 'open',
    lossBefore: null,
    lossAfter: mean?.loss ?? null,
    lossTwoWay: mean?.twoWay ? mean.loss : null,
    lossSigma: mean?.sigma ?? null,
    reflectanceBefore: null,
    reflectanceAfter: reflectances.length > 0 ? Math.max(...reflectances) : null,
    limit: limit.value,
    limitSource: limit.source,
    holds: holdsAgainst(mean?.loss ?? null, mean?.sigma ?? null, limit.value),
  }
}

/** What the other direction reads at the place of a new event that it does not show by itself. */
function unseenFrom(direction: 'ab' | 'ba', fiber: number, after: readonly Survey[]): OneWayLoss | null {
  const other = after.find((item) => item.shot.direction === direction)
  if (!other) return null
  const fromHere = direction === 'ab' ? fiber : other.calibration.threads.ab.fiberLength - fiber
  return lossAt(other.shot.analysis, distanceOfFiber(other, fromHere), siteTolerance(other.shot))
}

function strangersIn(item: Survey, joints: readonly ThreadNode[], before: readonly Survey[]) {
  const { shot, ends, calibration } = item
  const tolerance = siteTolerance(shot)
  const old = before.find((candidate) => candidate.shot.direction === shot.direction)
  const expected = joints.map((node) => expectedDistance(item, node))
  const oldDistances = old
    ? old.shot.analysis.events.map((event) => event.distance - old.ends.start.distance + ends.start.distance)
    : []
  const known = [...expected, ...oldDistances].flatMap((distance) => [distance, distance + item.shift])
  return shot.analysis.events
    .filter((event) => event.kind !== 'start' && event.kind !== 'end' && event.loss !== null)
    .filter(
      (event) =>
        event.distance > ends.start.distance + tolerance &&
        event.distance < (ends.end?.distance ?? Infinity) - tolerance,
    )
    .filter((event) =>
      known.every((distance) => Math.abs(distance - event.distance) > tolerance + 2.5 * event.distanceSigma),
    )
    .map((event) => ({
      direction: shot.direction,
      loss: event.loss!,
      sigma: event.lossSigma!,
      reflectance: event.reflectance,
      // What noise leaves open of a faint event's place must not make two joints of one.
      tolerance: 2 * tolerance + 2.5 * event.distanceSigma,
      fiber: recordPlace(
        calibration,
        shot.direction,
        fiberOf(calibration.threads[shot.direction], shot.analysis.trace, ends, event.distance),
      ).fiber,
    }))
}

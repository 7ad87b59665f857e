import { fiberOf, recordPlace } from '../../locate/records/calibrate.ts'
import { oneWaySpread } from '../../fiber/joinedFibers.ts'
import { fiberAtChainage, placeAt, type ThreadNode } from '../../plant/thread.ts'
import type { Direction } from '../../plant/types.ts'
import { lossAt } from '../../trace/events/lossAt.ts'
import type { ProofEvent } from '../verdict/proof.ts'
import { holdsAgainst, type Holds, type RuleBook } from '../../ruleBook/rules.ts'
import { distanceOfFiber, expectedDistance, siteTolerance, type Survey } from './sites.ts'
import { twoWayLoss, type OneWayLoss } from '../../trace/twoWay.ts'

/** An event of one trace that is no joint of the record and did not show before. */
interface Stranger extends OneWayLoss {
  direction: Direction
  reflectance: number | null
  /** m of fiber from the link's `from`, as it lies after the repair */
  fiber: number
  /** Another one so near is the same, m. */
  tolerance: number
}

/** A place off the record: what is seen there, from at most two ends, and how many joints the log tells of. */
interface NewPlace {
  /** m of fiber from the link's `from`, as it lies after the repair */
  fiber: number
  seen: readonly Stranger[]
  logged: number
}

/** The located place of a new joint may be this far from where it shows, m. */
export const LOGGED_PLACE_SPREAD = 25

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
  const clusters = clustersOf(after.flatMap((item) => strangersIn(item, joints, before)))
  const judged = placesOf(clusters, after, logged).map((place) => judgePlace(place, after, logged, rules))
  return withPieces(judged, joints)
}

/**
 * A piece of other fiber between two new joints of one section: read from one end, each holds half the difference in
 * backscatter, once up and once down, so that both together are what both lose; neither loses more than that.
 */
function withPieces(judged: readonly ProofEvent[], joints: readonly ThreadNode[]): ProofEvent[] {
  const places = [...judged].sort((a, b) => a.chainage - b.chainage)
  const isOneWay = ({ lossAfter, lossTwoWay }: ProofEvent) => lossAfter !== null && lossTwoWay === null
  for (let k = 0; k + 1 < places.length; k++) {
    const [first, second] = [places[k]!, places[k + 1]!]
    const isOnePiece =
      isOneWay(first) &&
      isOneWay(second) &&
      Math.sign(first.lossAfter!) !== Math.sign(second.lossAfter!) &&
      !joints.some(({ chainage }) => chainage > first.chainage && chainage < second.chainage)
    if (!isOnePiece) continue
    const loss = first.lossAfter! + second.lossAfter!
    const sigma = Math.hypot(first.lossSigma!, second.lossSigma!)
    for (const [i, place] of [first, second].entries())
      if (place.holds !== 'yes' && holdsAgainst(loss, sigma, place.limit) === 'yes')
        places[k + i] = { ...place, holds: 'yes', limitSource: `${place.limitSource}, ${TOGETHER_WITHIN}` }
    k++
  }
  return places
}

/** Why a joint holds that reads too much from one end. */
const TOGETHER_WITHIN = 'which both joints of the new piece keep together'

/** Events of both directions that are one: each joins the nearest of the other direction. */
function clustersOf(strangers: readonly Stranger[]): Stranger[][] {
  const clusters: Stranger[][] = []
  const pairs = strangers
    .filter(({ direction }) => direction === 'ab')
    .flatMap((ab) =>
      strangers.flatMap((ba) => (ba.direction === 'ba' ? [{ ab, ba, off: Math.abs(ab.fiber - ba.fiber) }] : [])),
    )
    .filter(({ ab, ba, off }) => off < Math.max(ab.tolerance, ba.tolerance))
    .sort((a, b) => a.off - b.off)
  const used = new Set<Stranger>()
  for (const { ab, ba } of pairs) {
    if (used.has(ab) || used.has(ba)) continue
    used.add(ab).add(ba)
    clusters.push([ab, ba])
  }
  const alone = strangers.filter((one) => !used.has(one))
  return folded(clusters, alone)
}

/** What one end tells apart and the other sees as one event is one place: its losses add up. */
function folded(clusters: readonly Stranger[][], alone: readonly Stranger[]): Stranger[][] {
  const out = clusters.map((cluster) => [...cluster])
  for (const one of alone) {
    const home = out.find((cluster) => cluster.length === 2 && Math.abs(middleOf(cluster) - one.fiber) < one.tolerance)
    if (!home) {
      out.push([one])
      continue
    }
    const i = home.findIndex(({ direction }) => direction === one.direction)
    home[i] = { ...home[i]!, loss: home[i]!.loss + one.loss, sigma: Math.hypot(home[i]!.sigma, one.sigma) }
  }
  return out
}

/** Places of the log with what shows there, and what shows elsewhere. Fiber that was added moves all but the first joint. */
function placesOf(clusters: readonly Stranger[][], after: readonly Survey[], logged: readonly number[]): NewPlace[] {
  const { calibration } = after[0]!
  const shift = shiftOf(after)
  const open = new Set(clusters)
  const places: NewPlace[] = []
  const expected = logged
    .map((chainage) => fiberAtChainage(calibration.threads.ab, chainage))
    .sort((a, b) => a - b)
    .map((fiber, i) => (i === 0 ? fiber : fiber + shift))
  for (const fiber of expected) {
    const reach = (cluster: readonly Stranger[]) =>
      LOGGED_PLACE_SPREAD + Math.max(...cluster.map((one) => one.tolerance))
    const off = (cluster: readonly Stranger[]) => Math.abs(middleOf(cluster) - fiber)
    const home = [...open].filter((one) => off(one) < reach(one)).sort((a, b) => off(a) - off(b))[0]
    if (home) {
      open.delete(home)
      places.push({ fiber: middleOf(home), seen: home, logged: 1 })
      continue
    }
    // Two joints so close together that one event stands for both.
    const shared = places.find(
      (place) => Math.abs(place.fiber - fiber) < LOGGED_PLACE_SPREAD + 2 * siteTolerance(after[0]!.shot),
    )
    if (shared) shared.logged++
    else places.push({ fiber, seen: [], logged: 1 })
  }
  return [...places, ...[...open].map((seen) => ({ fiber: middleOf(seen), seen, logged: 0 }))]
}

function middleOf(seen: readonly Stranger[]): number {
  return seen.reduce((sum, one) => sum + one.fiber, 0) / seen.length
}

/** Fiber added by the repair, m: the mean of what both directions show. */
function shiftOf(after: readonly Survey[]): number {
  return after.reduce((sum, { shift }) => sum + shift, 0) / after.length
}

function judgePlace(
  { fiber, seen, logged }: NewPlace,
  after: readonly Survey[],
  chainages: readonly number[],
  rules: RuleBook,
): ProofEvent {
  const from = (direction: Direction) =>
    seen.find((event) => event.direction === direction) ?? unseenFrom(direction, fiber, after)
  const mean = twoWayLoss(from('ab'), from('ba'))
  const chainage = chainageOf(fiber, after, chainages)
  const passed = passedAt(chainage, after)
  const { limit } = rules.splice
  const count = Math.max(1, logged)
  const reflectances = seen.map((event) => event.reflectance).filter((value) => value !== null)
  return {
    wavelength: after[0]!.shot.analysis.trace.wavelength,
    chainage,
    node: passed?.id ?? null,
    place: passed?.name ?? `${chainage.toFixed(0)} m`,
    kind: logged > 0 ? 'splice' : 'event',
    joints: count,
    status: mean ? 'new' : 'open',
    lossBefore: null,
    lossAfter: mean?.loss ?? null,
    lossTwoWay: mean?.twoWay ? mean.loss : null,
    lossSigma: mean?.sigma ?? null,
    change: mean?.loss ?? null,
    changeSigma: mean?.sigma ?? null,
    reflectanceBefore: null,
    reflectanceAfter: reflectances.length > 0 ? Math.max(...reflectances) : null,
    limit: count * limit.value,
    limitSource: count === 1 ? limit.source : `${limit.source}, ${count} joints that the pulse does not tell apart`,
    holds: holdsOneWay(mean, oneWaySpread(fiberTypeAt(fiber, after)), count * limit.value),
  }
}

/**
 * Whether a joint holds. Read from one end it holds half the difference in backscatter of two fibers that nobody knows: it is
 * over the limit only beyond that.
 */
function holdsOneWay(mean: ReturnType<typeof twoWayLoss>, spread: number, limit: number): Holds {
  const holds = holdsAgainst(mean?.loss ?? null, mean?.sigma ?? null, limit)
  if (holds !== 'no' || mean!.twoWay) return holds
  return holdsAgainst(mean!.loss, Math.hypot(mean!.sigma, spread), limit)
}

function fiberTypeAt(fiber: number, after: readonly Survey[]): string {
  const thread = after[0]!.calibration.threads.ab
  const piece = thread.pieces.find(({ fiberTo }) => fiberTo >= fiber) ?? thread.pieces.at(-1)!
  return thread.cables.get(piece.cable)!.fiberType
}

/** A closure that the record lets the fiber pass uncut: a joint there is new, and has its name. */
function passedAt(chainage: number, after: readonly Survey[]): ThreadNode | undefined {
  const { nodes } = after[0]!.calibration.threads.ab
  return nodes.find((node) => node.joint === 'through' && Math.abs(node.chainage - chainage) < LOGGED_PLACE_SPREAD)
}

/** Where on the record a place lies: what was added in between is on no record. */
function chainageOf(fiber: number, after: readonly Survey[], logged: readonly number[]): number {
  const thread = after[0]!.calibration.threads.ab
  const shift = shiftOf(after)
  const first = logged.length > 0 ? fiberAtChainage(thread, Math.min(...logged)) : fiber
  const onRecord = fiber > first ? Math.max(first, fiber - shift) : fiber
  return placeAt(thread, 'fiber', Math.max(0, Math.min(thread.fiberLength, onRecord))).chainage
}

/** What the other direction reads at the place of a new event that it does not show by itself. */
function unseenFrom(direction: Direction, fiber: number, after: readonly Survey[]): OneWayLoss | null {
  const other = after.find((item) => item.shot.direction === direction)
  if (!other) return null
  const fromHere = direction === 'ab' ? fiber : other.calibration.threads.ab.fiberLength + other.shift - fiber
  return lossAt(other.shot.analysis, distanceOfFiber(other, fromHere), siteTolerance(other.shot))
}

function strangersIn(item: Survey, joints: readonly ThreadNode[], before: readonly Survey[]): Stranger[] {
  const { shot, ends } = item
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
      fiber: placeInFiber(item, event.distance),
    }))
}

/** m of fiber from the link's `from`, as it lies after the repair, of a distance on a trace. */
export function placeInFiber({ shot, ends, calibration, shift }: Survey, distance: number): number {
  const thread = calibration.threads[shot.direction]
  const { fiber } = recordPlace(calibration, shot.direction, fiberOf(thread, shot.analysis.trace, ends, distance))
  return shot.direction === 'ab' ? fiber : fiber + shift
}

import { CodedError } from '../../errors/index.ts'
import { alignTraces, type Alignment, type ExpectedOffset } from './align.ts'
import type { TraceAnalysis } from '../analyze.ts'
import type { Change, ChangeKind } from './change.ts'
import { differenceOf, type Difference } from './difference.ts'
import { endChange } from './endChange.ts'
import type { TraceEvent } from '../events/events.ts'
import { movedEvents, SAME_LOSS_DB, type MovedEvent } from './movedEvents.ts'
import { sigmaAt, SIGNAL_LOST_DB } from '../noise/noise.ts'
import { backscatterOf, faintestReflectance } from '../events/reflectance.ts'
import { joinCrowds, joinFringes, joinRamps } from '../events/ramps.ts'
import { findSteps, smallestStepSeen } from '../events/steps.ts'
import { SLOWEST_RECOVERY } from '../noise/tails.ts'
import { indexOf, pulseLengthOf, type Trace } from '../trace.ts'
import { TAIL_KNOWN, tailAt } from '../withoutTails.ts'
import { isSameWavelength } from '../../units/wavelength.ts'

export type { Change, ChangeKind } from './change.ts'

export interface Comparison {
  alignment: Alignment
  difference: Difference
  changes: Change[]
  /** The smallest added loss that would have been seen, dB, by stretch (m on the baseline's scale). */
  detectionLimit: { from: number; to: number; loss: number }[]
  /** Events found in both traces without a significant change. */
  unchanged: number
  verdict: 'same' | 'changed' | 'broken'
}

/** Two traces that can't be compared: not the same fiber or wavelength. */
export class CompareError extends CodedError<'different-fiber' | 'different-wavelength'> {}

/** Reflectance of one connector differs by this between matings and pulses, dB (judgement). */
const REFLECTANCE_SPREAD_DB = 5
/** Weaker reflections without loss are no fault: the best angled connectors reflect −60 dB (from memory). */
const FAINTEST_REFLECTION_DB = -65
/**
 * Loss changes below this lie within what instruments agree on, dB (common practice): receivers are not quite linear
 * and recover slowly. One instrument with one pulse agrees better with itself.
 */
const SMALLEST_CHANGE_DB = { same: 0.02, different: 0.05 }

/** Parts of one spread loss lie within this of each other, m (judgement). */
const NEIGHBOURS = 100
/** A change found over more than this, and than a few transitions, is a spread one, m (judgement). */
const SPREAD = 50
/** A loss spread over more than this is fiber that attenuates otherwise than it did, m (judgement). */
const ATTENUATION_STRETCH = 300
/** Chance of a false step in one comparison: a link is compared from two ends at several wavelengths at a time. */
const FALSE_ALARM = 0.002

/** What two pulses show differently lies within so many transitions (judgement). */
const BUMP_TRANSITIONS = 4

function smallestChange(baseline: Trace, present: Trace): number {
  const alike =
    baseline.instrument === present.instrument &&
    baseline.pulseWidth === present.pulseWidth &&
    Math.abs(baseline.spacing / present.spacing - 1) < 0.01
  return alike ? SMALLEST_CHANGE_DB.same : SMALLEST_CHANGE_DB.different
}

/**
 * Compares a present trace with the baseline of the same fiber.
 * @param expectedOffset what the cords tell, when both are known
 * @param names whether traces whose files name different fibers are refused; people may know better than the files
 * @throws CompareError for another fiber or wavelength
 */
export function compareTraces(
  baseline: TraceAnalysis,
  present: TraceAnalysis,
  expectedOffset: ExpectedOffset | null = null,
  names: 'refuse' | 'ignore' = 'refuse',
): Comparison {
  refuseStrangers(baseline.trace, present.trace, names)
  const scale = present.trace.groupIndex / baseline.trace.groupIndex
  const alignment = alignTraces(baseline, present, scale, expectedOffset)
  const difference = differenceOf(baseline, present, scale, alignment.offset, alignment.matches)
  const end = endChange(baseline, present, scale, alignment)
  const toBaseline = (event: TraceEvent) => event.distance * scale + alignment.offset
  const both = seenInBoth(baseline, end)
  const steps = lossChanges(baseline, present, difference, alignment, toBaseline, both)
  const reflections = reflectionChanges(baseline, present, alignment, toBaseline, steps, both)
  const near = tolerance(baseline, present)
  const moved = movedEvents(baseline.events, present.events, alignment, toBaseline, near)
  const stayed = [...steps, ...reflections].filter(
    (change) => !moved.some((event) => isAt(change, event.distance, near) || isAt(change, event.before.distance, near)),
  )
  const changes = [...stayed, ...moved.map(changeOfMoved), ...(end ? [end] : [])].sort(
    (a, b) => a.distance - b.distance,
  )
  return {
    alignment,
    difference,
    changes,
    detectionLimit: detectionLimits(baseline, present.trace, difference),
    unchanged: alignment.matches.filter(
      ([i]) => !changes.some((change) => isAt(change, baseline.events[i]!.distance, near)),
    ).length,
    verdict: changes.some((change) => change.kind === 'break') ? 'broken' : changes.length > 0 ? 'changed' : 'same',
  }
}

function changeOfMoved({ before, after, distance, by, bySigma }: MovedEvent): Change {
  return {
    distance,
    distanceSigma: bySigma,
    kind: 'moved',
    lossBefore: before.loss,
    lossAfter: after.loss,
    lossDelta: after.loss! - before.loss!,
    lossDeltaSigma: Math.hypot(before.lossSigma!, after.lossSigma!),
    reflectanceBefore: before.reflectance,
    reflectanceAfter: after.reflectance,
    extent: 0,
    movedBy: by,
  }
}

function refuseStrangers(baseline: Trace, present: Trace, names: 'refuse' | 'ignore'): void {
  if (!isSameWavelength(baseline.wavelength, present.wavelength))
    throw new CompareError(
      'different-wavelength',
      `the baseline is at ${baseline.wavelength} nm, the present trace at ${present.wavelength} nm`,
    )
  const differ = names === 'refuse' ? differentNames(baseline, present) : null
  if (differ !== null) throw new CompareError('different-fiber', differ)
}

/** In words, that two files name different fibers; null when they name the same one or none. */
export function differentNames(baseline: Trace, present: Trace): string | null {
  const differs = (a: string, b: string) => a !== '' && b !== '' && a.toLowerCase() !== b.toLowerCase()
  return differs(baseline.cableId, present.cableId) || differs(baseline.fiberId, present.fiberId)
    ? `the baseline is of cable "${baseline.cableId}" fiber "${baseline.fiberId}", the present trace of cable "${present.cableId}" fiber "${present.fiberId}"`
    : null
}

/** How near two marks must be to be the same place, m. */
function tolerance(baseline: TraceAnalysis, present: TraceAnalysis): number {
  return (
    Math.max(pulseLengthOf(baseline.trace), pulseLengthOf(present.trace)) +
    2 * Math.max(baseline.trace.spacing, present.trace.spacing) +
    1
  )
}

function isAt(change: Change, distance: number, within: number): boolean {
  return Math.abs(change.distance - distance) <= within
}

function nearest(
  events: readonly TraceEvent[],
  place: (event: TraceEvent) => number,
  distance: number,
  within: number,
): TraceEvent | null {
  let best: TraceEvent | null = null
  for (const event of events) {
    if (event.kind === 'start' || event.kind === 'end') continue
    const away = Math.abs(place(event) - distance)
    if (away <= within && (!best || away < Math.abs(place(best) - distance))) best = event
  }
  return best
}

function tailOf({ trace, working }: TraceAnalysis, distance: number): number {
  return tailAt(trace, working, indexOf(trace, distance))
}

/** A stretch, m on the baseline's scale. */
interface Stretch {
  from: number
  to: number
}

/** Where both traces show fiber on either side: what only one of them could see is no change. */
function seenInBoth({ trace, working, events }: TraceAnalysis, end: Change | null): Stretch {
  const before = events.at(-1)!
  return {
    from: trace.firstDistance + working.from * trace.spacing,
    to: Math.min(end?.distance ?? Infinity, before.kind === 'end' ? before.distance : Infinity),
  }
}

/** Steps in the difference are added losses; each is named by what either trace shows at its place. */
function lossChanges(
  baseline: TraceAnalysis,
  present: TraceAnalysis,
  difference: Difference,
  alignment: Alignment,
  toBaseline: (event: TraceEvent) => number,
  both: Stretch,
): Change[] {
  const near = tolerance(baseline, present)
  const scale = present.trace.groupIndex / baseline.trace.groupIndex
  const smallest = smallestChange(baseline.trace, present.trace)
  const crowds = joinCrowds(
    joinRamps(difference.search, findSteps({ ...difference.search, smallest, falseAlarm: FALSE_ALARM })),
    Math.max(4 * difference.search.gap, NEIGHBOURS / difference.spacing),
  )
  const steps = joinFringes(crowds, Math.max(4 * difference.search.gap, SPREAD / difference.spacing))
  const { from, to, gap } = difference.search
  const found = steps.flatMap((step, k): Change[] => {
    const previous = k > 0 ? steps[k - 1]!.last + gap : from
    const measured = difference.measure(step, previous, steps[k + 1]?.first ?? to)
    if (!measured) return []
    const { distance, distanceSigma, delta, deltaSigma, extent } = measured
    if (distance > both.to - near || Math.abs(delta) < Math.max(smallest, 3 * deltaSigma)) return []
    // What is left of a tail may look like a step in one trace and not in the other.
    const now = (distance - alignment.offset) / scale
    const tail = Math.max(tailOf(baseline, distance), tailOf(present, now))
    if (Math.abs(delta) < TAIL_KNOWN * tail) return []
    const reach = near + 2 * distanceSigma
    const before = nearest(baseline.events, (event) => event.distance, distance, reach)
    const after = nearest(present.events, toBaseline, distance, reach)
    const place = measured.masked
      ? placeInTransition(measured, before, after, toBaseline, alignment.offsetSigma)
      : { distance, sigma: distanceSigma, shared: 0 }
    return [
      {
        distance: extent > 0 ? distance : place.distance,
        // A loss that is spread over a stretch may be anywhere in it.
        distanceSigma: extent > 0 ? distanceSigma : Math.hypot(place.sigma, (after?.extent ?? 0) / 3),
        sharedSigma: place.shared,
        kind: extent >= ATTENUATION_STRETCH ? 'attenuation' : nameOf(delta, before, after),
        lossBefore: before ? before.loss : 0,
        lossAfter: after ? after.loss : (before?.loss ?? 0) + delta,
        lossDelta: delta,
        lossDeltaSigma: deltaSigma,
        reflectanceBefore: before?.reflectance ?? null,
        reflectanceAfter: after?.echoOf ? null : (after?.reflectance ?? null),
        extent: Math.max(extent, after?.extent ?? 0),
      },
    ]
  })
  const transitions = BUMP_TRANSITIONS * difference.search.gap * difference.spacing
  const recovery = pulseLengthOf({ ...baseline.trace, pulseWidth: SLOWEST_RECOVERY.usual })
  return withoutBumps(found, smallest, Math.max(transitions, recovery))
}

/**
 * Where in a transition that both traces show a loss was added. An event's place is the middle of its light, so that of
 * two losses under one pulse it is the mean of both by their sizes: what moved it tells the added one's place. A
 * reflection hides that, unless it grew itself; then the loss may lie anywhere in the stretch.
 */
function placeInTransition(
  stretch: { distance: number; distanceSigma: number; delta: number; deltaSigma: number },
  before: TraceEvent | null,
  after: TraceEvent | null,
  toBaseline: (event: TraceEvent) => number,
  offsetSigma: number,
): { distance: number; sigma: number; shared: number } {
  const { distance, distanceSigma, delta } = stretch
  const anywhere = { distance, sigma: distanceSigma, shared: distanceSigma }
  if (!after) return anywhere
  const now = toBaseline(after)
  if (after.reflectance !== null) {
    const grown = after.reflectance - (before?.reflectance ?? -Infinity) > REFLECTANCE_SPREAD_DB
    return grown && !after.echoOf
      ? { distance: now, sigma: Math.hypot(after.distanceSigma, offsetSigma), shared: 0 }
      : anywhere
  }
  if (!before || before.reflectance !== null || before.loss === null || after.loss === null) return anywhere
  // The event must be the sum of both: the added loss may stand beside it as an event of its own.
  const rest = after.loss - before.loss - delta
  if (Math.abs(rest) > SAME_LOSS_DB + 3 * Math.hypot(after.lossSigma!, before.lossSigma!, stretch.deltaSigma))
    return anywhere
  const ratio = after.loss / delta
  const sigma = Math.hypot(Math.hypot(after.distanceSigma, offsetSigma) * ratio, before.distanceSigma * (ratio - 1))
  // Of an event that is spread the middle counts, not where it begins.
  const [middleBefore, middleNow] = [before.distance + before.extent / 2, now + after.extent / 2]
  const moved = middleBefore + (middleNow - middleBefore) * ratio
  return sigma < distanceSigma ? { distance: moved, sigma, shared: 0 } : anywhere
}

/**
 * A fiber does not lose light and get it back: a rise that soon undoes the fall before it is how two pulses of different
 * length show one event, or a receiver's recovery, and no change of the fiber. A joint that was taken out is another thing,
 * and so is what lies farther off: a new cord's fiber scatters otherwise, and somewhere behind it the link is hurt.
 * @param soon m
 */
function withoutBumps(changes: readonly Change[], smallest: number, soon: number): Change[] {
  const undone = (a: Change, b: Change | undefined) =>
    b !== undefined &&
    b.distance - a.distance < soon &&
    !vanished(a, smallest) &&
    !vanished(b, smallest) &&
    a.lossDelta! * b.lossDelta! < 0 &&
    Math.abs(a.lossDelta! + b.lossDelta!) < Math.max(smallest, 3 * Math.hypot(a.lossDeltaSigma!, b.lossDeltaSigma!))
  const kept: Change[] = []
  for (let k = 0; k < changes.length; k++) {
    if (undone(changes[k]!, changes[k + 1])) k++
    else kept.push(changes[k]!)
  }
  return kept
}

/** All of a known joint's loss has gone. */
function vanished({ kind, lossBefore, lossDelta, lossDeltaSigma }: Change, smallest: number): boolean {
  if (kind !== 'gone' || lossBefore === null) return false
  return Math.abs(lossBefore + lossDelta!) < Math.max(smallest, 3 * lossDeltaSigma!)
}

function nameOf(delta: number, before: TraceEvent | null, after: TraceEvent | null): ChangeKind {
  if (!before) return delta > 0 ? 'new' : 'shrunk'
  if (delta > 0) return 'grown'
  return after ? 'shrunk' : 'gone'
}

/** A reflection that came or grew without a step of loss: a gap or dirt shows in reflectance before it shows in loss. */
function reflectionChanges(
  baseline: TraceAnalysis,
  present: TraceAnalysis,
  alignment: Alignment,
  toBaseline: (event: TraceEvent) => number,
  steps: readonly Change[],
  both: Stretch,
): Change[] {
  const near = tolerance(baseline, present)
  const partner = new Map(alignment.matches.map(([a, b]) => [b, a]))
  return present.events.flatMap((event, k): Change[] => {
    // What stands there may be an echo over a joint; a loss of its own shows in the difference.
    if (event.kind !== 'reflective' || event.reflectance === null || event.echoOf) return []
    if (event.reflectance < FAINTEST_REFLECTION_DB) return []
    const distance = toBaseline(event)
    if (distance < both.from || distance > both.to - near || steps.some((step) => isAt(step, distance, near))) return []
    const matched = partner.get(k)
    const before =
      matched !== undefined ? baseline.events[matched]! : nearest(baseline.events, (e) => e.distance, distance, near)
    // Where the baseline shows no reflection, one as strong as it could have shown may have been there.
    const index = indexOf(baseline.trace, distance)
    const least =
      before?.reflectance ??
      faintestReflectance(baseline.trace, baseline.working.noise, index, Math.abs(event.loss ?? 0))
    const spread = REFLECTANCE_SPREAD_DB + 3 * Math.hypot(event.reflectanceSigma ?? 0, before?.reflectanceSigma ?? 0)
    // Reflectances rest on the backscatter that each instrument was told: they are compared on the baseline's.
    const told = backscatterOf(present.trace) - backscatterOf(baseline.trace)
    if (event.reflectance - told < least + spread || before?.saturated) return []
    const delta = event.loss !== null && before?.loss != null ? event.loss - before.loss : event.loss
    return [
      {
        distance,
        distanceSigma: event.distanceSigma,
        kind: before ? 'grown' : 'new',
        lossBefore: before ? before.loss : 0,
        lossAfter: event.loss,
        lossDelta: delta,
        lossDeltaSigma: event.lossSigma === null ? null : Math.hypot(event.lossSigma, before?.lossSigma ?? 0),
        reflectanceBefore: before?.reflectance ?? null,
        reflectanceAfter: event.reflectance,
        extent: 0,
      },
    ]
  })
}

/** What the step search would have seen with the widest windows that fit between the baseline's events. */
function detectionLimits(
  baseline: TraceAnalysis,
  present: Trace,
  difference: Difference,
): Comparison['detectionLimit'] {
  const { search, distanceAt } = difference
  const limits: Comparison['detectionLimit'] = []
  const bounds = [
    search.from,
    ...baseline.events.slice(1).map((event) => difference.indexAt(event.distance)),
    search.to,
  ]
    .filter((index) => index >= search.from && index <= search.to)
    .sort((a, b) => a - b)
  for (let k = 0; k + 1 < bounds.length; k++) {
    const [a, b] = [bounds[k]!, bounds[k + 1]!]
    const half = (b - a) / 2 - search.gap
    if (half < 4 || !(sigmaAt(search.noise, (a + b) / 2) < SIGNAL_LOST_DB)) continue
    const loss = smallestStepSeen({ ...search, falseAlarm: FALSE_ALARM }, (a + b) / 2, half)
    limits.push({
      from: distanceAt(a),
      to: distanceAt(b),
      loss: Math.max(smallestChange(baseline.trace, present), loss),
    })
  }
  return limits
}

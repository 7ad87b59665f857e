import { delayToFiber, groupIndexOf, type Thread } from '../../plant/thread.ts'
import { delaySigma } from '../../trace/compare/align.ts'
import type { TraceEvent } from '../../trace/events/events.ts'
import { pulseLengthOf } from '../../trace/trace.ts'
import { SPEED_OF_LIGHT } from '../../units/light.ts'
import { FACTOR_SIGMA, HELIX_UNKNOWN } from '../records/recordErrors.ts'
import type { Shot } from './shot.ts'

/** A place in a trace, m on the trace's own scale. */
export interface TraceMark {
  distance: number
  sigma: number
}

/** Where the link begins and ends in a trace, the cords taken off. */
export interface LinkEnds {
  start: TraceMark
  /** null when the trace does not show the link's far end */
  end: TraceMark | null
}

/**
 * Finds the link's first and last connection in a trace: at the cords' lengths where these are known, otherwise where the
 * joints of the record between them fit best.
 * @param thread laid out from the end that was shot from
 */
export function findLinkEnds(shot: Shot, thread: Thread): LinkEnds {
  const { events } = shot.analysis
  const scale = scaleOf(shot, thread)
  const last = events.at(-1)!
  const seenEnd = last.kind === 'end' ? last : null
  if (shot.launch !== null) {
    const start = launchMark(shot, scale.cordScale)
    const end =
      shot.receive === 0 || (shot.receive !== null && seenEnd)
        ? farEnd(events, seenEnd, start, scale, shot.receive * scale.cordScale)
        : (bestPair(events, thread, scale, [start])?.end ?? null)
    return { start, end }
  }
  if (shot.launchEnd && shot.farEnd) return { start: shot.launchEnd, end: shot.farEnd }
  const starts = shot.launchEnd ? [shot.launchEnd] : possibleStarts(shot)
  const best = bestPair(events, thread, scale, starts)
  return best ? { start: best.start, end: best.end } : { start: firstConnection(starts), end: null }
}

/** Where the link may begin in a trace with a launch cord that is not on record: hidden by the front, or at a reflection. */
function possibleStarts({ analysis: { trace, events } }: Shot): TraceMark[] {
  return [
    hiddenStart(events[0]!.settled, trace.spacing),
    ...events.filter((event) => event.kind === 'reflective').map(markOf),
  ]
}

/** Two marks that may be the link's ends, with how well the record fits between them, in joints. */
export interface EndPair {
  start: TraceMark
  end: TraceMark
  score: number
}

/** All pairs of marks that may be the link's ends in a trace with a launch cord that is not on record. */
export function possibleEnds(shot: Shot, thread: Thread): EndPair[] {
  return endPairs(shot.analysis.events, thread, scaleOf(shot, thread), possibleStarts(shot))
}

/** Launch cords are at least so long, m; what is shorter is a jumper of a few metres (common practice). */
const SHORTEST_LAUNCH = 100
const JUMPER: TraceMark = { distance: 2, sigma: 3 }

/**
 * Where the link begins when its first connection does not show: behind a jumper, or anywhere in a front's dead zone that is
 * long enough to hide a launch cord.
 */
export function hiddenStart(blind: number, spacing: number): TraceMark {
  const { distance, sigma } = blind < SHORTEST_LAUNCH ? JUMPER : { distance: blind / 2, sigma: blind / Math.sqrt(12) }
  return { distance, sigma: Math.max(spacing, sigma) }
}

/** How a record's lengths show on a trace. All in m on the trace's scale. */
interface Scale {
  onTrace(fiber: number): number
  /** Of the link. */
  length: number
  /** How near two marks must be to be one. */
  near: number
  /** How far the link's end may be before or behind where the record puts it. */
  slack: { before: number; behind: number }
  /** Of a cord, which is of the link's first fiber. */
  cordScale: number
}

function scaleOf({ analysis: { trace } }: Shot, thread: Thread): Scale {
  const onTrace = (fiber: number) => (delayToFiber(thread, fiber, trace.wavelength) * SPEED_OF_LIGHT) / trace.groupIndex
  const length = onTrace(thread.fiberLength)
  const near = 3 + pulseLengthOf(trace) + 2 * trace.spacing
  const cordScale = groupIndexOf(thread.cables.get(thread.pieces[0]!.cable)!, trace.wavelength) / trace.groupIndex
  const before = near + 4 * FACTOR_SIGMA * length + 10
  const unknown = thread.pieces.reduce(
    (sum, { kind, cable, fiberFrom, fiberTo }) =>
      kind === 'run' && thread.cables.get(cable)!.helixFactor === 1 ? sum + fiberTo - fiberFrom : sum,
    0,
  )
  return { onTrace, length, near, slack: { before, behind: before + HELIX_UNKNOWN.most * unknown }, cordScale }
}

/** Between its ends, joints lie as the record says to within this, m (judgement: coils that are guessed). */
const COILS_GUESSED = 10
/** A length as far off as a record's may be says as much as this many joints, and a last loss that does not reflect as that many. */
const IN_JOINTS = { length: 0.9, plain: 0.5 }

/**
 * The two marks that are the link's ends: those between which most joints of the record have an event where they should, the
 * record stretched to the distance of the marks; among equals those whose distance is the record's. An angled connection
 * reflects too little to show, so that the last loss before the light's end may be the link's last connection, too.
 * @returns null where no two marks are as far apart as the link is long
 */
function bestPair(
  events: readonly TraceEvent[],
  thread: Thread,
  scale: Scale,
  starts: readonly TraceMark[],
): EndPair | null {
  return endPairs(events, thread, scale, starts).reduce<EndPair | null>(
    (best, pair) => (!best || pair.score > best.score ? pair : best),
    null,
  )
}

function endPairs(
  events: readonly TraceEvent[],
  thread: Thread,
  { onTrace, length, near, slack }: Scale,
  starts: readonly TraceMark[],
): EndPair[] {
  const inner = events.filter(({ kind }) => kind !== 'start' && kind !== 'end')
  const marks = events.filter((event) => event.kind === 'reflective' || event.kind === 'end' || event === inner.at(-1))
  const joints = thread.nodes.slice(1, -1).flatMap(({ joint, fiber }) => (joint === 'through' ? [] : [onTrace(fiber)]))
  return starts.flatMap((start) =>
    marks.flatMap((mark): EndPair[] => {
      const apart = mark.distance - start.distance
      const miss = missOf(apart - length, { before: slack.before + start.sigma, behind: slack.behind + start.sigma })
      if (!(miss < 1)) return []
      const places = joints.map((place) => start.distance + (place * apart) / length)
      const fitting = places.filter((place) =>
        inner.some((event) => event !== mark && Math.abs(event.distance - place) < near + COILS_GUESSED),
      ).length
      const plain = mark.kind !== 'reflective' && mark.kind !== 'end'
      const score = fitting - IN_JOINTS.length * miss - (plain ? IN_JOINTS.plain : 0)
      return [{ start, end: markOf(mark), score }]
    }),
  )
}

/** How far a length is off, as a part of what it may be off by. */
function missOf(off: number, { before, behind }: Scale['slack']): number {
  return off < 0 ? -off / before : off / behind
}

function farEnd(
  events: readonly TraceEvent[],
  seenEnd: TraceEvent | null,
  start: TraceMark,
  { length, near, slack }: Scale,
  receive: number,
): TraceMark | null {
  const expected = start.distance + length
  if (!seenEnd) return null
  const fits = (distance: number) => missOf(distance - expected, slack) < 1
  if (receive === 0) return fits(seenEnd.distance) ? markOf(seenEnd) : null
  // The link's last connection and the cord's own end belong together: the pair that fits record and cord best.
  const cordSlack = near + 0.02 * receive
  const marks = events.filter((event) => event.kind === 'reflective' || event.kind === 'end')
  const pairs = marks.flatMap((connection) =>
    marks.map((cordEnd) => ({
      connection,
      miss: Math.hypot(
        missOf(connection.distance - expected, slack),
        (cordEnd.distance - connection.distance - receive) / cordSlack,
      ),
      fits: fits(connection.distance) && Math.abs(cordEnd.distance - connection.distance - receive) < cordSlack,
    })),
  )
  const best = pairs.filter((pair) => pair.fits).sort((a, b) => a.miss - b.miss)[0]
  if (best) return markOf(best.connection)
  const predicted = seenEnd.distance - receive
  return fits(predicted) ? { distance: predicted, sigma: 1 + 0.005 * receive } : null
}

/** A repair adds or takes at most so much fiber that the far end is still looked for, m (judgement). */
const MOST_MOVED = 500

/**
 * The link's last connection where a repair has moved it farther than records are off: a reflection at the receive cord's
 * length before the trace's end, and at no connector of the record.
 * @param start where the link begins in the trace
 * @returns null without a receive cord, or where nothing is there
 */
export function movedFarEnd(shot: Shot, thread: Thread, start: TraceMark): TraceMark | null {
  const { trace, events } = shot.analysis
  const last = events.at(-1)
  if (!shot.receive || last?.kind !== 'end') return null
  const cordScale = groupIndexOf(thread.cables.get(thread.pieces.at(-1)!.cable)!, trace.wavelength) / trace.groupIndex
  const near = 3 + pulseLengthOf(trace) + 2 * trace.spacing
  const found = nearestReflective(
    events.filter((event) => event !== last),
    last.distance - shot.receive * cordScale,
    near + 0.02 * shot.receive,
  )
  if (!found) return null
  const distanceOf = (fiber: number) =>
    start.distance + (delayToFiber(thread, fiber, trace.wavelength) * SPEED_OF_LIGHT) / trace.groupIndex
  const isKnown = thread.nodes.slice(0, -1).some(({ joint, fiber }) => {
    const slack = near + 4 * FACTOR_SIGMA * fiber + 10
    return joint === 'connector' && Math.abs(distanceOf(fiber) - found.distance) < slack
  })
  const moved = Math.abs(found.distance - distanceOf(thread.fiberLength))
  return isKnown || moved > MOST_MOVED ? null : markOf(found)
}

/** The launch connection when only it can be told: the first reflection, or the port without any. */
function firstConnection(starts: readonly TraceMark[]): TraceMark {
  return starts[1] ?? starts[0]!
}

/** The launch connection where the trace shows it; else where its survey's other traces do; else at the cord's length. */
function launchMark(shot: Shot, cordScale: number): TraceMark {
  const { trace, events } = shot.analysis
  const expected = shot.launch! * cordScale
  const delay = delaySigma(trace)
  if (expected === 0) return shot.launchEnd ?? { distance: 0, sigma: Math.hypot(0.5, delay) }
  const near = 3 + pulseLengthOf(trace) + 2 * trace.spacing + 0.02 * expected
  const found = nearestReflective(events, shot.launchEnd?.distance ?? expected, near)
  if (found) return markOf(found)
  return shot.launchEnd ?? { distance: expected, sigma: Math.hypot(1 + 0.005 * expected, delay) }
}

/** Where the trace itself shows the launch cord's end; null where a dead zone hides it or there is no cord. */
export function launchSeen(shot: Shot): TraceMark | null {
  if (!shot.launch) return null
  const near = 3 + pulseLengthOf(shot.analysis.trace) + 2 * shot.analysis.trace.spacing + 0.02 * shot.launch
  const found = nearestReflective(shot.analysis.events, shot.launch, near)
  return found && markOf(found)
}

function nearestReflective(events: readonly TraceEvent[], distance: number, within: number): TraceEvent | null {
  let best: TraceEvent | null = null
  for (const event of events) {
    if (event.kind !== 'reflective' && event.kind !== 'end') continue
    const away = Math.abs(event.distance - distance)
    if (away <= within && (!best || away < Math.abs(best.distance - distance))) best = event
  }
  return best
}

function markOf(event: TraceEvent): TraceMark {
  return { distance: event.distance, sigma: event.distanceSigma }
}

import { delayToFiber, groupIndexOf, type Thread } from '../../plant/thread.ts'
import { delaySigma } from '../../trace/compare/align.ts'
import type { TraceEvent } from '../../trace/events/events.ts'
import { pulseLengthOf } from '../../trace/trace.ts'
import { SPEED_OF_LIGHT } from '../../units/light.ts'
import { FACTOR_SIGMA } from '../records/recordErrors.ts'
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
 * Finds the link's first and last connection in a trace.
 * With known cords they are looked for at the cords' lengths; otherwise the two marks are chosen whose distance
 * agrees best with the record.
 * @param thread laid out from the end that was shot from
 */
export function findLinkEnds(shot: Shot, thread: Thread): LinkEnds {
  const { trace, events } = shot.analysis
  const cordScale = groupIndexOf(thread.cables.get(thread.pieces[0]!.cable)!, trace.wavelength) / trace.groupIndex
  const length = (delayToFiber(thread, thread.fiberLength, trace.wavelength) * SPEED_OF_LIGHT) / trace.groupIndex
  const near = 3 + pulseLengthOf(trace) + 2 * trace.spacing
  const last = events.at(-1)!
  const seenEnd = last.kind === 'end' ? last : null
  if (shot.launch !== null) {
    const start = launchMark(shot, cordScale)
    return {
      start,
      end: farEnd(events, seenEnd, start, length, shot.receive === null ? null : shot.receive * cordScale, near),
    }
  }
  const starts: TraceMark[] = [
    { distance: 0, sigma: trace.spacing },
    ...events.filter((event) => event.kind === 'reflective').map(markOf),
  ]
  const ends = [...events.filter((event) => event.kind === 'reflective'), ...(seenEnd ? [seenEnd] : [])].map(markOf)
  let best: { start: TraceMark; end: TraceMark; miss: number } | null = null
  for (const start of starts)
    for (const end of ends) {
      const miss = Math.abs(end.distance - start.distance - length)
      if (!best || miss < best.miss) best = { start, end, miss }
    }
  const fits = best !== null && best.miss < near + 4 * FACTOR_SIGMA * length + 10
  return fits ? { start: best!.start, end: best!.end } : { start: firstConnection(starts), end: null }
}

function farEnd(
  events: readonly TraceEvent[],
  seenEnd: TraceEvent | null,
  start: TraceMark,
  length: number,
  receive: number | null,
  near: number,
): TraceMark | null {
  const expected = start.distance + length
  const slack = near + 4 * FACTOR_SIGMA * length + 10
  if (receive === 0) return seenEnd && Math.abs(seenEnd.distance - expected) < slack ? markOf(seenEnd) : null
  if (receive === null || !seenEnd) {
    const found = nearestReflective(events, expected, slack)
    return found ? markOf(found) : null
  }
  // The link's last connection and the cord's own end belong together: the pair that fits record and cord best.
  const cordSlack = near + 0.02 * receive
  const marks = events.filter((event) => event.kind === 'reflective' || event.kind === 'end')
  const pairs = marks.flatMap((connection) =>
    marks.map((cordEnd) => ({
      connection,
      miss: Math.hypot(
        (connection.distance - expected) / slack,
        (cordEnd.distance - connection.distance - receive) / cordSlack,
      ),
      fits:
        Math.abs(connection.distance - expected) < slack &&
        Math.abs(cordEnd.distance - connection.distance - receive) < cordSlack,
    })),
  )
  const best = pairs.filter((pair) => pair.fits).sort((a, b) => a.miss - b.miss)[0]
  if (best) return markOf(best.connection)
  const predicted = seenEnd.distance - receive
  return Math.abs(predicted - expected) < slack ? { distance: predicted, sigma: 1 + 0.005 * receive } : null
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

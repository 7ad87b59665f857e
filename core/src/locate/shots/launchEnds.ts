import { peakFromReflectance, typicalFiber } from '../../fiber/backscatter.ts'
import { alignTraces, delaySigma, offsetOfCords, type ExpectedOffset } from '../../trace/compare/align.ts'
import type { TraceEvent } from '../../trace/events/events.ts'
import { pulseLengthOf } from '../../trace/trace.ts'
import { hiddenStart, launchSeen, type LinkEnds, type TraceMark } from './linkEnds.ts'
import type { Shot } from './shot.ts'

/** Cords of fiber with other indices at other wavelengths differ by so much of their length (G.652, from memory). */
const INDEX_SPREAD = 5e-4
const SAME_SPACING = 0.01

/**
 * The shots with the end of their launch cord where other traces of the same survey show it. A front reflection or a
 * receiver at its limit hides the connection in one trace and not in another, and an instrument shows every edge later
 * than its zero by the same part of the pulse: its own trace tells the place better than the cord's recorded length.
 */
export function withLaunchEnds(shots: readonly Shot[]): Shot[] {
  const seen = shots.map(launchSeen)
  return shots.map((shot, k) => {
    if (seen[k] || !shot.launch) return shot
    const marks = seen.filter((mark, i): mark is TraceMark => mark !== null && isSameSurvey(shot, shots[i]!))
    if (marks.length === 0) return shot
    const distance = marks.reduce((sum, mark) => sum + mark.distance, 0) / marks.length
    const spread = Math.max(...marks.map((mark) => Math.hypot(mark.sigma, mark.distance - distance)))
    return { ...shot, launchEnd: { distance, sigma: Math.hypot(spread, 0.5, INDEX_SPREAD * shot.launch) } }
  })
}

/** One instrument with one pulse and one length of cord. */
function isSameSurvey(a: Shot, b: Shot): boolean {
  const [one, other] = [a.analysis.trace, b.analysis.trace]
  return (
    a.launch === b.launch &&
    one.instrument === other.instrument &&
    one.pulseWidth === other.pulseWidth &&
    one.groupIndex === other.groupIndex &&
    Math.abs(one.spacing / other.spacing - 1) < SAME_SPACING
  )
}

/**
 * What the launch cords tell of how two traces of one end lie on each other. Where a cord is not known, the link begins in the
 * present trace behind the port, or at one of its reflections: where most of its events then fit the baseline's.
 * @param ends of the link in the baseline; null where a cord that is not known is not looked for
 * @returns null when a cord is not known and is not looked for
 */
export function expectedOffset(baseline: Shot, present: Shot, ends: LinkEnds | null = null): ExpectedOffset | null {
  const [before, now] = [baseline.analysis.trace, present.analysis.trace]
  if (baseline.launch === null || present.launch === null) return ends && offsetByEvents(baseline, present, ends)
  const [a, b] = [placeOf(baseline), placeOf(present)]
  if (!a || !b || (launchSeen(baseline) && launchSeen(present)))
    return offsetOfCords(before, now, baseline.launch, present.launch)
  const scale = now.groupIndex / before.groupIndex
  return { offset: a.distance - b.distance * scale, sigma: Math.hypot(1, a.sigma, b.sigma) }
}

/** What it says that a trace has a connection as far from its start as the baseline has, or a reflection that it has not, in joints. */
const REFLECTION = 2

function offsetByEvents(baseline: Shot, present: Shot, ends: LinkEnds): ExpectedOffset {
  const { start, end } = ends
  const { trace, events } = present.analysis
  const scale = trace.groupIndex / baseline.analysis.trace.groupIndex
  const near = pulseLengthOf(trace) + 2 * trace.spacing + 5
  const placeOfEvent = ({ distance, distanceSigma: sigma }: TraceEvent): TraceMark => ({ distance, sigma })
  const offsetFrom = (place: TraceMark): ExpectedOffset => ({
    offset: start.distance - place.distance * scale,
    sigma: Math.hypot(1, start.sigma, place.sigma, delaySigma(trace)),
  })
  const scoreOf = (place: TraceMark) => {
    const expected = offsetFrom(place)
    const { matches, offset } = alignTraces(baseline.analysis, present.analysis, scale, expected)
    const inLink = matches.filter(([i]) => {
      const { distance } = baseline.analysis.events[i]!
      return distance > start.distance + near && distance < (end?.distance ?? Infinity) - near
    })
    const isAtEnd = ({ kind, distance }: TraceEvent) =>
      kind !== 'start' &&
      kind !== 'ghost' &&
      end !== null &&
      Math.abs(distance * scale + offset - end.distance) < near + 3 * Math.hypot(expected.sigma, end.sigma)
    const strange = events.filter((event, k) => {
      const at = event.distance * scale + offset
      const isInLink = at > start.distance + near && at < (end?.distance ?? Infinity) - near
      return isInLink && wouldShow(event, baseline) && !matches.some(([, i]) => i === k)
    })
    return inLink.length + REFLECTION * ((events.some(isAtEnd) ? 1 : 0) - strange.length)
  }
  const hidden = hiddenStart(events[0]!.settled, trace.spacing)
  const [first, ...others] = events.filter(({ kind }) => kind === 'reflective').map(placeOfEvent)
  // A long pulse covers a good connection's reflection: what is lost there still shows.
  const steps = events
    .filter(({ kind, distance }) => (kind === 'step' || kind === 'gain') && distance < (first?.distance ?? Infinity))
    .map(placeOfEvent)
  // A reflection that shows is as a rule the launch cord's end; else the cord's end is hidden.
  const tried = [...(first ? [first] : []), hidden, ...steps, ...others].map((place) => ({
    place,
    score: scoreOf(place),
  }))
  const best = tried.reduce((a, b) => (b.score > a.score ? b : a))
  const last = events.at(-1)!
  if (best.score > 0 || first || last.kind !== 'end') return offsetFrom(best.place)
  // Nothing but an end shows: the light ends with the cord, or soon behind a hidden one. As a rule it is the baseline's cord.
  const atEnd = offsetFrom(placeOfEvent(last))
  const behind = offsetFrom(hidden)
  return Math.abs(atEnd.offset) < Math.abs(behind.offset) ? atEnd : behind
}

/** A reflection that stands less over the fiber than this may hide in a trace, dB (judgement). */
const SHOWS_DB = 0.5

/** Whether a reflection, were it in the link then, would have shown in the baseline with its pulse. */
function wouldShow({ kind, reflectance }: TraceEvent, { analysis: { trace } }: Shot): boolean {
  if (kind !== 'reflective' || reflectance === null) return false
  return peakFromReflectance(typicalFiber(trace.wavelength).backscatter, reflectance, trace.pulseWidth) > SHOWS_DB
}

function placeOf(shot: Shot): TraceMark | null {
  return launchSeen(shot) ?? shot.launchEnd ?? null
}

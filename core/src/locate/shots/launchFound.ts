import { peakFromReflectance, typicalFiber } from '../../fiber/backscatter.ts'
import type { Thread } from '../../plant/thread.ts'
import type { Direction } from '../../plant/types.ts'
import { alignTraces, delaySigma, type ExpectedOffset } from '../../trace/compare/align.ts'
import type { TraceEvent } from '../../trace/events/events.ts'
import { pulseLengthOf } from '../../trace/trace.ts'
import { isSameWavelength } from '../../units/wavelength.ts'
import { findLinkEnds, hiddenStart, possibleEnds, type EndPair, type LinkEnds, type TraceMark } from './linkEnds.ts'
import { isOfSameGo, isOfSameSurvey, type Shot } from './shot.ts'

/** A present trace with the baseline that it is compared with, and where the link begins and ends in that. */
export interface Compared {
  baseline: Shot
  present: Shot
  ends: LinkEnds
}

type Threads = Readonly<Record<Direction, Thread>>

/** What it says against a length of the link that a trace does not show at all, in joints. */
const NO_FIT = 1

/**
 * The shots with the ends of the link where launch cords are not on record. All traces of a survey show one link, as long in
 * each, and those from one end were shot through one cord: the length and the starts that fit the record best in all of them
 * are meant, and on which the events of later traces lie whose own cords are known.
 */
export function withCommonEnds(shots: readonly Shot[], threads: Threads, later: readonly Shot[] = []): Shot[] {
  return shots.map((shot) => {
    const survey = shots.filter((other) => shot.launch === null && other.launch === null && isOfSameSurvey(shot, other))
    const known = later.filter((one) => one.launch !== null && survey.some((other) => isOfOneKind(other, one)))
    if (survey.length + known.length < 2) return shot
    const members = survey.map((one) => ({ shot: one, pairs: pairsOf(one, threads[one.direction], threads, known) }))
    const found = commonEnds(members)
    const own = found?.get(shot)
    return own ? { ...shot, launchEnd: own.start, farEnd: own.end } : shot
  })
}

interface Member {
  shot: Shot
  pairs: readonly EndPair[]
}

function pairsOf(shot: Shot, thread: Thread, threads: Threads, known: readonly Shot[]): EndPair[] {
  const compared = known.filter((present) => isOfOneKind(shot, present))
  return possibleEnds(shot, thread).map((pair) => {
    const lying = compared.reduce((sum, present) => {
      const { start } = findLinkEnds(present, threads[present.direction])
      return sum + matchOf({ baseline: shot, present, ends: pair }, start)
    }, 0)
    return { ...pair, score: pair.score + lying }
  })
}

/** The pairs of one length that all traces together fit best, with one start for each end of the link; null where none does. */
function commonEnds(members: readonly Member[]): Map<Shot, EndPair> | null {
  const lengthOf = ({ analysis: { trace } }: Shot, { start, end }: EndPair) =>
    (end.distance - start.distance) * trace.groupIndex
  let best: { score: number; found: Map<Shot, EndPair> | null } = { score: 0, found: null }
  for (const { shot, pairs } of members)
    for (const pair of pairs) {
      const length = lengthOf(shot, pair)
      const found = new Map<Shot, EndPair>()
      let score = 0
      for (const direction of ['ab', 'ba'] as const) {
        const same = members.filter((one) => one.shot.direction === direction)
        const fitting = same.map((one) => ({
          ...one,
          pairs: one.pairs.filter((other) => {
            const { trace } = one.shot.analysis
            const slack = nearOf(one.shot) + nearOf(shot) + 2 * Math.hypot(pair.start.sigma, other.start.sigma)
            return Math.abs(lengthOf(one.shot, other) - length) < slack * trace.groupIndex
          }),
        }))
        const sided = withOneStart(fitting)
        score += sided.score
        for (const [one, own] of sided.found) found.set(one, own)
      }
      if (score > best.score) best = { score, found }
    }
  return best.found
}

/** Of traces from one end: the start at which the sum of their best pairs is largest. */
function withOneStart(members: readonly Member[]): { score: number; found: Map<Shot, EndPair> } {
  let best = { score: -NO_FIT * members.length, found: new Map<Shot, EndPair>() }
  for (const { shot, pairs } of members)
    for (const { start } of pairs) {
      const found = new Map<Shot, EndPair>()
      let score = 0
      for (const one of members) {
        const at = placeIn(one.shot, start, shot)
        const near = nearOf(one.shot) + Math.hypot(start.sigma, 1)
        const own = one.pairs
          .filter((pair) => Math.abs(pair.start.distance - at) < near + 2 * pair.start.sigma)
          .reduce<EndPair | null>((a, b) => (!a || seen(one.shot, b) > seen(one.shot, a) ? b : a), null)
        score += own ? seen(one.shot, own) : -NO_FIT
        // What hides in one trace's front is where another one shows it.
        const isSurer = own && start.sigma < own.start.sigma / 2
        if (own) found.set(one.shot, isSurer ? { ...own, start: { distance: at, sigma: near / 2 } } : own)
      }
      if (score > best.score) best = { score, found }
    }
  return best
}

/** A pair's score, with what it says that its start shows. */
function seen(shot: Shot, { score, start }: EndPair): number {
  return score + (isReflection(shot, start) ? SEEN : 0)
}

/** The same place in time on another trace's scale, m. */
function placeIn({ analysis: { trace } }: Shot, { distance }: TraceMark, from: Shot): number {
  return (distance * from.analysis.trace.groupIndex) / trace.groupIndex
}

/** How near two marks of two traces must be to be one place, m. */
function nearOf({ analysis: { trace } }: Shot): number {
  return pulseLengthOf(trace) / 2 + 2 * trace.spacing + 3
}

/** Whether two traces can be compared: shot from one end at one wavelength. */
function isOfOneKind(one: Shot, other: Shot): boolean {
  return (
    one.direction === other.direction &&
    isSameWavelength(one.analysis.trace.wavelength, other.analysis.trace.wavelength)
  )
}

/** The same of present traces, by how their events lie on the baseline's: the link may be broken. */
export function withStartsByBaseline(presents: readonly Shot[], baselines: readonly Shot[], threads: Threads): Shot[] {
  const compared = presents.flatMap((present): Compared[] => {
    const baseline = baselines.find((one) => isOfOneKind(one, present))
    return baseline ? [{ baseline, present, ends: findLinkEnds(baseline, threads[present.direction]) }] : []
  })
  return presents.map((present) => {
    const survey = compared.filter((one) => isThroughSameCord(present, one.present))
    if (survey.length < 2 || !survey.some((one) => one.present === present)) return present
    const byShot = new Map(survey.map((one) => [one.present, one]))
    const members = [...byShot.keys()]
    const start =
      commonPlace(present, members, startsTried, (one, place) => matchOf(byShot.get(one)!, place)) ??
      firstReflection(present, members)
    return start ? { ...present, launchEnd: start } : present
  })
}

/** What was shot in one go, the cord's length not written down. */
function isThroughSameCord(one: Shot, other: Shot): boolean {
  return one.launch === null && other.launch === null && isOfSameGo(one, other)
}

/** What it says for a place that a trace shows a reflection there, in joints: the launch cord's end shows as a rule. */
const SEEN = 0.4

function isReflection({ analysis: { events } }: Shot, { distance }: TraceMark): boolean {
  return events.some((event) => event.kind === 'reflective' && event.distance === distance)
}

/**
 * The place at which the sum of all traces' scores is largest, on one trace's own scale and at its own mark; null where no
 * place scores over nothing.
 */
function commonPlace(
  shot: Shot,
  survey: readonly Shot[],
  placesOf: (shot: Shot) => readonly TraceMark[],
  scoreOf: (shot: Shot, place: TraceMark) => number,
): TraceMark | null {
  // One place in time; each trace has its own index, and its own mark there where one shows.
  const onTrace = (one: Shot, place: TraceMark, from: Shot): TraceMark => {
    const distance = placeIn(one, place, from)
    const near = nearOf(one)
    const own = placesOf(one).filter((mark) => Math.abs(mark.distance - distance) < near && mark.sigma < near)
    const nearest = own.sort((a, b) => Math.abs(a.distance - distance) - Math.abs(b.distance - distance))[0]
    return nearest ?? { distance, sigma: Math.hypot(place.sigma, 0.5 * near) }
  }
  let best: { score: number; place: TraceMark | null } = { score: 0, place: null }
  for (const from of [shot, ...survey.filter((one) => one !== shot)])
    for (const place of placesOf(from)) {
      const score = survey.reduce((sum, one) => {
        const mark = onTrace(one, place, from)
        return sum + scoreOf(one, mark) + (isReflection(one, mark) ? SEEN : 0)
      }, 0)
      if (score > best.score) best = { score, place: onTrace(shot, place, from) }
    }
  return best.place
}

/** Where nothing of the link fits: the nearest reflection that one of the traces shows. */
function firstReflection(shot: Shot, survey: readonly Shot[]): TraceMark | null {
  const scale = (one: Shot) => one.analysis.trace.groupIndex / shot.analysis.trace.groupIndex
  const first = survey.flatMap((one) => {
    const event = one.analysis.events.find(({ kind }) => kind === 'reflective')
    return event ? [{ distance: event.distance * scale(one), sigma: pulseLengthOf(shot.analysis.trace) / 4 }] : []
  })
  return first.length > 0 ? first.reduce((a, b) => (b.distance < a.distance ? b : a)) : null
}

/** Where the present trace begins to be the link if it does at `place`. */
export function offsetFrom({ baseline, present, ends }: Compared, place: TraceMark): ExpectedOffset {
  const { trace } = present.analysis
  const scale = trace.groupIndex / baseline.analysis.trace.groupIndex
  return {
    offset: ends.start.distance - place.distance * scale,
    sigma: Math.hypot(1, ends.start.sigma, place.sigma, delaySigma(trace)),
  }
}

/** A reflection that shows is as a rule the launch cord's end; else the cord's end is hidden, or shows as a loss. */
function startsTried({ analysis: { trace, events } }: Shot): TraceMark[] {
  const [first, ...others] = events.filter(({ kind }) => kind === 'reflective').map(placeOfEvent)
  // A long pulse covers a good connection's reflection: what is lost there still shows.
  const steps = events
    .filter(({ kind, distance }) => (kind === 'step' || kind === 'gain') && distance < (first?.distance ?? Infinity))
    .map(placeOfEvent)
  return [...(first ? [first] : []), hiddenStart(events[0]!.settled, trace.spacing), ...steps, ...others]
}

function placeOfEvent({ distance, distanceSigma: sigma }: TraceEvent): TraceMark {
  return { distance, sigma }
}

/** Where the link begins in a present trace, by that trace alone: where most of its events then fit the baseline's. */
export function foundStart(compared: Compared): TraceMark {
  const { events } = compared.present.analysis
  const tried = startsTried(compared.present).map((place) => ({ place, score: matchOf(compared, place) }))
  const best = tried.reduce((a, b) => (b.score > a.score ? b : a))
  const last = events.at(-1)!
  if (best.score > 0 || events.some(({ kind }) => kind === 'reflective') || last.kind !== 'end') return best.place
  // Nothing but an end shows: the light ends with the cord, or soon behind a hidden one. As a rule it is the baseline's cord.
  const [atEnd, behind] = [placeOfEvent(last), hiddenStart(events[0]!.settled, compared.present.analysis.trace.spacing)]
  const away = (place: TraceMark) => Math.abs(offsetFrom(compared, place).offset)
  return away(atEnd) < away(behind) ? atEnd : behind
}

/** What it says that a trace has a connection as far from its start as the baseline has, or a reflection that it has not, in joints. */
const REFLECTION = 2

/** How well the events of a present trace lie on the baseline's if the link begins at `place`, in joints. */
function matchOf(compared: Compared, place: TraceMark): number {
  const { baseline, present, ends } = compared
  const { start, end } = ends
  const { trace, events } = present.analysis
  const scale = trace.groupIndex / baseline.analysis.trace.groupIndex
  const near = pulseLengthOf(trace) + 2 * trace.spacing + 5
  const expected = offsetFrom(compared, place)
  const { matches, offset } = alignTraces(baseline.analysis, present.analysis, scale, expected)
  const isInner = (at: number) => at > start.distance + near && at < (end?.distance ?? Infinity) - near
  const inLink = matches.filter(([i]) => isInner(baseline.analysis.events[i]!.distance))
  const isAtEnd = ({ kind, distance }: TraceEvent) =>
    kind !== 'start' &&
    kind !== 'ghost' &&
    end !== null &&
    Math.abs(distance * scale + offset - end.distance) < near + 3 * Math.hypot(expected.sigma, end.sigma)
  const strange = events.filter(
    (event, k) =>
      isInner(event.distance * scale + offset) && wouldShow(event, baseline) && !matches.some(([, i]) => i === k),
  )
  return inLink.length + REFLECTION * ((events.some(isAtEnd) ? 1 : 0) - strange.length)
}

/** A reflection that stands less over the fiber than this may hide in a trace, dB (judgement). */
const SHOWS_DB = 0.5

/** Whether a reflection, were it in the link then, would have shown in the baseline with its pulse. */
function wouldShow({ kind, reflectance }: TraceEvent, { analysis: { trace } }: Shot): boolean {
  if (kind !== 'reflective' || reflectance === null) return false
  return peakFromReflectance(typicalFiber(trace.wavelength).backscatter, reflectance, trace.pulseWidth) > SHOWS_DB
}

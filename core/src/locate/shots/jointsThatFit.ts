import { alignTraces } from '../../trace/compare/align.ts'
import type { Thread } from '../../plant/thread.ts'
import type { Direction } from '../../plant/types.ts'
import { expectedOffset } from './launchEnds.ts'
import { findLinkEnds } from './linkEnds.ts'
import type { TraceEvent } from '../../trace/events/events.ts'
import { pulseLengthOf } from '../../trace/trace.ts'
import { isSameWavelength } from '../../units/wavelength.ts'
import type { Shot } from './shot.ts'

/** The link laid out from each of its ends. */
export type Threads = Record<Direction, Thread>

/** A cord's recorded length may be off by so much, m (judgement). */
const CONNECTION_METRES = 5

/** Joints between the link's connections that lie where the baseline of a direction has one. */
export interface Fit {
  matched: number
  /** How many would fit by chance. */
  expected: number
}

/** The connections at both ends fit both ways: only what lies between them tells a direction. */
export function jointsThatFit(threads: Threads, shot: Shot, baselines: readonly Shot[]): Fit | null {
  const baseline = baselineOf(shot, baselines)
  if (!baseline) return null
  const [before, now] = [baseline.analysis, shot.analysis]
  const cords = expectedOffset(baseline, shot)
  const { matches } = alignTraces(before, now, now.trace.groupIndex / before.trace.groupIndex, cords)
  const [inBefore, inNow] = [betweenConnections(threads, baseline), betweenConnections(threads, shot)]
  const inner = matches.filter(([i, k]) => inBefore.includes(before.events[i]!) && inNow.includes(now.events[k]!))
  const tries = inBefore.length * inNow.length
  const near = nearness(baseline, shot)
  return { matched: inner.length, expected: (tries * 2 * near) / before.events.at(-1)!.distance }
}

/** Number of joints that lie as far before the far end's connection as the baseline has one, whatever lies before them. */
export function jointsThatFitFromEnd(threads: Threads, shot: Shot, baselines: readonly Shot[]): number {
  const baseline = baselineOf(shot, baselines)
  if (!baseline) return 0
  const scale = shot.analysis.trace.groupIndex / baseline.analysis.trace.groupIndex
  const fromEnd = (one: Shot, by: number) => {
    const [, connection] = connectionsOf(threads, one)
    return betweenConnections(threads, one).map(({ distance }) => by * (connection - distance))
  }
  const [before, now] = [fromEnd(baseline, 1), fromEnd(shot, scale)]
  const near = nearness(baseline, shot)
  return before.filter((place) => now.some((other) => Math.abs(other - place) < near)).length
}

/** The baseline shot from the same end at the same wavelength. */
export function baselineOf(shot: Shot, baselines: readonly Shot[]): Shot | undefined {
  return baselines.find(
    ({ direction, analysis }) =>
      direction === shot.direction && isSameWavelength(analysis.trace.wavelength, shot.analysis.trace.wavelength),
  )
}

/** Where the link's own connections lie on a trace, m: by its cords; by the record where a cord is not known. */
function connectionsOf(threads: Threads, shot: Shot): [near: number, far: number] {
  const { analysis, launch, receive, direction } = shot
  const last = analysis.events.at(-1)!
  const ends = findLinkEnds(shot, threads[direction])
  return [
    launch ?? ends.start.distance,
    receive !== null && last.kind === 'end' ? last.distance - receive : (ends.end?.distance ?? last.distance),
  ]
}

/** Events clear of the link's connections and of the cords beyond them. */
function betweenConnections(threads: Threads, shot: Shot): readonly TraceEvent[] {
  const [near, far] = connectionsOf(threads, shot)
  const margin = CONNECTION_METRES + 2 * pulseLengthOf(shot.analysis.trace)
  return shot.analysis.events.filter(
    ({ kind, distance }) => kind !== 'end' && distance > near + margin && distance < far - margin,
  )
}

/** How near two marks must be to be the same place, m. */
function nearness(baseline: Shot, shot: Shot): number {
  const [before, now] = [baseline.analysis.trace, shot.analysis.trace]
  return Math.max(pulseLengthOf(before), pulseLengthOf(now)) + 2 * before.spacing + 1
}

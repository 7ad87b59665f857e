import { alignTraces } from '../../trace/compare/align.ts'
import { expectedOffset } from './launchEnds.ts'
import type { TraceEvent } from '../../trace/events/events.ts'
import { pulseLengthOf } from '../../trace/trace.ts'
import type { Shot } from './shot.ts'

/** A cord's recorded length may be off by so much, m (judgement). */
const CONNECTION_METRES = 5

/** Joints between the link's connections that lie where the baseline of a direction has one. */
export interface Fit {
  matched: number
  /** How many would fit by chance. */
  expected: number
}

/** The connections at both ends fit both ways: only what lies between them tells a direction. */
export function jointsThatFit(shot: Shot, baselines: readonly Shot[]): Fit | null {
  const baseline = baselineOf(shot, baselines)
  if (!baseline) return null
  const [before, now] = [baseline.analysis, shot.analysis]
  const cords = expectedOffset(baseline, shot)
  const { matches } = alignTraces(before, now, now.trace.groupIndex / before.trace.groupIndex, cords)
  const [inBefore, inNow] = [betweenConnections(baseline), betweenConnections(shot)]
  const inner = matches.filter(([i, k]) => inBefore.includes(before.events[i]!) && inNow.includes(now.events[k]!))
  const tries = inBefore.length * inNow.length
  const near = nearness(baseline, shot)
  return { matched: inner.length, expected: (tries * 2 * near) / before.events.at(-1)!.distance }
}

/** Number of joints that lie as far before the far end's connection as the baseline has one, whatever lies before them. */
export function jointsThatFitFromEnd(shot: Shot, baselines: readonly Shot[]): number {
  const baseline = baselineOf(shot, baselines)
  if (!baseline) return 0
  const scale = shot.analysis.trace.groupIndex / baseline.analysis.trace.groupIndex
  const fromEnd = (one: Shot, by: number) => {
    const [, connection] = connectionsOf(one)
    return betweenConnections(one).map(({ distance }) => by * (connection - distance))
  }
  const [before, now] = [fromEnd(baseline, 1), fromEnd(shot, scale)]
  const near = nearness(baseline, shot)
  return before.filter((place) => now.some((other) => Math.abs(other - place) < near)).length
}

/** The baseline shot from the same end at the same wavelength. */
export function baselineOf(shot: Shot, baselines: readonly Shot[]): Shot | undefined {
  return baselines.find(
    ({ direction, analysis }) =>
      direction === shot.direction && Math.abs(analysis.trace.wavelength - shot.analysis.trace.wavelength) <= 15,
  )
}

/** Where the link's own connections lie on a trace, m: by its cords, or its first and last event between start and end. */
function connectionsOf({ analysis, launch, receive }: Shot): [near: number, far: number] {
  const { events } = analysis
  const end = events.at(-1)!
  const first = events[Math.min(1, events.length - 1)]!
  const last = events[Math.max(0, events.length - 2)]!
  return [
    launch === null ? first.distance : launch,
    receive === null || end.kind !== 'end' ? last.distance : end.distance - receive,
  ]
}

/** Events clear of the link's connections and of the cords beyond them. */
function betweenConnections(shot: Shot): readonly TraceEvent[] {
  const [near, far] = connectionsOf(shot)
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

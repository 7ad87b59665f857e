import { alignTraces } from '../trace/align.ts'
import type { TraceEvent } from '../trace/events.ts'
import { pulseLengthOf } from '../trace/trace.ts'
import type { Shot } from './shot.ts'

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
  const cords = baseline.launch !== null && shot.launch !== null ? baseline.launch - shot.launch : null
  const { matches } = alignTraces(before, now, now.trace.groupIndex / before.trace.groupIndex, cords)
  const last = before.events.length - 1
  const inner = matches.filter(([i]) => i > 1 && i < last - 1)
  const tries = innerOf(before.events).length * innerOf(now.events).length
  const near = nearness(baseline, shot)
  return { matched: inner.length, expected: (tries * 2 * near) / before.events[last]!.distance }
}

/** Number of joints that lie as far before the far end's connection as the baseline has one, whatever lies before them. */
export function jointsThatFitFromEnd(shot: Shot, baselines: readonly Shot[]): number {
  const baseline = baselineOf(shot, baselines)
  if (!baseline) return 0
  const scale = shot.analysis.trace.groupIndex / baseline.analysis.trace.groupIndex
  const fromEnd = ({ analysis }: Shot, by: number) => {
    const connection = analysis.events.at(-2)!.distance
    return innerOf(analysis.events).map(({ distance }) => by * (connection - distance))
  }
  const [before, now] = [fromEnd(baseline, 1), fromEnd(shot, scale)]
  const near = nearness(baseline, shot)
  return before.filter((place) => now.some((other) => Math.abs(other - place) < near)).length
}

function baselineOf(shot: Shot, baselines: readonly Shot[]): Shot | undefined {
  return baselines.find(
    ({ direction, analysis }) =>
      direction === shot.direction && Math.abs(analysis.trace.wavelength - shot.analysis.trace.wavelength) <= 15,
  )
}

/** Without the start, the link's connections and the end. */
function innerOf(events: readonly TraceEvent[]): readonly TraceEvent[] {
  return events.slice(2, -2)
}

/** How near two marks must be to be the same place, m. */
function nearness(baseline: Shot, shot: Shot): number {
  const [before, now] = [baseline.analysis.trace, shot.analysis.trace]
  return Math.max(pulseLengthOf(before), pulseLengthOf(now)) + 2 * before.spacing + 1
}

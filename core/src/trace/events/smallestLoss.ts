import type { TraceAnalysis } from '../analyze.ts'
import { sigmaAt, SIGNAL_LOST_DB } from '../noise/noise.ts'
import { smallestStepSeen } from './steps.ts'
import { indexOf } from '../trace.ts'

/**
 * The smallest loss that the analysis would have seen near a place of a trace, dB: with windows that reach to the
 * neighbouring events on each side. null where there is no light or no room.
 * @param distance m from the port
 */
export function smallestLossSeen({ trace, working }: TraceAnalysis, distance: number): number | null {
  const { sums, noise, gap, slope, slopeSigma, from, to, spans } = working
  const index = indexOf(trace, distance)
  const left = Math.max(from, ...spans.map(([, settled]) => settled).filter((settled) => settled <= index))
  const right = Math.min(to, ...spans.map(([start]) => start).filter((start) => start > index))
  const reach = Math.floor(Math.min(index - left, right - index)) - gap
  if (reach < 4 || !(sigmaAt(noise, index) < SIGNAL_LOST_DB)) return null
  return smallestStepSeen({ sums, noise, gap, slope, slopeSigma, from, to }, index, reach)
}

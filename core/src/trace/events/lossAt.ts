import type { TraceAnalysis } from '../analyze.ts'
import { lossBetween } from './loss.ts'
import { indexOf } from '../trace.ts'

/**
 * Loss at a place where something is known to be, whether or not an event was found there.
 * The windows reach to the neighbouring events and leave out the event at the place itself.
 * @param distance m from the port
 * @param tolerance m: an event this near is the one at the place
 * @returns dB with its standard uncertainty; null in a dead zone, beyond the end or in the noise
 */
export function lossAt(
  analysis: TraceAnalysis,
  distance: number,
  tolerance: number,
): { loss: number; sigma: number; reflectance: number | null } | null {
  const { trace, working, events } = analysis
  const here = nearestEvent(analysis, distance, tolerance)
  if (here && here.loss !== null) return { loss: here.loss, sigma: here.lossSigma!, reflectance: here.reflectance }
  if (here) return null
  const at = indexOf(trace, distance)
  const before = events.findLastIndex((event) => event.distance < distance)
  const after = events.findIndex((event) => event.distance >= distance)
  const left0 = before >= 0 ? Math.max(working.from, indexOf(trace, events[before]!.settled)) : working.from
  const right1 = after >= 0 ? indexOf(trace, events[after]!.begins) : working.to
  const reach = tolerance / trace.spacing
  const measured = lossBetween(
    working,
    left0,
    at - reach / 2,
    at + working.gap + reach / 2,
    Math.min(right1, working.to),
    at,
  )
  return measured && { ...measured, reflectance: null }
}

/** The event nearest to a distance, start and end aside, or null beyond the tolerance. */
export function nearestEvent(analysis: TraceAnalysis, distance: number, tolerance: number) {
  let nearest = null
  for (const event of analysis.events) {
    if (event.kind === 'start' || event.kind === 'end') continue
    const away = Math.abs(event.distance - distance)
    if (away <= tolerance && (!nearest || away < Math.abs(nearest.distance - distance))) nearest = event
  }
  return nearest
}

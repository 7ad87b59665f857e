import type { TraceEvent } from '../trace/events/events.ts'

/** So little straight trace between two events, in pulses, shows nothing of the fiber there (judgement). */
const STRAIGHT = 0.2

/**
 * Events that run into the end, with no straight trace between that a loss could be measured on, are told as one end
 * that begins where the first of them does: what a cord's end behind a last connection looks like under a pulse about as
 * long as the cord. The port is never joined.
 * @param events of one trace, by distance
 * @param pulse length on the fiber, m
 */
export function joinedEnd(events: readonly TraceEvent[], pulse: number): readonly TraceEvent[] {
  const end = events.at(-1)
  if (end?.kind !== 'end') return events
  let first = end
  let from = events.length - 1
  for (let k = from - 1; k >= 0 && events[k]!.kind !== 'start'; k--) {
    const event = events[k]!
    if (event.kind === 'ghost') continue
    if (event.loss !== null || first.begins - event.settled > STRAIGHT * pulse) break
    first = event
    from = k
  }
  if (first === end) return events
  const { distance, distanceSigma, begins, reflectance, reflectanceSigma, saturated, bound, why } = first
  const of = { distance, distanceSigma, begins, reflectance, reflectanceSigma, saturated }
  const reasons = { ...end.why, ...(why?.reflectance ? { reflectance: why.reflectance } : {}) }
  const { bound: _own, ...rest } = end
  return [...events.slice(0, from), { ...rest, ...of, why: reasons, ...(bound ? { bound } : {}) }]
}

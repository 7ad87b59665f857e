import type { Alignment } from './align.ts'
import type { TraceEvent } from '../events/events.ts'

/** One event of both traces that no longer lies where it did. */
export interface MovedEvent {
  before: TraceEvent
  after: TraceEvent
  /** Where it lies now, and how far that is from where it lay, m on the baseline's scale. */
  distance: number
  by: number
  bySigma: number
}

/** A joint alone moves with the slack beside it, m; fiber let into the link moves all that follows, by any length. */
const FARTHEST_ALONE = 100
/** A loss that is less can't be known again for sure, dB, and in standard uncertainties. */
const SMALLEST_DB = 0.05
const TIMES_SIGMA = 5
/** The same loss measures the same but for this, dB (common practice: instruments agree to a few hundredths). */
export const SAME_LOSS_DB = 0.03

/**
 * Events of the baseline that the present trace shows elsewhere: the same kind and loss, between the same neighbours, and
 * nothing left at the old place. An event that vanished while another came a long way off is no move, unless its
 * neighbours moved as far.
 * @param place of an event of the present trace, m on the baseline's scale
 * @param near how near two marks must be to be the same place, m
 */
export function movedEvents(
  baseline: readonly TraceEvent[],
  present: readonly TraceEvent[],
  alignment: Alignment,
  place: (event: TraceEvent) => number,
  near: number,
): MovedEvent[] {
  const matched = new Map(alignment.matches)
  const matchedBack = new Map(alignment.matches.map(([a, b]) => [b, a]))
  const found: MovedEvent[] = []
  let next = 0
  baseline.forEach((before, i) => {
    const partner = matched.get(i)
    if (partner !== undefined) {
      next = Math.max(next, partner + 1)
      return
    }
    const limit = baseline.findIndex((_, k) => k > i && matched.has(k))
    const end = limit < 0 ? present.length : matched.get(limit)!
    const stays = present.some((event) => Math.abs(place(event) - before.distance) <= near)
    if (stays) return
    for (let k = next; k < end; k++) {
      const after = present[k]!
      const by = place(after) - before.distance
      if (matchedBack.has(k) || !isSame(before, after)) continue
      if (baseline.some((event) => Math.abs(event.distance - place(after)) <= near)) continue
      const bySigma = Math.hypot(before.distanceSigma, after.distanceSigma, alignment.offsetSigma)
      found.push({ before, after, distance: place(after), by, bySigma })
      next = k + 1
      return
    }
  })
  const stayed = alignment.matches.map(([a]) => baseline[a]!.distance)
  return found.filter((event) => {
    if (Math.abs(event.by) <= FARTHEST_ALONE) return true
    const together = found.some((other) => other !== event && Math.abs(other.by - event.by) <= near + 3 * event.bySigma)
    // Fiber let into the link moves all that lies on one side of it.
    const { distance } = event.before
    return together && (stayed.every((place) => place < distance) || stayed.every((place) => place > distance))
  })
}

function isSame(a: TraceEvent, b: TraceEvent): boolean {
  const joint = (event: TraceEvent) => event.kind === 'step' || event.kind === 'reflective' || event.kind === 'gain'
  if (!joint(a) || !joint(b) || (a.kind === 'reflective') !== (b.kind === 'reflective')) return false
  if (a.loss === null || b.loss === null || a.echoOf || b.echoOf) return false
  const clear = (event: TraceEvent) => Math.abs(event.loss!) > Math.max(SMALLEST_DB, TIMES_SIGMA * event.lossSigma!)
  return clear(a) && clear(b) && Math.abs(a.loss - b.loss) < SAME_LOSS_DB + 3 * Math.hypot(a.lossSigma!, b.lossSigma!)
}

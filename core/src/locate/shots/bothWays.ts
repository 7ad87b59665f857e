import { backscatterDifference, twoWayLoss } from '../../trace/twoWay.ts'
import type { TraceEvent } from '../../trace/events/events.ts'
import { pulseLengthOf } from '../../trace/trace.ts'
import { delayFromDistance } from '../../units/light.ts'
import { edgeSigma, fiberOf, recordPlace, type Calibration } from '../records/calibrate.ts'
import { findLinkEnds, type TraceMark } from './linkEnds.ts'
import type { Shot } from './shot.ts'

/** One event as both ends see it. */
export interface TwoWayEvent {
  /** Indices into the event lists of the two traces. */
  ab: number
  ba: number
  /** True loss, the mean of both directions, dB. */
  loss: number
  lossSigma: number
  /** Backscatter of the fiber before it over that after it, dB (10·log10), seen from the link's `from`. */
  difference: number
  differenceSigma: number
  /** The fibers differ beyond doubt: each one-way reading is off by half the difference. */
  fibersDiffer: boolean
}

/** What the traces of both ends at one wavelength say together. */
export interface BothWays {
  ab: Shot
  ba: Shot
  events: TwoWayEvent[]
  /** The link's length by the one trace over that by the other, minus 1; null where they share no two places. */
  disagreement: { value: number; sigma: number } | null
}

/** Differences in backscatter below this are of no consequence, dB: a tenth of it stays in a one-way reading's second figure. */
const FIBERS_DIFFER_DB = 0.05

/**
 * Matches the events that both ends see at one wavelength by their place on the record, nearest first, and measures their
 * true losses. An index or clock that one of the two instruments has wrong shows as a disagreement about the length.
 */
export function matchBothWays(calibration: Calibration, ab: Shot, ba: Shot): BothWays {
  const [from, to] = [placesOf(calibration, ab), placesOf(calibration, ba)]
  const reach = 0.5 * Math.max(pulseLengthOf(ab.analysis.trace), pulseLengthOf(ba.analysis.trace)) + 2
  const pairs = from
    .flatMap((a) => to.map((b) => ({ a, b, away: Math.abs(a.fiber - b.fiber) })))
    .filter(({ a, b, away }) => away < reach + 3 * Math.hypot(a.sigma, b.sigma))
    .sort((p, q) => p.away - q.away)
  const taken = new Set<TraceEvent>()
  const matched = pairs
    .filter(({ a, b }) => !taken.has(a.event) && !taken.has(b.event) && taken.add(a.event) && taken.add(b.event))
    .sort((p, q) => p.a.fiber - q.a.fiber)
  const events = matched.flatMap(({ a, b }): TwoWayEvent[] => {
    if (a.event.loss === null || b.event.loss === null) return []
    const one = { loss: a.event.loss, sigma: a.event.lossSigma! }
    const other = { loss: b.event.loss, sigma: b.event.lossSigma! }
    const { loss, sigma } = twoWayLoss(one, other)!
    const difference = backscatterDifference(one, other)
    const differenceSigma = Math.hypot(one.sigma, other.sigma)
    return [
      {
        ab: a.index,
        ba: b.index,
        loss,
        lossSigma: sigma,
        difference,
        differenceSigma,
        fibersDiffer: Math.abs(difference) > Math.max(FIBERS_DIFFER_DB, 3 * differenceSigma),
      },
    ]
  })
  return { ab, ba, events, disagreement: disagreementOf(calibration, ab, ba, matched) }
}

type Placed = { event: TraceEvent; index: number; fiber: number; sigma: number }

function placesOf(calibration: Calibration, shot: Shot): Placed[] {
  const thread = calibration.threads[shot.direction]
  const { trace, events } = shot.analysis
  const ends = findLinkEnds(shot, thread)
  return events.flatMap((event, index): Placed[] => {
    if (event.kind === 'start' || event.kind === 'end' || event.kind === 'ghost') return []
    const measured = fiberOf(thread, trace, ends, event.distance)
    const { fiber } = recordPlace(calibration, shot.direction, measured)
    return [{ event, index, fiber, sigma: Math.hypot(event.distanceSigma, edgeSigma(trace)) }]
  })
}

/** By the link's two ends where both traces show them, else by the outermost events that they share. */
function disagreementOf(
  calibration: Calibration,
  ab: Shot,
  ba: Shot,
  matched: readonly { a: Placed; b: Placed }[],
): BothWays['disagreement'] {
  const ends = [ab, ba].map((shot) => findLinkEnds(shot, calibration.threads[shot.direction]))
  const marks = (k: 0 | 1): TraceMark[] => {
    if (ends.every(({ end }) => end)) return [ends[k]!.start, ends[k]!.end!]
    return [matched[0], matched.at(-1)].flatMap((pair) => {
      const placed = k === 0 ? pair?.a : pair?.b
      return placed ? [{ distance: placed.event.distance, sigma: placed.sigma }] : []
    })
  }
  const [one, other] = [lengthBetween(ab, marks(0)), lengthBetween(ba, marks(1))]
  if (!one || !other) return null
  // Two ends of one trace may stand apart by a part of a point as well.
  const points = Math.hypot(ab.analysis.trace.spacing, ba.analysis.trace.spacing) / Math.abs(one.metres)
  return { value: one.delay / other.delay - 1, sigma: Math.hypot(one.relative, other.relative, points / 2) }
}

function lengthBetween(
  shot: Shot,
  [from, to]: readonly TraceMark[],
): { delay: number; relative: number; metres: number } | null {
  if (!from || !to || from.distance === to.distance) return null
  const metres = Math.abs(to.distance - from.distance)
  const sigma = Math.hypot(from.sigma, to.sigma, edgeSigma(shot.analysis.trace))
  return { delay: delayFromDistance(metres, shot.analysis.trace.groupIndex), relative: sigma / metres, metres }
}

import { delayToFiber } from '../../plant/thread.ts'
import { SPEED_OF_LIGHT } from '../../units/light.ts'
import { predict, type Calibration } from '../records/calibrate.ts'
import type { Pairing } from './candidates.ts'

/**
 * Added loss at a place where this pair of traces shows no change by itself: what other traces placed there is measured
 * here too, so that a loss which is small at this wavelength is known to be small.
 * @param fiber m from the link's `from`, by the records
 * @returns dB with its standard uncertainty; null where it can't be measured
 */
export function lossAtPlace(
  calibration: Calibration,
  { comparison, baseline, ends }: Pairing,
  fiber: number,
): { loss: number; sigma: number } | null {
  const { direction } = baseline
  const { trace } = baseline.analysis
  const thread = calibration.threads[direction]
  const fromEnd = direction === 'ab' ? fiber : thread.fiberLength - fiber
  const measured = Math.min(thread.fiberLength, Math.max(0, predict(calibration, direction, fromEnd).fiber))
  const delay = delayToFiber(thread, measured, trace.wavelength)
  const { difference, changes } = comparison
  const { search } = difference
  const index = Math.round(difference.indexAt(ends.start.distance + (delay * SPEED_OF_LIGHT) / trace.groupIndex)) - 1
  if (!(index > search.from && index + search.gap < search.to)) return null
  // Other changes bound what is compared.
  const others = changes.map((change) => Math.round(difference.indexAt(change.distance))).sort((a, b) => a - b)
  const previous = others.findLast((other) => other < index - search.gap)
  const next = others.find((other) => other > index + search.gap)
  const found = difference.measure(
    { index, first: index, last: index, rise: 0, significance: 0 },
    previous === undefined ? search.from : previous + search.gap,
    next ?? search.to,
  )
  return found && { loss: found.delta, sigma: found.deltaSigma }
}

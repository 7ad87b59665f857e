/** A loss seen from one end, with its standard uncertainty, dB. */
export interface OneWayLoss {
  loss: number
  sigma: number
}

/**
 * True loss of a joint from both directions: the mean, in which the difference in backscatter of the two fibers cancels
 * (IEC 61280-4-2; Derickson). One-way readings are true ± (K1 − K2)/2.
 * @param ab,ba readings from each end; null where not measured
 * @returns the mean with its uncertainty, and whether it is two-way; null without any reading
 */
export function twoWayLoss(ab: OneWayLoss | null, ba: OneWayLoss | null): (OneWayLoss & { twoWay: boolean }) | null {
  if (ab && ba) return { loss: (ab.loss + ba.loss) / 2, sigma: Math.hypot(ab.sigma, ba.sigma) / 2, twoWay: true }
  const one = ab ?? ba
  return one && { ...one, twoWay: false }
}

/** Difference in backscatter K1 − K2 of the fibers before and after a joint, dB (10·log10), from the two readings. */
export function backscatterDifference(ab: OneWayLoss, ba: OneWayLoss): number {
  return ab.loss - ba.loss
}

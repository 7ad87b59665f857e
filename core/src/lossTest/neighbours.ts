import { median, medianAbsoluteDeviation } from 'simple-statistics'

/** Of a normal distribution: standard deviation over median absolute deviation. */
const SCALE = 1.4826
/** From so many standard deviations on a value is none of its neighbours': B. Iglewicz, D. Hoaglin, 1993 (from memory). */
const OUTLIER = 3.5
/** Fewer neighbours tell nothing. */
const LEAST = 5

/**
 * How far a fiber stands off its neighbours of one tube, by their median and median absolute deviation: one bad fiber
 * does not hide itself or another one.
 * @param own dB, @param others of the same tube at the same wavelength and direction, dB
 * @param sigma standard uncertainty of one of them: neighbours that are more alike than that are not
 * @returns null for too few neighbours
 */
export function amongNeighbours(
  own: number,
  others: readonly number[],
  sigma: number,
): { middle: number; off: number; stands: boolean } | null {
  if (others.length < LEAST) return null
  const middle = median([...others])
  const spread = Math.max(SCALE * medianAbsoluteDeviation([...others]), sigma)
  const off = (own - middle) / spread
  return { middle, off, stands: off > OUTLIER }
}

import { PrefixSums } from './noise/prefixSums.ts'

/** What lies between two markers on a trace. Losses in dB, above 0 is loss; every sigma one standard uncertainty. */
export interface BetweenMarkers {
  /** m on the trace's scale */
  length: number
  /** Difference of the two points: holds the fiber between and both points' noise. */
  twoPoint: number
  twoPointSigma: number
  /** Fall of the least-squares line; only right where no event stands between. */
  leastSquares: number
  leastSquaresSigma: number
  /** dB/m */
  attenuation: number
  attenuationSigma: number
}

const FEWEST_POINTS = 5

/**
 * Reads a trace between two markers by two points and by least squares. The noise is the scatter about the line;
 * that neighbouring points share part of it is told from their residuals.
 * @param i0,i1 points, in either order
 * @returns null with fewer than five points between
 */
export function betweenMarkers(
  levels: ArrayLike<number>,
  spacing: number,
  i0: number,
  i1: number,
): BetweenMarkers | null {
  const from = Math.max(0, Math.round(Math.min(i0, i1)))
  const to = Math.min(levels.length - 1, Math.round(Math.max(i0, i1)))
  const count = to - from + 1
  if (count < FEWEST_POINTS) return null
  const window = Float64Array.from({ length: count }, (_, i) => levels[from + i]!)
  if (window.some((level) => Number.isNaN(level))) return null
  const line = new PrefixSums(window).line(0, count)!
  let squares = 0
  let products = 0
  let previous = 0
  for (let i = 0; i < count; i++) {
    const residual = window[i]! - line.mean - line.slope * (i - line.center)
    squares += residual * residual
    if (i > 0) products += residual * previous
    previous = residual
  }
  const sigma = Math.sqrt(squares / (count - 2))
  const rho = squares > 0 ? Math.min(0.98, Math.max(0, products / squares)) : 0
  const slopeSigma = sigma * Math.sqrt(line.slopeVariance * ((1 + rho) / (1 - rho)))
  const length = (count - 1) * spacing
  return {
    length,
    twoPoint: window[0]! - window[count - 1]!,
    twoPointSigma: sigma * Math.SQRT2,
    leastSquares: -line.slope * (count - 1),
    leastSquaresSigma: slopeSigma * (count - 1),
    attenuation: -line.slope / spacing,
    attenuationSigma: slopeSigma / spacing,
  }
}

/**
 * z with a normal upper tail of p: P(Z > z) = p, for 0 < p ≤ 0.5. Error below 4.5e-4.
 * Source: Abramowitz & Stegun, Handbook of Mathematical Functions, 26.2.23.
 */
export function upperTailQuantile(p: number): number {
  const t = Math.sqrt(-2 * Math.log(p))
  return t - (2.515517 + 0.802853 * t + 0.010328 * t * t) / (1 + 1.432788 * t + 0.189269 * t * t + 0.001308 * t ** 3)
}

/**
 * Standard normal cumulative probability P(Z ≤ z). Error below 1.5e-7.
 * Source: Abramowitz & Stegun 7.1.26 for erf.
 */
export function normalCumulative(z: number): number {
  const x = Math.abs(z) / Math.SQRT2
  const t = 1 / (1 + 0.3275911 * x)
  const erfc =
    t * (0.254829592 + t * (-0.284496736 + t * (1.421413741 + t * (-1.453152027 + t * 1.061405429)))) * Math.exp(-x * x)
  return z >= 0 ? 1 - erfc / 2 : erfc / 2
}

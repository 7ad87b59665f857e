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

/**
 * Student's quantile for the same upper tail as a normal quantile: what a ratio reaches when its standard deviation was
 * estimated from few values. Expansion in 1/n; within 1 % for z up to 5 and n of 30 or more.
 * Source: Abramowitz & Stegun 26.7.5 (first two terms).
 */
export function studentQuantile(z: number, degreesOfFreedom: number): number {
  const first = (z ** 3 + z) / 4
  const second = (5 * z ** 5 + 16 * z ** 3 + 3 * z) / 96
  return z + first / degreesOfFreedom + second / degreesOfFreedom ** 2
}

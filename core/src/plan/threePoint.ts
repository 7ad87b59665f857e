import type { Random } from '../sim/random.ts'

/** How long a step takes, minutes: at best, mostly, at worst. */
export interface ThreePoint {
  best: number
  likely: number
  worst: number
}

/** A duration that is known but for a spread of so much of it on each side. */
export function spreadBy(minutes: number, part: number): ThreePoint {
  return { best: minutes * (1 - part), likely: minutes, worst: minutes * (1 + part) }
}

/**
 * Mean and variance of a three-point estimate, minutes and minutes²: (a + 4m + b)/6 and ((b − a)/6)².
 * Source: D. G. Malcolm et al., Application of a technique for research and development program evaluation, Operations
 * Research 7(5), 1959 (from memory).
 */
export function momentsOf({ best, likely, worst }: ThreePoint): { mean: number; variance: number } {
  return { mean: (best + 4 * likely + worst) / 6, variance: ((worst - best) / 6) ** 2 }
}

/**
 * A value drawn from the estimate: a beta distribution over [best, worst] with the mean of {@link momentsOf}
 * (α = 1 + 4(m − a)/(b − a), β = 1 + 4(b − m)/(b − a)), as the ratio of two gamma variates.
 */
export function drawFrom({ best, likely, worst }: ThreePoint, random: Random): number {
  const width = worst - best
  if (!(width > 0)) return likely
  const x = gamma(1 + (4 * (likely - best)) / width, random)
  const y = gamma(1 + (4 * (worst - likely)) / width, random)
  return best + (width * x) / (x + y)
}

/** Gamma variate of unit scale, shape ≥ 1. Source: G. Marsaglia, W. W. Tsang, ACM TOMS 26(3), 2000. */
function gamma(shape: number, random: Random): number {
  const d = shape - 1 / 3
  const c = 1 / Math.sqrt(9 * d)
  for (;;) {
    const z = random.normal()
    const v = (1 + c * z) ** 3
    if (v <= 0) continue
    if (Math.log(1 - random.uniform()) < 0.5 * z * z + d - d * v + d * Math.log(v)) return d * v
  }
}

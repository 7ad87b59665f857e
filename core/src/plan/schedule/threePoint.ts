import type { Random } from '../../math/random.ts'

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
 * (α = 1 + 4(m − a)/(b − a), β = 6 − α), by its quantiles.
 */
export function drawFrom({ best, likely, worst }: ThreePoint, random: Random): number {
  const width = worst - best
  if (!(width > 0)) return likely
  const quantiles = quantilesOf(1 + (4 * (likely - best)) / width)
  const at = random.uniform() * (quantiles.length - 1)
  const k = Math.floor(at)
  return best + width * (quantiles[k]! + (at - k) * (quantiles[k + 1]! - quantiles[k]!))
}

const CELLS = 4096
const QUANTILES = 1024
const tables = new Map<number, Float64Array>()

/** Quantiles of the beta distribution with α and 6 − α at even steps of probability, from 0 to 1. */
function quantilesOf(alpha: number): Float64Array {
  const known = tables.get(alpha)
  if (known) return known
  const density = (x: number) => x ** (alpha - 1) * (1 - x) ** (5 - alpha)
  const sums = new Float64Array(CELLS + 1)
  for (let k = 0; k < CELLS; k++) sums[k + 1] = sums[k]! + density((k + 0.5) / CELLS)
  const total = sums[CELLS]!
  const out = new Float64Array(QUANTILES + 1)
  let cell = 0
  for (let q = 0; q <= QUANTILES; q++) {
    const wanted = (q / QUANTILES) * total
    while (cell < CELLS - 1 && sums[cell + 1]! < wanted) cell++
    const inside = sums[cell + 1]! - sums[cell]!
    out[q] = Math.min(1, (cell + (inside > 0 ? (wanted - sums[cell]!) / inside : 0)) / CELLS)
  }
  tables.set(alpha, out)
  return out
}

import type { Random } from '../math/random.ts'

/** A source whose light is coherent enough for its echoes from one pulse to interfere. */
export interface Coherence {
  /** Width of its spectrum, Hz. */
  width: number
  /** Of the pattern: one fiber and one source show one pattern, however long is averaged. */
  seed: number
}

/** Parts of a pulse in which light from different places adds up by itself. */
const PARTS = 4

/**
 * The energy that interference adds to what a fiber scatters back, up to each of a series of times. Light that returns within
 * one coherence time 1/Δν interferes with a phase of its own, so that the energy of each such time scatters fully about its
 * mean (polarized light); over a longer time these add up as a random walk whose variance grows by density²/Δν a second. Over a pulse
 * of W the relative standard deviation is then 1/√(Δν·W), correlated over the pulse (Shimizu et al., Journal of Lightwave Technology
 * 10 (1992) 982, from memory; the speckle statistics are Goodman's, Statistical Optics).
 * @param densityAt energy per second of round trip at a time, s
 * @param step s between points, `points` of them, from `first`
 * @param pulse s: the walk is taken in steps that are short beside it
 * @returns the walk at a time, s
 */
export function interference(
  densityAt: (time: number) => number,
  { first, step, points, pulse }: { first: number; step: number; points: number; pulse: number },
  { width }: Coherence,
  random: Random,
): (time: number) => number {
  const start = first - pulse
  const dt = Math.min(step, pulse / PARTS)
  const count = Math.ceil((points * step + pulse) / dt) + 2
  const walk = new Float64Array(count)
  const spread = Math.sqrt(dt / width)
  for (let k = 1; k < count; k++) walk[k] = walk[k - 1]! + densityAt(start + (k - 0.5) * dt) * spread * random.normal()
  return (time) => {
    const at = Math.min(count - 1.001, Math.max(0, (time - start) / dt))
    const k = Math.floor(at)
    return walk[k]! + (at - k) * (walk[k + 1]! - walk[k]!)
  }
}

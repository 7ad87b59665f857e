import { powerFromDisplayLevel } from '../../units/decibel.ts'

/** At least so many points, and so many times the way over which they go together, tell how. */
const FEWEST_POINTS = 400
const FEWEST_LENGTHS = 8
/** Readings below nothing are clipped to the lowest one where so many are alike; else they are folded up. */
const CLIPPED = 0.2

/**
 * How long a receiver's noise goes together, from where there is no light: 1 + 2·Σρ, as if it fell off exponentially, by where
 * it has fallen to a half. Instruments show noise without its sign: clipped, its signs agree in a part 1/2 + asin(ρ)/π (the
 * arcsine law), folded, its sizes correlate as (2/π)(√(1 − ρ²) + ρ·asin ρ − 1)/(1 − 2/π) (normal noise; both from memory).
 * @param from,to points without light
 * @returns points; null where there are too few
 */
export function floorCorrelation(levels: Float64Array, from: number, to: number): number | null {
  const count = to - from
  if (count < FEWEST_POINTS) return null
  const power = Float64Array.from({ length: count }, (_, k) => powerFromDisplayLevel(levels[from + k]!))
  const lowest = power.reduce((least, one) => Math.min(least, one), Infinity)
  const atLowest = power.reduce((sum, one) => (one <= lowest * 1.001 ? sum + 1 : sum), 0)
  const isClipped = atLowest > CLIPPED * count
  const values = isClipped ? power.map((one) => (one <= lowest * 1.001 ? -1 : 1)) : power
  const mean = values.reduce((sum, one) => sum + one, 0) / count
  const variance = values.reduce((sum, one) => sum + (one - mean) ** 2, 0) / count
  if (!(variance > 0)) return null
  const alike = (lag: number) => {
    let sum = 0
    for (let i = 0; i + lag < count; i++) sum += (values[i]! - mean) * (values[i + lag]! - mean)
    const seen = sum / (count - lag) / variance
    return isClipped ? Math.sin((Math.PI / 2) * Math.min(1, seen)) : unfolded(seen)
  }
  let [lag, before, now] = [1, 1, alike(1)]
  if (now < 0.5) return (1 + Math.max(0, now)) / (1 - Math.max(0, now))
  let last = 0
  while (now >= 0.5) {
    last = lag
    before = now
    lag = Math.ceil(lag * 1.25)
    if (FEWEST_LENGTHS * lag > count) return null
    now = alike(lag)
  }
  const half = last + ((lag - last) * (before - 0.5)) / (before - now)
  return Math.max(1, (2 * half) / Math.LN2)
}

/** ρ of normal noise whose sizes correlate so. */
function unfolded(seen: number): number {
  let [low, high] = [0, 1]
  for (let round = 0; round < 20; round++) {
    const rho = (low + high) / 2
    const folded = ((2 / Math.PI) * (Math.sqrt(1 - rho * rho) + rho * Math.asin(rho) - 1)) / (1 - 2 / Math.PI)
    if (folded < seen) low = rho
    else high = rho
  }
  return low
}

import { describe, expect, it } from 'vitest'
import { seededRandom } from '../../math/random.ts'
import { floorCorrelation } from './floorCorrelation.ts'

/** First-order autoregressive noise where there is no light, as an instrument shows it. */
function dark(keep: number, shown: 'clipped' | 'folded', seed: number, points = 20_000): Float64Array {
  const random = seededRandom(seed)
  let state = random.normal()
  return Float64Array.from({ length: points }, () => {
    state = keep * state + Math.sqrt(1 - keep * keep) * random.normal()
    const power = shown === 'folded' ? Math.abs(state) : state
    return power > 0 ? 5 * Math.log10(1e-5 * power) : -65.535
  })
}

describe('how long a receiver’s noise goes together, from where there is no light', () => {
  it.each([0, 0.6, 0.9, 0.97])('is (1 + ρ)/(1 − ρ) of first-order autoregressive noise (ρ = %f)', (keep) => {
    // The textbook formula, written from memory.
    const expected = (1 + keep) / (1 - keep)
    for (const shown of ['clipped', 'folded'] as const) {
      const found = floorCorrelation(dark(keep, shown, 5), 0, 20_000)!
      expect(found / expected, shown).toBeGreaterThan(0.75)
      expect(found / expected, shown).toBeLessThan(1.35)
    }
  })

  it('is not told by too few points', () => {
    expect(floorCorrelation(dark(0.9, 'folded', 1, 300), 0, 300)).toBeNull()
  })
})

import { standardDeviation } from 'simple-statistics'
import { describe, expect, it } from 'vitest'
import { seededRandom } from '../../math/random.ts'
import { takeOffLogBias } from './logBias.ts'
import { estimateNoise, meanSigma, medianOf, sigmaAt } from './noise.ts'

const N = 20_000

/** A straight fiber whose receiver adds noise of constant power; neighbouring points share part of it. */
function receiver(
  sigmaPower: number,
  keep: number,
  seed = 1,
  slope = -0.0004,
): { levels: Float64Array; noise: number[] } {
  const random = seededRandom(seed)
  const noise: number[] = []
  let state = random.normal()
  const levels = Float64Array.from({ length: N }, (_, i) => {
    noise.push(sigmaPower * state)
    const power = 10 ** ((-5 + slope * i) / 5) + sigmaPower * state
    state = keep * state + Math.sqrt(1 - keep * keep) * random.normal()
    return power > 0 ? 5 * Math.log10(power) : -65
  })
  return { levels, noise }
}

describe('noise told from a trace', () => {
  it('grows towards the floor as a constant power does on a falling level: σ dB = 5/ln 10 · σ/P', () => {
    const sigma = 1e-5
    const found = estimateNoise(receiver(sigma, 0).levels, 5)
    for (const i of [2000, 8000, 14_000]) {
      const level = -5 - 0.0004 * i
      const expected = (5 / Math.LN10) * (sigma / 10 ** (level / 5))
      expect(sigmaAt(found, i) / expected).toBeGreaterThan(0.85)
      expect(sigmaAt(found, i) / expected).toBeLessThan(1.15)
    }
  })

  it.each([0, 0.6, 0.9, 0.97])('that neighbours share (ρ = %f) is found: (1 + ρ)/(1 − ρ)', (keep) => {
    // Variance of a mean of first-order autoregressive noise: the textbook formula, written from memory.
    const expected = (1 + keep) / (1 - keep)
    const { correlation } = estimateNoise(receiver(1e-5, keep, 3).levels, 120)
    expect(correlation / expected).toBeGreaterThan(0.7)
    expect(correlation / expected).toBeLessThan(1.5)
  })

  it('makes the scatter of means what it says', () => {
    const { levels } = receiver(2e-4, 0.8, 5, 0)
    const noise = estimateNoise(levels, 40)
    const w = 200
    const means = Array.from({ length: N / w }, (_, k) => {
      let sum = 0
      for (let i = k * w; i < (k + 1) * w; i++) sum += levels[i]!
      return sum / w
    })
    const stated = meanSigma(noise, N / 2, w)
    expect(standardDeviation(means) / stated).toBeGreaterThan(0.75)
    expect(standardDeviation(means) / stated).toBeLessThan(1.3)
  })

  it('is not taken in by strong reflections with slow recovery', () => {
    const { levels } = receiver(1e-5, 0)
    const clean = sigmaAt(estimateNoise(levels, 20), 10_300)
    for (let i = 10_000; i < 11_000; i++) levels[i]! += 12 * Math.exp(-(i - 10_000) / 200)
    expect(sigmaAt(estimateNoise(levels, 20), 11_500) / clean).toBeLessThan(1.6)
  })

  it('beyond a fiber’s end is the receiver’s own, whether readings are clipped or folded', () => {
    const random = seededRandom(9)
    for (const fold of [true, false]) {
      const levels = Float64Array.from({ length: N }, (_, i) => {
        const power = (i < 12_000 ? 10 ** (-8 / 5) : 0) + 1e-4 * random.normal()
        const shown = fold ? Math.abs(power) : power
        return shown > 0 ? 5 * Math.log10(shown) : -65.535
      })
      const { power } = estimateNoise(levels, 5)
      expect(power.at(-20)! / 1e-4).toBeGreaterThan(0.7)
      expect(power.at(-20)! / 1e-4).toBeLessThan(1.4)
    }
  })
})

describe('the logarithm’s bias', () => {
  it('is taken off: the mean level is that of the mean power', () => {
    const random = seededRandom(2)
    const power = 10 ** (-10 / 5)
    const levels = Float64Array.from(
      { length: N },
      () => 5 * Math.log10(Math.max(1e-9, power * (1 + 0.15 * random.normal()))),
    )
    const noise = estimateNoise(levels, 5)
    const mean = (values: Float64Array) => values.reduce((sum, value) => sum + value, 0) / values.length
    // Second order: σ²·ln 10/10 with σ = 0.326 dB is 0.0245 dB.
    expect(mean(levels)).toBeLessThan(-10.018)
    takeOffLogBias(levels, noise)
    expect(Math.abs(mean(levels) + 10)).toBeLessThan(0.006)
  })
})

it('the median of an even number of values is between the two in the middle', () => {
  expect(medianOf(Float64Array.of(4, 1, 3, 2))).toBe(2.5)
  expect(medianOf(Float64Array.of(5, 1, 3))).toBe(3)
})

describe('noise beside a strong reflection', () => {
  it('is that of the fiber before it, not that of the reflection', () => {
    for (let seed = 1; seed <= 10; seed++) {
      const pulse = 400
      const { levels } = receiver(2e-4, 0.9, seed, -0.0002)
      // A fiber that ends at 15,000 in a strong reflection, with another one before it; the receiver recovers slowly.
      const random = seededRandom(seed + 50)
      levels.forEach((level, i) => {
        const high = (at: number) => (i >= at && i < at + pulse ? 1 : 0)
        const tail = 0.05 * Math.exp((15_000 + pulse - i) / 700)
        if (i >= 15_000 + pulse) levels[i] = 5 * Math.log10(Math.abs(tail + 2e-4 * random.normal()) + 1e-12)
        else levels[i] = level + 3 * high(15_000 - 3 * pulse) + 5 * high(15_000)
      })
      const noise = estimateNoise(levels, pulse)
      const expected = (i: number) => ((5 / Math.LN10) * 2e-4) / 10 ** ((-5 - 0.0002 * i) / 5)
      for (const i of [8000, 12_000, 13_500, 14_500]) {
        expect(sigmaAt(noise, i) / expected(i), `seed ${seed}, ${i}`).toBeGreaterThan(0.4)
        expect(sigmaAt(noise, i) / expected(i), `seed ${seed}, ${i}`).toBeLessThan(2.5)
      }
    }
  })
})

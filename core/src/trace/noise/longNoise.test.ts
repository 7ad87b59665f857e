import { describe, expect, it } from 'vitest'
import { seededRandom } from '../../math/random.ts'
import { longNoiseOf, wholeCorrelation } from './longNoise.ts'

const PULSE = 20e-9
const POINTS = 12

/** A fiber whose light is rough alike over a pulse, as a moving mean of independent speckle is, with a receiver's noise. */
function rough(roughness: number, receiver: number, seed: number): Float64Array {
  const random = seededRandom(seed)
  const n = 40_000
  const speckle = Array.from({ length: n + POINTS }, () => random.normal())
  return Float64Array.from({ length: n }, (_, i) => {
    let sum = 0
    for (let k = 0; k < POINTS; k++) sum += speckle[i + k]!
    const light = 10 ** ((-4 - 2e-4 * i) / 5)
    return 5 * Math.log10(light * (1 + (roughness * sum) / Math.sqrt(POINTS)) + receiver * random.normal())
  })
}

describe('noise of long means', () => {
  it('is roughness of the light and noise of the receiver, each for itself', () => {
    // Relative standard deviation 1/√(source width × pulse): 450 GHz and 20 ns give 0.0105, which is 0.023 dB on the display
    // (Shimizu et al., Journal of Lightwave Technology 10 (1992) 982, from memory).
    const roughness = 1 / Math.sqrt(450e9 * PULSE)
    expect((5 / Math.LN10) * roughness).toBeCloseTo(0.023, 3)
    for (let seed = 1; seed <= 5; seed++) {
      const told = longNoiseOf(rough(roughness, 2e-4, seed), { points: POINTS, width: PULSE }, () => true)!
      expect(Math.sqrt(told.roughness / POINTS) / roughness).toBeGreaterThan(0.8)
      expect(Math.sqrt(told.roughness / POINTS) / roughness).toBeLessThan(1.25)
      expect(Math.sqrt(told.receiver) / 2e-4).toBeGreaterThan(0.7)
      expect(Math.sqrt(told.receiver) / 2e-4).toBeLessThan(1.4)
    }
  })

  it('is all the receiver’s where light is not coherent', () => {
    const { roughness, receiver } = longNoiseOf(rough(0, 2e-4, 1), { points: POINTS, width: Infinity }, () => true)!
    expect(roughness).toBe(0)
    expect(Math.sqrt(receiver) / 2e-4).toBeGreaterThan(0.85)
    expect(Math.sqrt(receiver) / 2e-4).toBeLessThan(1.15)
  })

  it('joints that stand a few pulses apart do not count as noise, however long the noise beyond the end is', () => {
    const random = seededRandom(2)
    const [points, lit] = [200, 12_000]
    const joints = Array.from({ length: 14 }, (_, k) => ({ at: 600 + 800 * k, loss: 0.15 * (k % 2 ? -1 : 1) }))
    const levels = Float64Array.from({ length: 30_000 }, (_, i) => {
      const lost = joints.reduce((sum, { at, loss }) => sum + loss * Math.min(1, Math.max(0, (i - at) / points)), 0)
      const light = i < lit ? 10 ** ((-4 - 1e-4 * i - lost) / 5) : 0
      return 5 * Math.log10(Math.max(1e-12, light + 2e-4 * random.normal()))
    })
    const { receiver } = longNoiseOf(levels, { points, width: 10e-6 }, (i) => i < lit)!
    expect(Math.sqrt(receiver) / 2e-4).toBeGreaterThan(0.7)
    expect(Math.sqrt(receiver) / 2e-4).toBeLessThan(1.6)
  })

  it('is not told from a few windows', () => {
    expect(longNoiseOf(new Float64Array(50), { points: POINTS, width: PULSE }, () => true)).toBeNull()
  })

  it('correlation that a window hardly holds is more than the window shows, and never less', () => {
    expect(wholeCorrelation(1, 100, 100)).toBeCloseTo(1, 1)
    expect(wholeCorrelation(20, 400, 400)).toBeGreaterThan(20)
    expect(wholeCorrelation(20, 400, 400)).toBeLessThan(23)
  })
})

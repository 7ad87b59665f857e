import { sampleCovariance, standardDeviation } from 'simple-statistics'
import { describe, expect, it } from 'vitest'
import type { FiberModel } from './fiberModel.ts'
import { averagingStages, shoot, type Instrument } from './otdr.ts'
import { seededRandom } from '../math/random.ts'

const NOISY: Instrument = {
  name: 'noisy',
  noisePower: -66,
  saturation: -20,
  timeConstant: 0,
  backscatterSetting: null,
}
const SETTINGS = { wavelength: 1550, pulseWidth: 100e-9, spacing: 1, range: 9000, averages: 50_000, groupIndex: 1.468 }
const FIBER: FiberModel = {
  elements: [{ kind: 'span', length: 8000, attenuation: 0.2e-3, backscatter: -82, groupIndex: 1.468 }],
  endReflectance: null,
}

describe('a shot while its averages add up', () => {
  const stages = averagingStages(FIBER, NOISY, SETTINGS, seededRandom(5))
  /** Noise as power at each point of a stage, on the fiber alone. */
  const noiseOf = (stage: (typeof stages)[number]) => {
    const clean = shoot(FIBER, { ...NOISY, noisePower: -200 }, SETTINGS, seededRandom(1)).levels
    return [...stage.levels.subarray(500, 4500)].map((level, i) => 10 ** (level / 5) - 10 ** (clean[500 + i]! / 5))
  }

  it('doubles from the first stage to all averages, and ends as the shot itself', () => {
    expect(stages.map(({ averages }) => averages)).toEqual([1024, 2048, 4096, 8192, 16_384, 32_768, 50_000])
    expect(stages.at(-1)!.levels).toEqual(shoot(FIBER, NOISY, SETTINGS, seededRandom(5)).levels)
  })

  it('has noise that falls as one over the root of the averages', () => {
    const last = standardDeviation(noiseOf(stages.at(-1)!))
    for (const stage of stages) {
      const expected = Math.sqrt(SETTINGS.averages / stage.averages)
      expect(standardDeviation(noiseOf(stage)) / last / expected).toBeGreaterThan(0.93)
      expect(standardDeviation(noiseOf(stage)) / last / expected).toBeLessThan(1.07)
    }
  })

  it('is one history: what two stages have in common is all of the later one’s noise', () => {
    // Cov(B(n)/n, B(m)/m) = 1/m for n < m: the variance of the later mean.
    const [early, late] = [noiseOf(stages[3]!), noiseOf(stages[5]!)]
    expect(Math.abs(sampleCovariance(early, late) / standardDeviation(late) ** 2 - 1)).toBeLessThan(0.12)
  })
})

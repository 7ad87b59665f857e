import { describe, expect, it } from 'vitest'
import { seededRandom } from '../../math/random.ts'
import { estimateNoise } from '../noise/noise.ts'
import { PrefixSums } from '../noise/prefixSums.ts'
import { findSteps, smallestStepSeen, type StepSearch } from './steps.ts'

function series(options: { n?: number; sigma: number; seed: number; slope?: number; steps?: [number, number][] }) {
  const { n = 8000, sigma, seed, slope = 0, steps = [] } = options
  const random = seededRandom(seed)
  return Float64Array.from({ length: n }, (_, i) => {
    let level = slope * i
    for (const [at, rise] of steps) if (i >= at) level += rise
    return level + sigma * random.normal()
  })
}

function search(values: Float64Array, change: Partial<StepSearch> = {}): StepSearch {
  return {
    sums: new PrefixSums(values),
    noise: estimateNoise(values, 4),
    gap: 6,
    slope: 0,
    slopeSigma: 1e-6,
    from: 0,
    to: values.length,
    ...change,
  }
}

describe('steps in a series', () => {
  it('are found in their order with their size', () => {
    const steps: [number, number][] = [
      [2000, -0.3],
      [3500, 0.2],
      [6000, -0.1],
    ]
    const found = findSteps(search(series({ sigma: 0.03, seed: 4, steps })))
    expect(found).toHaveLength(3)
    found.forEach((step, k) => {
      expect(Math.abs(step.index - steps[k]![0])).toBeLessThan(25)
      expect(step.rise).toBeCloseTo(steps[k]![1], 1)
    })
  })

  it('are false no oftener than is stated, in short series and long ones', () => {
    for (const [n, seeds] of [
      [1500, 300],
      [3000, 200],
      [20_000, 40],
    ] as const) {
      let false_ = 0
      for (let seed = 1; seed <= seeds; seed++)
        false_ += findSteps(search(series({ sigma: 0.05, seed, n }), { falseAlarm: 0.05 })).length > 0 ? 1 : 0
      // 5 %, and two standard deviations of the count.
      expect(false_, `${n} points`).toBeLessThanOrEqual(0.05 * seeds + 2 * Math.sqrt(0.05 * 0.95 * seeds))
    }
  })

  it('are not made of a slope that differs from the expected one', () => {
    const values = series({ sigma: 0.01, seed: 8, slope: -3e-5 })
    expect(findSteps(search(values, { slope: -2e-5, slopeSigma: 2e-5 }))).toEqual([])
  })

  it('are seen down to the size that the search says, and not far below it', () => {
    const base = search(series({ sigma: 0.05, seed: 3 }))
    const limit = smallestStepSeen(base, 4000, 3900)
    const seen = (rise: number) => {
      let count = 0
      for (let seed = 1; seed <= 40; seed++)
        count += findSteps(search(series({ sigma: 0.05, seed: 100 + seed, steps: [[4000, rise]] }))).length > 0 ? 1 : 0
      return count / 40
    }
    expect(seen(1.6 * limit)).toBeGreaterThan(0.9)
    expect(seen(0.4 * limit)).toBeLessThan(0.4)
  })

  it('smaller than asked for are left alone', () => {
    const values = series({ sigma: 0.001, seed: 5, steps: [[4000, -0.01]] })
    expect(findSteps(search(values, { smallest: 0.02 }))).toEqual([])
    expect(findSteps(search(values, { smallest: 0.005 }))).toHaveLength(1)
  })
})

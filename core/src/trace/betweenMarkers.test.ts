import { linearRegression, standardDeviation } from 'simple-statistics'
import { describe, expect, it } from 'vitest'
import { seededRandom } from '../math/random.ts'
import { betweenMarkers } from './betweenMarkers.ts'

function fiber(options: { sigma?: number; keep?: number; seed?: number; n?: number } = {}): Float64Array {
  const { sigma = 0, keep = 0, seed = 1, n = 2000 } = options
  const random = seededRandom(seed)
  let state = random.normal()
  return Float64Array.from({ length: n }, (_, i) => {
    state = keep * state + Math.sqrt(1 - keep * keep) * random.normal()
    return -5 - 0.2e-3 * 2 * i + sigma * state
  })
}

describe('between two markers', () => {
  it('without noise both ways read the same: 0.2 dB/km over 2 km is 0.4 dB', () => {
    const read = betweenMarkers(fiber(), 2, 500, 1500)!
    expect(read.length).toBe(2000)
    expect(read.twoPoint).toBeCloseTo(0.4, 9)
    expect(read.leastSquares).toBeCloseTo(0.4, 9)
    expect(read.attenuation * 1000).toBeCloseTo(0.2, 9)
  })

  it('the slope is that of the statistics package', () => {
    const levels = fiber({ sigma: 0.05 })
    const points = Array.from(levels.slice(300, 901), (y, i) => [i * 2, y])
    expect(betweenMarkers(levels, 2, 300, 900)!.attenuation).toBeCloseTo(-linearRegression(points).m, 12)
  })

  it.each([0, 0.7])('the stated uncertainties are the scatter over repeated traces (ρ = %f)', (keep) => {
    const reads = Array.from({ length: 200 }, (_, k) =>
      betweenMarkers(fiber({ sigma: 0.04, keep, seed: 50 + k }), 2, 200, 900)!,
    )
    const ratio = (pick: (read: (typeof reads)[number]) => number, stated: number) =>
      standardDeviation(reads.map(pick)) / stated
    const middle = reads[100]!
    for (const one of [
      ratio((read) => read.twoPoint, middle.twoPointSigma),
      ratio((read) => read.leastSquares, middle.leastSquaresSigma),
      ratio((read) => read.attenuation, middle.attenuationSigma),
    ]) {
      expect(one).toBeGreaterThan(0.8)
      expect(one).toBeLessThan(1.25)
    }
  })

  it('least squares is surer than two points', () => {
    const read = betweenMarkers(fiber({ sigma: 0.05 }), 2, 200, 1200)!
    expect(read.leastSquaresSigma).toBeLessThan(0.2 * read.twoPointSigma)
  })

  it('in either order reads the same', () => {
    const levels = fiber({ sigma: 0.02 })
    expect(betweenMarkers(levels, 2, 900, 300)).toEqual(betweenMarkers(levels, 2, 300, 900))
  })

  it('too close, or where there is nothing, reads nothing', () => {
    expect(betweenMarkers(fiber(), 2, 100, 103)).toBeNull()
    const gap = fiber()
    gap[500] = NaN
    expect(betweenMarkers(gap, 2, 400, 600)).toBeNull()
  })
})

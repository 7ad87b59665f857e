import { describe, expect, it } from 'vitest'
import { standardDeviation } from 'simple-statistics'
import { seededRandom } from '../math/index.ts'
import { oneWaySpread } from './joinedFibers.ts'

describe('a joint of two strange fibers read from one end', () => {
  it('is off by half the difference of what they scatter, within G.652’s tolerance of the mode field: 0.154 dB', () => {
    // By hand: 10/ln 10 · (0.4/9.2)/√3 · √2.
    expect(oneWaySpread('G.652.D')).toBeCloseTo(0.1542, 4)
  })

  it('of multimode fiber by its aperture’s: 0.266 dB', () => {
    // By hand: 10/ln 10 · (0.015/0.2)/√3 · √2.
    expect(oneWaySpread('OM3')).toBeCloseTo(0.266, 3)
  })

  it('as drawn fibers are: mode fields anywhere in 9.2 ± 0.4 µm, light caught in proportion to 1/w² (Derickson)', () => {
    const random = seededRandom(3)
    const caught = () => -20 * Math.log10(9.2 + 0.4 * (2 * random.uniform() - 1))
    const off = Array.from({ length: 20_000 }, () => (caught() - caught()) / 2)
    expect(standardDeviation(off) / oneWaySpread('G.652.D')).toBeCloseTo(1, 1)
  })
})

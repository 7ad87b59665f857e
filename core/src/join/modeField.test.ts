import { describe, expect, it } from 'vitest'
import { CodedError } from '../errors/index.ts'
import { gaussianOverlapLoss } from '../sim/bench/gaussianOverlap.ts'
import { mismatchLoss, offsetLoss, oneWayBias, tiltLoss } from './index.ts'

describe('loss of a splice by D. Marcuse, Bell System Technical Journal 56(5), 1977', () => {
  // Computed from the formulas by hand.
  it('offset of 1 µm at a mode field radius of 4.6 µm: 0.205 dB', () => {
    expect(offsetLoss(1, 4.6)).toBeCloseTo(0.205, 3)
  })
  it('mode fields of 9.2 and 8.6 µm: 0.020 dB, either way, and none of equal ones', () => {
    expect(mismatchLoss(9.2, 8.6)).toBeCloseTo(0.02, 3)
    expect(mismatchLoss(8.6, 9.2)).toBe(mismatchLoss(9.2, 8.6))
    expect(mismatchLoss(9.2, 9.2)).toBe(0)
  })
  it('half a degree at 1310 nm: 0.087 dB', () => {
    expect(tiltLoss(0.5, 4.6, 1.31)).toBeCloseTo(0.087, 3)
  })

  // The formulas are the overlap integral of two Gaussian fields in closed form: summed numerically it must agree.
  it.each([
    [4.6, 4.6, 0.5, 0],
    [4.6, 4.6, 1.5, 0],
    [4.6, 3.75, 0, 0],
    [4.6, 4.6, 0, 0.4],
  ])('agrees with the overlap integral: radii %f and %f µm, %f µm beside, %f°', (a, b, offset, tilt) => {
    const formula = mismatchLoss(a, b) + offsetLoss(offset, (a + b) / 2) + tiltLoss(tilt, (a + b) / 2, 1.31)
    expect(gaussianOverlapLoss(a, b, offset, tilt, 1.31)).toBeCloseTo(formula, 3)
  })

  it('a one-way trace shows less into a smaller field, more into a larger one, and both together nothing', () => {
    expect(oneWayBias(9.2, 8.6)).toBeCloseTo(-0.293, 3)
    expect(oneWayBias(9.2, 8.6) + oneWayBias(8.6, 9.2)).toBeCloseTo(0, 12)
  })

  it.each([0, -1, NaN])('a field of %f is none', (size) => {
    expect(() => mismatchLoss(size, 9)).toThrow(CodedError)
    expect(() => offsetLoss(1, size)).toThrow(CodedError)
    expect(() => tiltLoss(1, 4.6, size)).toThrow(CodedError)
  })
})

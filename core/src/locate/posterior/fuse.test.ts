import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { twoCablePlant } from '../../../test/plants.ts'
import { calibrate } from '../records/calibrate.ts'
import type { Candidate } from './candidates.ts'
import { fuse } from './fuse.ts'

const calibration = calibrate(twoCablePlant(), 'l', [])
/** A place that the records' errors do not move. */
const FIRM = new Float64Array(calibration.errors.parameters.length)
const seen = (given: Partial<Candidate>): Candidate => ({
  direction: 'ab',
  wavelength: 1550,
  breaks: false,
  loss: 0.5,
  lossSigma: 0.01,
  reflects: false,
  reflectance: null,
  measured: 1000,
  fiber: 1000,
  sigma: 4,
  systematic: 0,
  sensitivity: FIRM,
  instrument: '',
  pulseLength: 10,
  extent: 0,
  readOut: false,
  ...given,
})

describe('what several shots show at one place', () => {
  it('from both ends is their mean, each by its weight', () => {
    const [fault] = fuse(calibration, [
      seen({ fiber: 1000, sigma: 3 }),
      seen({ direction: 'ba', fiber: 1010, sigma: 6 }),
    ])
    // Weights 1/9 and 1/36: 1000 + 10/5; 1/√(1/9 + 1/36) = √7.2 m. The hundredth of a m² is lost in the rounding.
    expect(fault!.fiber).toBeCloseTo(1002, 1)
    expect(fault!.sigma).toBeCloseTo(Math.sqrt(7.2), 1)
  })

  it('from one end at two wavelengths is no surer than what its instrument does to both alike', () => {
    const both = [1310, 1550].map((wavelength) => seen({ wavelength, sigma: 5, systematic: 4 }))
    // Mean of two of variance 25 with 16 in common: (25 + 16)/2.
    expect(fuse(calibration, both)[0]!.sigma).toBeCloseTo(Math.sqrt(20.5), 1)
  })

  it('from both ends by one instrument is surer than by two: what its pulse does to an edge lies on opposite sides', () => {
    const ends = (instrument: string) =>
      fuse(
        calibration,
        (['ab', 'ba'] as const).map((direction) => seen({ direction, instrument, sigma: 5, systematic: 4 })),
      )[0]!.sigma
    // Mean of two of variance 25, and three tenths of 16 against each other: (25 − 4.8)/2.
    expect(ends('one')).toBeCloseTo(Math.sqrt(10.1), 1)
    expect(ends('')).toBeCloseTo(Math.sqrt(12.5), 1)
  })

  it('that is spread in one trace may be anywhere in its stretch, though another shows it as a point', () => {
    const point = seen({ fiber: 1040, sigma: 2 })
    const spread = seen({ direction: 'ba', extent: 120, sigma: 35 })
    const faults = fuse(calibration, [point, spread])
    expect(faults).toHaveLength(1)
    // A place in a stretch of 120 m: 120/√12 m, half of it shared by both shots.
    expect(faults[0]!.sigma).toBeGreaterThanOrEqual(120 / Math.sqrt(12) / Math.sqrt(2))
    expect(1.96 * faults[0]!.sigma).toBeLessThan(120)
  })

  it('as two steps where another shows one spread loss is one fault, with the loss of both', () => {
    const steps = [seen({ fiber: 960, loss: 0.16 }), seen({ fiber: 1050, loss: 0.41 })]
    const faults = fuse(calibration, [...steps, seen({ direction: 'ba', extent: 160, sigma: 46, loss: 0.58 })])
    expect(faults).toHaveLength(1)
    const own = faults[0]!.candidates.find(({ direction }) => direction === 'ab')!
    expect(own.loss).toBeCloseTo(0.57, 9)
    expect(own.extent).toBeCloseTo(90, 9)
  })

  it('far apart is two faults', () => {
    expect(fuse(calibration, [seen({}), seen({ direction: 'ba', fiber: 1100 })])).toHaveLength(2)
  })

  it('has a place and some doubt, whatever the shots share', () => {
    const shot = fc.record({
      fiber: fc.double({ min: 950, max: 1050, noNaN: true }),
      sigma: fc.double({ min: 0.2, max: 80, noNaN: true }),
      systematic: fc.double({ min: 0, max: 300, noNaN: true }),
      extent: fc.constantFrom(0, 0, 60, 280),
    })
    fc.assert(
      fc.property(fc.array(shot, { minLength: 4, maxLength: 4 }), (shots) => {
        const candidates = shots.map((given, k) =>
          seen({ ...given, direction: k % 2 === 0 ? 'ab' : 'ba', wavelength: k < 2 ? 1310 : 1550 }),
        )
        for (const { fiber, sigma } of fuse(calibration, candidates)) {
          expect(sigma).toBeGreaterThan(0)
          expect(Number.isFinite(fiber)).toBe(true)
        }
      }),
      { endOnFailure: true, numRuns: 300 },
    )
  })
})

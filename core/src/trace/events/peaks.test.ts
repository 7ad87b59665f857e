import { describe, expect, it } from 'vitest'
import { drawTrace, type Drawn } from '../../../test/straightTrace.ts'
import { seededRandom } from '../../math/random.ts'
import { estimateNoise } from '../noise/noise.ts'
import { findPeaks, type Peak } from './peaks.ts'
import { PrefixSums } from '../noise/prefixSums.ts'
import { measuredResponse, nominalResponse } from './response.ts'

const SPACING = 1
const PULSE = 200e-9
/** Points of the pulse: 20.4 m. */
const POINTS = (299_792_458 * PULSE) / (2 * 1.468) / SPACING

function peaksOf(drawn: Drawn, levels?: (levels: Float64Array) => Float64Array) {
  const trace = drawTrace({ pulseWidth: PULSE, spacing: SPACING, points: 8000, ...drawn })
  if (levels) trace.levels = levels(trace.levels)
  const noise = estimateNoise(trace.levels, POINTS)
  const sums = new PrefixSums(trace.levels)
  const search = {
    levels: trace.levels,
    sums,
    noise,
    pulsePoints: POINTS,
    slope: -0.2e-3 * SPACING,
    from: 100,
    to: trace.levels.length,
  }
  return { trace, noise, sums, peaks: findPeaks(search) }
}

describe('reflections', () => {
  it.each([0.5, 2, 8, 15])('%f dB high begin where they were put, between points', (height) => {
    for (const at of [3000, 3000.37, 3000.81]) {
      const [peak, ...others] = peaksOf({ peaks: [{ at, height }] }).peaks
      expect(others).toEqual([])
      expect(Math.abs(peak!.start - at)).toBeLessThan(1)
      expect(peak!.height).toBeCloseTo(height, 0)
      expect(peak!.settled).toBeGreaterThan(at + POINTS)
      expect(peak!.settled).toBeLessThan(at + 3 * POINTS)
    }
  })

  it('are none of the noise beside an end, in a block of which most is dark, or in the weak light behind it', () => {
    // A break wherever it lies in its block, and a tail 7 dB below the fiber that falls by e in 65 m behind it.
    for (let seed = 0; seed < 20; seed++) {
      const end = 3000 + 2.1 * seed
      const random = seededRandom(seed + 1)
      const levels = Float64Array.from({ length: 8000 }, (_, x) => {
        const fiber = x < end ? 10 ** ((-15 - 0.2e-3 * x) / 5) : 0
        const peak = x >= end && x < end + POINTS ? 0.5 : 0
        const tail = x >= end ? 2e-5 * Math.exp(-(x - end) / 65) : 0
        return 5 * Math.log10(Math.abs(fiber + peak + tail + 2e-6 * random.normal()))
      })
      const { peaks } = peaksOf({}, () => levels)
      const [own, ...others] = peaks.filter(({ start }) => start < end + 400)
      expect(Math.abs(own!.start - end)).toBeLessThan(1)
      expect(others).toEqual([])
    }
  })

  it('are none where the trace only steps up: a gainer is no reflection', () => {
    expect(peaksOf({ steps: [{ at: 3000, rise: 0.2 }] }).peaks).toEqual([])
  })

  it('are none where a long pulse falls along a steep fiber', () => {
    expect(peaksOf({ attenuation: 0.4e-3, pulseWidth: 2e-6 }).peaks).toEqual([])
  })

  it('two that stand clear of each other are two', () => {
    const { peaks } = peaksOf({
      peaks: [
        { at: 3000, height: 4 },
        { at: 3120, height: 3 },
      ],
    })
    expect(peaks.map((peak) => Math.round(peak.start / 10))).toEqual([300, 312])
  })

  it('one in another’s tail is found, and the first says that it is overlapped', () => {
    const tail = (levels: Float64Array) =>
      levels.map((level, i) => (i >= 3020 && i < 3300 ? level + 3 * Math.exp(-(i - 3020) / 60) : level))
    const { peaks } = peaksOf(
      {
        peaks: [
          { at: 3000, height: 8 },
          { at: 3080, height: 5 },
        ],
      },
      tail,
    )
    expect(peaks.length).toBeGreaterThanOrEqual(2)
    expect(peaks[0]!.overlapped).toBe(true)
    expect(Math.abs(peaks[1]!.start - 3080)).toBeLessThan(4)
  })

  it('a faint one just before a strong one is told by itself, as the last connection before a cord’s open end', () => {
    const { peaks } = peaksOf({
      peaks: [
        { at: 3000, height: 2 },
        { at: 3028, height: 16 },
      ],
    })
    expect(peaks.map((peak) => Math.round(peak.start))).toEqual([3000, 3028])
    expect(peaks[0]!.height).toBeCloseTo(2, 1)
    expect(peaks[0]!.overlapped).toBe(true)
  })

  it.each([24, 28, 36, 44])(
    'a faint one %i m before a strong one is told, wherever the strong one hides its fall',
    (apart) => {
      const { peaks } = peaksOf({
        peaks: [
          { at: 3000, height: 1 },
          { at: 3000 + apart, height: 16 },
        ],
      })
      expect(peaks.map((peak) => Math.round(peak.start))).toEqual([3000, 3000 + apart])
    },
  )

  it('at the receiver’s limit are saturated', () => {
    const [peak] = peaksOf({ peaks: [{ at: 3000, height: 20 }] }, (levels) =>
      levels.map((level) => Math.min(level, 0)),
    ).peaks
    expect(peak!.saturated).toBe(true)
  })
})

describe('the instrument’s response', () => {
  it('of a rectangular pulse has its middle at half the pulse', () => {
    const { trace, noise, sums, peaks } = peaksOf({ peaks: [{ at: 3000, height: 6 }], noise: 0.002 })
    const { middle } = measuredResponse(trace.levels, sums, noise, POINTS, trace.pulseWidth, peaks)
    expect(Math.abs(middle / POINTS - 0.5)).toBeLessThan(0.06)
  })

  it('with a slow fall has its middle later, and settles later', () => {
    const slow = (levels: Float64Array) =>
      levels.map((level, i) => {
        const after = i - (3000 + POINTS)
        return after >= 0
          ? 5 * Math.log10(10 ** (level / 5) * (1 + (10 ** (6 / 5) - 1) * Math.exp(-after / 10)))
          : level
      })
    const { trace, noise, sums, peaks } = peaksOf({ peaks: [{ at: 3000, height: 6 }], noise: 0.002 }, slow)
    const response = measuredResponse(trace.levels, sums, noise, POINTS, trace.pulseWidth, peaks)
    expect(response.middle / POINTS).toBeGreaterThan(0.65)
    expect(response.settled).toBeGreaterThan(1.4 * POINTS)
  })

  it('is the nominal one where no reflection is fit to tell: none, saturated, overlapped', () => {
    const { trace, noise, sums, peaks } = peaksOf({ peaks: [{ at: 3000, height: 6 }] })
    const unfit: Peak[][] = [
      [],
      peaks.map((peak) => ({ ...peak, saturated: true })),
      peaks.map((peak) => ({ ...peak, overlapped: true })),
    ]
    for (const list of unfit)
      expect(measuredResponse(trace.levels, sums, noise, POINTS, trace.pulseWidth, list)).toEqual(
        nominalResponse(POINTS, trace.pulseWidth),
      )
  })
})

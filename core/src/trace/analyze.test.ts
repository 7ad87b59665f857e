import { linearRegression, linearRegressionLine, standardDeviation } from 'simple-statistics'
import { describe, expect, it } from 'vitest'
import { drawTrace } from '../../test/straightTrace.ts'
import { peakFromReflectance } from '../fiber/index.ts'
import { seededRandom } from '../math/random.ts'
import { analyzeTrace } from './analyze.ts'
import { estimateNoise } from './noise/noise.ts'
import { lineAt, PrefixSums } from './noise/prefixSums.ts'

const inner = (trace: ReturnType<typeof drawTrace>) =>
  analyzeTrace(trace).events.filter((e) => e.kind !== 'start' && e.kind !== 'end')

describe('prefix sums', () => {
  const random = seededRandom(5)
  const values = Float64Array.from({ length: 5000 }, (_, i) => 3 - 0.01 * i + random.normal())

  it.each([
    [0, 5000],
    [10, 20],
    [4300, 4777],
    [4990, 4995],
  ])('fit the same line through points %i to %i as the statistics package', (from, to) => {
    const points = Array.from(values.slice(from, to), (y, i) => [from + i, y])
    const reference = linearRegressionLine(linearRegression(points))
    const line = new PrefixSums(values).line(from, to)!
    for (const x of [from, (from + to) / 2, to]) expect(lineAt(line, x)).toBeCloseTo(reference(x), 6)
  })

  it('leave out points that are not in use', () => {
    const use = new Uint8Array(5000).fill(1)
    const spoiled = Float64Array.from(values)
    for (let i = 1000; i < 1100; i++) {
      use[i] = 0
      spoiled[i] = 1e4
    }
    const kept = Array.from(values.slice(900, 1200), (y, i) => [900 + i, y] as [number, number]).filter(
      ([x]) => x < 1000 || x >= 1100,
    )
    const reference = linearRegression(kept)
    expect(new PrefixSums(spoiled, use).line(900, 1200)!.slope).toBeCloseTo(reference.m, 6)
  })
})

describe('noise', () => {
  it.each([0.003, 0.05, 0.3])('of %f dB is found from the trace itself, events or not', (noise) => {
    const trace = drawTrace({ noise, steps: [{ at: 4000, rise: -1 }], peaks: [{ at: 7000, height: 12 }] })
    const found = estimateNoise(trace.levels, 5)
    const typical = found.blocks.slice().sort()[found.blocks.length >> 1]!
    expect(typical / noise).toBeGreaterThan(0.9)
    expect(typical / noise).toBeLessThan(1.1)
  })
})

describe('events', () => {
  it('are none on a straight fiber, whatever the noise', () => {
    let false_ = 0
    for (let seed = 1; seed <= 60; seed++)
      false_ += inner(drawTrace({ seed, noise: [0.002, 0.02, 0.2][seed % 3]! })).length
    expect(false_).toBeLessThanOrEqual(2)
  })

  it('a splice of 0.10 dB is a step with its loss within its uncertainty', () => {
    const [event, ...others] = inner(drawTrace({ steps: [{ at: 5000, rise: -0.1 }] }))
    expect(others).toEqual([])
    expect(event!.kind).toBe('step')
    expect(Math.abs(event!.loss! - 0.1)).toBeLessThan(4 * event!.lossSigma!)
    expect(Math.abs(event!.distance - 5000)).toBeLessThan(4 * event!.distanceSigma)
  })

  it('a gainer has a negative loss', () => {
    const [event] = inner(drawTrace({ steps: [{ at: 5000, rise: 0.08 }] }))
    expect(event!.kind).toBe('gain')
    expect(event!.loss!).toBeCloseTo(-0.08, 1)
  })

  it('the stated uncertainty of a loss is its scatter over repeated traces', () => {
    const losses: number[] = []
    const sigmas: number[] = []
    for (let seed = 1; seed <= 120; seed++) {
      const [event] = inner(drawTrace({ seed, noise: 0.03, points: 6000, steps: [{ at: 3000, rise: -0.3 }] }))
      losses.push(event!.loss!)
      sigmas.push(event!.lossSigma!)
    }
    const stated = sigmas.sort((a, b) => a - b)[60]!
    expect(standardDeviation(losses) / stated).toBeGreaterThan(0.75)
    expect(standardDeviation(losses) / stated).toBeLessThan(1.3)
  })

  it('a reflection of −45 dB is found at its edge with its reflectance (IEC 61746-1 relation)', () => {
    const height = peakFromReflectance(-82, -45, 50e-9)
    const [event] = inner(drawTrace({ peaks: [{ at: 3000, height }], steps: [{ at: 3000, rise: -0.3 }] }))
    expect(event!.kind).toBe('reflective')
    expect(event!.reflectance!).toBeCloseTo(-45, 0)
    expect(event!.distance).toBeCloseTo(3000, -0.5)
    expect(event!.loss!).toBeCloseTo(0.3, 1)
  })

  it('a saturated peak gives a bound, not a figure', () => {
    const trace = drawTrace({ pulseWidth: 100e-9, peaks: [{ at: 3000, height: 30 }] })
    trace.levels = trace.levels.map((level) => Math.min(level, 0))
    const [event] = inner(trace)
    expect(event!.saturated).toBe(true)
    expect(event!.bound).toEqual({ reflectance: 'min' })
  })

  it.each([
    ['without a reflection', []],
    ['with a reflection', [{ at: 8000, height: 15 }]],
  ])('the fiber’s end is found %s', (_, peaks) => {
    const shape = peaks.length > 0 ? { end: 8000 + 5.1 } : { end: 8000 }
    const analysis = analyzeTrace(drawTrace({ ...shape, peaks }))
    const end = analysis.events.at(-1)!
    expect(end.kind).toBe('end')
    expect(Math.abs(end.distance - 8000)).toBeLessThan(4)
    expect(end.reflectance === null).toBe(peaks.length === 0)
    expect(analysis.loss!).toBeCloseTo(8000 * 0.2e-3, 1)
  })

  it('the section’s attenuation is the slope', () => {
    const { sections } = analyzeTrace(drawTrace({ attenuation: 0.35e-3, steps: [{ at: 6000, rise: -0.5 }] }))
    expect(sections).toHaveLength(2)
    for (const section of sections)
      expect(Math.abs(section.attenuation - 0.35e-3)).toBeLessThan(4 * section.attenuationSigma)
  })

  it('a trace that stops before the fiber does has no length and says why', () => {
    const analysis = analyzeTrace(drawTrace())
    expect(analysis.length).toBeNull()
    expect(analysis.why.length).toBe('below-noise')
    expect(analysis.warnings.map((w) => w.code)).toContain('no-end')
  })

  it('a trace of a few points is refused', () => {
    expect(() => analyzeTrace(drawTrace({ points: 20 }))).toThrow(/too short/)
  })

  it('has the return loss of a link computed by hand: backscatter of 9 km and one reflection', () => {
    const [attenuation, length, at, height, pulse] = [0.2e-3, 9000, 5000, 9, 50]
    const { orl, trace } = analyzeTrace(
      drawTrace({ attenuation, end: length, peaks: [{ at, height }], noise: 0.002, pulseWidth: pulse * 1e-9 }),
    )
    // Backscatter of 1 ns is −82 dB: ∫ 10^−8.2 · e^(−2αx) over the round-trip time in ns.
    const perNanosecond = 10 ** -8.2
    const alpha = (attenuation * Math.LN10) / 10
    const nanosecondsPerMetre = (2 * trace.groupIndex * 1e9) / 299_792_458
    const backscatter = (perNanosecond * nanosecondsPerMetre * (1 - Math.exp(-2 * alpha * length))) / (2 * alpha)
    // A reflection that stands 9 dB over the backscatter: R = B·W·(10^(H/5) − 1), weakened twice by the way to it.
    const reflection = perNanosecond * pulse * (10 ** (height / 5) - 1) * Math.exp(-2 * alpha * at)
    expect(Math.abs(orl! + 10 * Math.log10(backscatter + reflection))).toBeLessThan(0.1)
  })
})

describe('behind the front', () => {
  it('a low reflection of the port is over when it has fallen by half its own height, and joints soon behind it are found', () => {
    // 5 µs are 510 m; the reflection stands 0.8 dB over the fiber, which itself loses 1.5 dB in seven kilometres.
    const trace = drawTrace({
      points: 10_000,
      spacing: 5,
      pulseWidth: 5e-6,
      peaks: [{ at: 0, height: 0.8 }],
      steps: [{ at: 2600, rise: -0.3 }],
      noise: 0.003,
    })
    const { events } = analyzeTrace(trace)
    expect(events[0]!.settled).toBeLessThan(2600)
    const found = events.find(({ distance }) => Math.abs(distance - 2600) < 250)!
    expect(Math.abs(found.loss! - 0.3)).toBeLessThan(0.03)
  })
})

describe('events that run into each other', () => {
  // 50 ns is 5.1 m of fiber: two reflections 9 m apart leave no line between them.
  const pair = {
    noise: 0.005,
    peaks: [
      { at: 6000, height: 4 },
      { at: 6009, height: 3 },
    ],
    steps: [
      { at: 6000, rise: -0.3 },
      { at: 6009, rise: -0.2 },
    ],
  }

  it('have no loss of their own, but the loss of both as a bound', () => {
    for (let seed = 1; seed <= 20; seed++) {
      const close = analyzeTrace(drawTrace({ ...pair, seed })).events.filter(({ kind }) => kind === 'reflective')
      expect(close.map(({ loss }) => loss)).toEqual([null, null])
      for (const { together, why } of close) {
        expect(why).toEqual({ loss: 'overlap' })
        expect(together!.events).toBe(2)
        expect(Math.abs(together!.loss - 0.5)).toBeLessThan(5 * together!.sigma + 0.005)
      }
    }
  })

  it('are measured one by one where there is fiber between them', () => {
    const apart = {
      ...pair,
      peaks: [pair.peaks[0]!, { at: 6060, height: 3 }],
      steps: [pair.steps[0]!, { at: 6060, rise: -0.2 }],
    }
    const [first, second] = analyzeTrace(drawTrace(apart)).events.filter(({ kind }) => kind === 'reflective')
    expect(first!.together).toBeUndefined()
    expect(Math.abs(first!.loss! - 0.3)).toBeLessThan(4 * first!.lossSigma!)
    expect(Math.abs(second!.loss! - 0.2)).toBeLessThan(4 * second!.lossSigma!)
  })
})

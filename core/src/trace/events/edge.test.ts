import { levenbergMarquardt } from 'ml-levenberg-marquardt'
import { describe, expect, it } from 'vitest'
import { drawTrace } from '../../../test/straightTrace.ts'
import { analyzeTrace } from '../analyze.ts'
import { distanceOf } from '../trace.ts'

const TRUE_START = 5000.3
/** m on the display: 100 ns in glass of group index 1.468, one way. */
const PULSE = (299_792_458 * 100e-9) / (2 * 1.468)

/**
 * A registry package's nonlinear least squares on the same points: level, slope, step and the start of a linear edge,
 * one pulse long. It is told the edge's shape, which the analysis is not.
 */
function fittedStart(trace: ReturnType<typeof drawTrace>, around: number): { start: number; loss: number } {
  const inside = [...trace.levels.keys()].filter((i) => Math.abs(distanceOf(trace, i) - around) < 300)
  const data = { x: inside.map((i) => distanceOf(trace, i) - around), y: inside.map((i) => trace.levels[i]!) }
  const { parameterValues } = levenbergMarquardt(
    data,
    ([level, slope, loss, start]: number[]) =>
      (x: number) =>
        level! + slope! * x - loss! * Math.min(1, Math.max(0, (x - start!) / PULSE)),
    {
      initialValues: [data.y[0]!, -0.2e-3, 0.3, -3],
      damping: 1e-3,
      gradientDifference: [1e-4, 1e-7, 1e-4, 0.3],
      maxIterations: 200,
      errorTolerance: 1e-12,
    },
  )
  return { start: around + parameterValues[3]!, loss: parameterValues[2]! }
}

describe('the start of an edge', () => {
  it('lies where a nonlinear fit puts it that knows the edge’s shape, and is hardly less sharp', () => {
    const ours: number[] = []
    const theirs: number[] = []
    for (let seed = 1; seed <= 30; seed++) {
      // A reflection shows the pulse's shape, so that the analysis need not assume one.
      const trace = drawTrace({
        seed,
        noise: 0.01,
        pulseWidth: 100e-9,
        peaks: [{ at: 1000, height: 6 }],
        steps: [{ at: TRUE_START, rise: -0.3 }],
      })
      const step = analyzeTrace(trace).events.find(({ kind }) => kind === 'step')!
      const fit = fittedStart(trace, 5000)
      expect(Math.abs(step.distance - fit.start), `seed ${seed}`).toBeLessThan(4 * step.distanceSigma)
      // A step beside a slope of its own, in N points: σ·√(16/N), N being the fit's 600.
      const theirSigma = 0.01 * Math.sqrt(16 / 600)
      expect(Math.abs(step.loss! - fit.loss), `seed ${seed}`).toBeLessThan(4 * Math.hypot(step.lossSigma!, theirSigma))
      ours.push(step.distance - TRUE_START)
      theirs.push(fit.start - TRUE_START)
    }
    const rms = (values: number[]) => Math.sqrt(values.reduce((sum, v) => sum + v * v, 0) / values.length)
    expect(rms(theirs)).toBeLessThan(0.5)
    expect(rms(ours)).toBeLessThan(Math.max(1, 2.5 * rms(theirs)))
    // Thirty fits by the package take seconds where two runs share a processor.
  })

  it('between cables of different attenuation is where it is: the corner moves it by no more than is said', () => {
    // 0.19 dB/km before and 0.22 behind, 0.06 dB at the joint, a pulse of 100 m: with one slope for both sides the
    // corner would count as light of the step and move it by tens of metres.
    const offs: number[] = []
    for (let seed = 1; seed <= 20; seed++) {
      const trace = drawTrace({
        seed,
        points: 12_000,
        spacing: 2,
        noise: 0.008,
        attenuation: 0.19e-3,
        pulseWidth: 1000e-9,
        peaks: [{ at: 2000, height: 6 }],
        stretches: [{ from: 12_000, to: 24_000, extra: 0.03e-3 }],
        steps: [{ at: 12_000, rise: -0.06 }],
      })
      const step = analyzeTrace(trace).events.find(
        ({ kind, distance }) => kind === 'step' && Math.abs(distance - 12_000) < 300,
      )!
      offs.push((step.distance - 12_000) / step.distanceSigma)
    }
    const mean = offs.reduce((sum, off) => sum + off, 0) / offs.length
    expect(Math.abs(mean)).toBeLessThan(1)
    expect(offs.filter((off) => Math.abs(off) < 3).length).toBeGreaterThanOrEqual(19)
  })
})

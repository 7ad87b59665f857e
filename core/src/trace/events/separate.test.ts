import { describe, expect, it } from 'vitest'
import { drawTrace } from '../../../test/straightTrace.ts'
import { analyzeTrace } from '../analyze.ts'

/** m on the display: 500 ns in glass of group index 1.468, one way. */
const PULSE = (299_792_458 * 500e-9) / (2 * 1.468)
const FIRST = 5000

function stepsOf(seed: number, losses: readonly [number, number], apart: number, shown = true) {
  const trace = drawTrace({
    seed,
    noise: 0.01,
    pulseWidth: 500e-9,
    peaks: shown ? [{ at: 1000, height: 6 }] : [],
    steps: [
      { at: FIRST, rise: -losses[0] },
      { at: FIRST + apart, rise: -losses[1] },
    ],
  })
  return analyzeTrace(trace).events.filter(({ kind }) => kind === 'step')
}

describe('two losses under one pulse', () => {
  it('are told apart with uncertainties that hold', () => {
    const lossErrors: number[] = []
    const placeErrors: number[] = []
    for (let seed = 1; seed <= 30; seed++) {
      const found = stepsOf(seed, [0.5, 0.2], 0.8 * PULSE)
      expect(found, `seed ${seed}`).toHaveLength(2)
      lossErrors.push((found[0]!.loss! - 0.5) / found[0]!.lossSigma!)
      placeErrors.push((found[1]!.distance - FIRST - 0.8 * PULSE) / found[1]!.distanceSigma)
      // What is lost over both is known from the fiber on both sides, however it is shared.
      expect(found[0]!.loss! + found[1]!.loss!).toBeCloseTo(0.7, 2)
    }
    const rms = (values: number[]) => Math.sqrt(values.reduce((sum, v) => sum + v * v, 0) / values.length)
    // Standard errors of unit size; the places also carry what the pulse's shape leaves open for all traces alike.
    expect(rms(lossErrors)).toBeGreaterThan(0.4)
    expect(rms(lossErrors)).toBeLessThan(1.6)
    expect(rms(placeErrors)).toBeLessThan(1.6)
  })

  it.each([0, 0.1])('stay one where they are %f of a pulse apart', (part) => {
    for (let seed = 1; seed <= 20; seed++) {
      const found = stepsOf(seed, [0.2, 0.3], part * PULSE)
      expect(found, `seed ${seed}`).toHaveLength(1)
      expect(found[0]!.loss).toBeCloseTo(0.5, 2)
    }
  })

  it('stay one, their losses added up and said to be spread, where the data show no more than that', () => {
    for (let seed = 1; seed <= 20; seed++) {
      const [event, ...others] = stepsOf(seed, [0.2, 0.3], 0.4 * PULSE)
      expect(others, `seed ${seed}`).toEqual([])
      expect(event!.loss).toBeCloseTo(0.5, 2)
      expect(event!.extent).toBeGreaterThan(0.2 * PULSE)
      expect(Math.abs(event!.distance - FIRST)).toBeLessThan(3 * event!.distanceSigma)
    }
  })

  it('stay one where no reflection shows the pulse: its shape might explain them', () => {
    expect(stepsOf(1, [0.5, 0.2], 0.8 * PULSE, false)).toHaveLength(1)
  })

  it('are not made of a loss that is spread evenly', () => {
    for (let seed = 1; seed <= 10; seed++) {
      const trace = drawTrace({
        seed,
        pulseWidth: 500e-9,
        peaks: [{ at: 1000, height: 6 }],
        stretches: [{ from: FIRST, to: FIRST + PULSE, extra: 0.6 / PULSE }],
      })
      const found = analyzeTrace(trace).events.filter(({ kind }) => kind === 'step')
      expect(found, `seed ${seed}`).toHaveLength(1)
      expect(found[0]!.loss).toBeCloseTo(0.6, 2)
    }
  })
})

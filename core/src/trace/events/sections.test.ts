import { SimpleLinearRegression } from 'ml-regression-simple-linear'
import { describe, expect, it } from 'vitest'
import { drawTrace } from '../../../test/straightTrace.ts'
import { analyzeTrace } from '../analyze.ts'
import { compareTraces } from '../compare/compare.ts'
import { distanceOf } from '../trace.ts'

const STRETCH = { from: 5000, to: 8000, extra: 0.1e-3 }

describe('attenuation of sections', () => {
  it('is that of a registry package’s regression on the same points', () => {
    const trace = drawTrace({ seed: 4, steps: [{ at: 6000, rise: -0.3 }] })
    const { sections } = analyzeTrace(trace)
    expect(sections).toHaveLength(2)
    for (const { from, to, attenuation, attenuationSigma } of sections) {
      const inside = [...trace.levels.keys()].filter((i) => distanceOf(trace, i) >= from && distanceOf(trace, i) <= to)
      const theirs = new SimpleLinearRegression(
        inside.map((i) => distanceOf(trace, i)),
        inside.map((i) => trace.levels[i]!),
      )
      expect(attenuation).toBeCloseTo(-theirs.slope, 7)
      // 0.2 dB/km was drawn.
      expect(Math.abs(attenuation - 0.2e-3)).toBeLessThan(4 * attenuationSigma)
    }
  })

  it('is told apart where it changes on the way, with the place of the change', () => {
    for (let seed = 1; seed <= 20; seed++) {
      const { sections, events } = analyzeTrace(drawTrace({ seed, stretches: [STRETCH] }))
      // A corner may leave a step of a few thousandths of a dB, never one that anybody would go for.
      for (const { loss } of events.slice(1)) expect(Math.abs(loss!), `seed ${seed}`).toBeLessThan(0.02)
      expect(sections.map(({ attenuation }) => Math.round(attenuation * 1e5) / 100)).toEqual([0.2, 0.3, 0.2])
      expect(Math.abs(sections[1]!.from - STRETCH.from)).toBeLessThan(200)
      expect(Math.abs(sections[1]!.to - STRETCH.to)).toBeLessThan(200)
    }
  })

  it('is one figure where the fiber is alike', () => {
    for (let seed = 1; seed <= 100; seed++)
      expect(analyzeTrace(drawTrace({ seed })).sections, `seed ${seed}`).toHaveLength(1)
  })
})

describe('a comparison', () => {
  it('reports attenuation that changed over a stretch as one change with its extent', () => {
    const baseline = analyzeTrace(drawTrace({ seed: 1 }))
    for (let seed = 2; seed <= 30; seed++) {
      const { changes } = compareTraces(baseline, analyzeTrace(drawTrace({ seed, stretches: [STRETCH] })))
      expect(
        changes.map(({ kind }) => kind),
        `seed ${seed}`,
      ).toEqual(['attenuation'])
      // 3 km at 0.1 dB/km more.
      expect(Math.abs(changes[0]!.lossDelta! - 0.3)).toBeLessThan(0.06)
      expect(Math.abs(changes[0]!.distance - 6500)).toBeLessThan(600)
    }
  })
})

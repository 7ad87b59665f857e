import { describe, expect, it } from 'vitest'
import { drawTrace, type Drawn } from '../../../test/straightTrace.ts'
import { alignTraces } from './align.ts'
import { analyzeTrace } from '../analyze.ts'

const events: Drawn = {
  peaks: [
    { at: 500, height: 6 },
    { at: 6500, height: 5 },
  ],
  steps: [
    { at: 2000, rise: -0.3 },
    { at: 4200, rise: -0.2 },
  ],
}
const moved = (by: number): Drawn => ({
  peaks: events.peaks!.map(({ at, height }) => ({ at: at + by, height })),
  steps: events.steps!.map(({ at, rise }) => ({ at: at + by, rise })),
})
const analyzed = (drawn: Drawn, seed = 1) => analyzeTrace(drawTrace({ ...drawn, seed }))

describe('two traces of one fiber', () => {
  it.each([0, 37.3, -212.8, 1450])('shot with a cord %f m longer are laid on each other by what both show', (by) => {
    const alignment = alignTraces(analyzed(events), analyzed(moved(by), 2), 1, null)
    expect(Math.abs(alignment.offset + by)).toBeLessThan(Math.max(0.6, 4 * alignment.offsetSigma))
    expect(alignment.matches).toHaveLength(4)
  })

  it('known cords keep a chance likeness from winning', () => {
    // The second reflection is gone; the first alone would also fit it.
    const present = analyzed({ peaks: [{ at: 500, height: 6 }] }, 3)
    expect(Math.abs(alignTraces(analyzed(events), present, 1, { offset: 0, sigma: 1 }).offset)).toBeLessThan(1)
  })

  it('that share no event are laid by their cords, with that much doubt', () => {
    const alignment = alignTraces(analyzed(events), analyzed({}, 4), 1, { offset: -50, sigma: 1 })
    expect(Math.abs(alignment.offset + 50)).toBeLessThan(1)
    expect(alignment.matches).toEqual([])
    expect(alignment.offsetSigma).toBeGreaterThan(0.5)
  })

  it('on another index are scaled before they are laid', () => {
    const scale = 1.458 / 1.468
    const present: Drawn = {
      peaks: events.peaks!.map(({ at, height }) => ({ at: at / scale, height })),
      steps: events.steps!.map(({ at, rise }) => ({ at: at / scale, rise })),
    }
    const alignment = alignTraces(analyzed(events), analyzed(present, 5), scale, null)
    expect(Math.abs(alignment.offset)).toBeLessThan(1.5)
    expect(alignment.matches.length).toBeGreaterThanOrEqual(3)
  })

  it('score higher the more they share', () => {
    const baseline = analyzed(events)
    const all = alignTraces(baseline, analyzed(events, 6), 1, null).score
    const some = alignTraces(baseline, analyzed({ peaks: events.peaks! }, 7), 1, null).score
    expect(all).toBeGreaterThan(some)
  })
})

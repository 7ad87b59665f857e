import { describe, expect, it } from 'vitest'
import { drawTrace, type Drawn } from '../../../test/straightTrace.ts'
import { analyzeTrace } from '../analyze.ts'
import { compareTraces } from './compare.ts'
import { lossAt } from '../events/lossAt.ts'

const LINK: Drawn = {
  points: 14_000,
  peaks: [
    { at: 500, height: 9 },
    { at: 12_000, height: 14 },
  ],
  steps: [
    { at: 500, rise: -0.3 },
    { at: 4000, rise: -0.06 },
  ],
  end: 12_005.1,
}
const analyzed = (drawn: Drawn) => analyzeTrace(drawTrace({ ...LINK, ...drawn }))

describe('comparing with the baseline', () => {
  const baseline = analyzed({ seed: 1 })

  it('the same fiber shot again is the same', () => {
    for (let seed = 2; seed < 30; seed++) expect(compareTraces(baseline, analyzed({ seed })).verdict).toBe('same')
  })

  it('a new step is reported with its size, and only it', () => {
    const steps = [...LINK.steps!, { at: 7000, rise: -0.25 }]
    const { changes, verdict } = compareTraces(baseline, analyzed({ seed: 3, steps }))
    expect(verdict).toBe('changed')
    expect(changes.map((change) => change.kind)).toEqual(['new'])
    expect(Math.abs(changes[0]!.distance - 7000)).toBeLessThan(8)
    expect(changes[0]!.lossDelta!).toBeCloseTo(0.25, 1)
  })

  it('a new step is reported however alike what another launch cord gives back at the first connection', () => {
    // The new cord's fiber scatters less: the first connection loses 0.24 dB less than it did.
    const steps = [{ at: 500, rise: -0.06 }, LINK.steps![1]!, { at: 7000, rise: -0.24 }]
    const { changes } = compareTraces(baseline, analyzed({ seed: 3, steps }))
    expect(changes.map(({ kind, distance }) => [kind, Math.round(distance / 100) * 100])).toEqual([
      ['shrunk', 500],
      ['new', 7000],
    ])
  })

  it('a fall that is undone within a pulse or two is no change', () => {
    const steps = [...LINK.steps!, { at: 7000, rise: -0.25 }, { at: 7030, rise: 0.25 }]
    expect(compareTraces(baseline, analyzed({ seed: 3, steps })).changes).toEqual([])
  })

  it('a splice that got worse has grown', () => {
    const steps = [LINK.steps![0]!, { at: 4000, rise: -0.5 }]
    const { changes } = compareTraces(baseline, analyzed({ seed: 4, steps }))
    expect(changes.map((change) => change.kind)).toEqual(['grown'])
    expect(changes[0]!.lossDelta!).toBeCloseTo(0.44, 1)
  })

  it('an end that came nearer is a break', () => {
    const { changes, verdict } = compareTraces(baseline, analyzed({ seed: 5, end: 8800, peaks: [LINK.peaks![0]!] }))
    expect(verdict).toBe('broken')
    const cut = changes.find((change) => change.kind === 'break')!
    expect(Math.abs(cut.distance - 8800)).toBeLessThan(4)
  })

  describe('of events that moved', () => {
    const joints = [...LINK.steps!, { at: 8000, rise: -0.3 }]
    const before = analyzed({ seed: 1, steps: joints })

    it('names a joint that lies elsewhere, with how far, and no loss at either place', () => {
      const steps = [...LINK.steps!, { at: 8040, rise: -0.3 }]
      for (let seed = 3; seed < 13; seed++) {
        const { changes } = compareTraces(before, analyzed({ seed, steps }))
        expect(changes.map((change) => change.kind)).toEqual(['moved'])
        expect(Math.abs(changes[0]!.movedBy! - 40)).toBeLessThan(4 * changes[0]!.distanceSigma)
        expect(changes[0]!.lossDelta).toBeCloseTo(0, 1)
      }
    })

    it('names all that follow fiber let into the link, by its length', () => {
      const by = 220
      const { changes } = compareTraces(
        before,
        analyzed({
          seed: 4,
          peaks: [LINK.peaks![0]!, { at: 12_000 + by, height: 14 }],
          steps: [LINK.steps![0]!, { at: 4000 + by, rise: -0.06 }, { at: 8000 + by, rise: -0.3 }],
          end: 12_005.1 + by,
        }),
        { offset: 0, sigma: 1 },
      )
      expect(changes.map((change) => change.kind)).toEqual(['moved', 'moved', 'moved'])
      for (const change of changes) expect(Math.abs(change.movedBy! - by)).toBeLessThan(3)
    })

    it('takes a loss that came far from one that went for a new one', () => {
      const { changes } = compareTraces(
        before,
        analyzed({ seed: 5, steps: [...LINK.steps!, { at: 6500, rise: -0.3 }] }),
      )
      const there = changes.find((change) => Math.abs(change.distance - 6500) < 8)
      expect(there?.kind).toBe('new')
    })

    it('takes a joint that moved and grew for a new loss', () => {
      const { changes } = compareTraces(
        before,
        analyzed({ seed: 6, steps: [...LINK.steps!, { at: 8040, rise: -0.6 }] }),
      )
      expect(changes.some((change) => change.kind === 'moved')).toBe(false)
      expect(changes.some((change) => change.kind === 'new' || change.kind === 'grown')).toBe(true)
    })
  })

  it('another launch cord is an offset, not a change', () => {
    const moved: Drawn = {
      points: 14_000,
      peaks: LINK.peaks!.map((peak) => ({ ...peak, at: peak.at + 350 })),
      steps: [...LINK.steps!.map((step) => ({ ...step, at: step.at + 350 })), { at: 7350, rise: -0.25 }],
      end: 12_355.1,
    }
    const { alignment, changes } = compareTraces(baseline, analyzed({ seed: 6, ...moved }))
    expect(alignment.offset).toBeCloseTo(-350, 0)
    expect(changes.map((change) => change.kind)).toEqual(['new'])
    expect(Math.abs(changes[0]!.distance - 7000)).toBeLessThan(8)
  })

  it('another instrument setting (pulse, spacing, power) is not a change', () => {
    const other = drawTrace({ ...LINK, points: 7000, spacing: 2, pulseWidth: 100e-9, seed: 8, end: 12_010.2 })
    other.levels = other.levels.map((level) => level - 1.7)
    expect(
      compareTraces(baseline, analyzeTrace(other)).changes.filter(
        (change) => change.lossDelta !== null && Math.abs(change.lossDelta) > 0.03,
      ),
    ).toEqual([])
  })

  it('says the smallest change that it would have seen', () => {
    const { detectionLimit } = compareTraces(baseline, analyzed({ seed: 9 }))
    expect(detectionLimit.length).toBeGreaterThan(0)
    for (const stretch of detectionLimit) expect(stretch.loss).toBeGreaterThan(0)
  })

  it('refuses another wavelength and another fiber', () => {
    const otherWavelength = { ...baseline, trace: { ...baseline.trace, wavelength: 1310 } }
    expect(() => compareTraces(baseline, otherWavelength)).toThrow(/1310 nm/)
    const named = (fiberId: string) => ({ ...baseline, trace: { ...baseline.trace, cableId: 'c', fiberId } })
    expect(() => compareTraces(named('5'), named('6'))).toThrow(/fiber "6"/)
  })
})

describe('loss at a known place', () => {
  it('is measured where no event was found', () => {
    const analysis = analyzed({ seed: 11, steps: [LINK.steps![0]!] })
    const reading = lossAt(analysis, 4000, 10)!
    expect(Math.abs(reading.loss)).toBeLessThan(4 * reading.sigma)
  })

  it('is not invented beyond the end', () => {
    expect(lossAt(analyzed({ seed: 12 }), 13_500, 10)).toBeNull()
  })

  it('a loss spread beside a known joint is told from a step, and placed by its middle', () => {
    const stretches = [{ from: 4300, to: 4550, extra: 0.4 / 250 }]
    for (let seed = 20; seed < 30; seed++) {
      const { changes } = compareTraces(analyzed({ seed: 1 }), analyzed({ seed, stretches }))
      expect(changes.map((change) => change.kind)).toEqual(['new'])
      expect(changes[0]!.extent).toBeGreaterThan(100)
      expect(changes[0]!.extent).toBeLessThan(400)
      expect(Math.abs(changes[0]!.distance - 4425)).toBeLessThan(2 * changes[0]!.distanceSigma)
    }
  })

  it('a small step in noise is no spread loss', () => {
    for (let seed = 100; seed < 140; seed++) {
      const steps = [...LINK.steps!, { at: 7000, rise: -0.12 }]
      const { changes } = compareTraces(analyzed({ seed: 1 }), analyzed({ seed, steps, pulseWidth: 100e-9 }))
      expect(
        changes.map((change) => change.extent),
        `seed ${seed}`,
      ).toEqual([0])
    }
  })

  it('a loss under the same pulse as a known joint is placed by how far it moves their middle', () => {
    const long: Drawn = { ...LINK, pulseWidth: 500e-9, steps: [LINK.steps![0]!, { at: 4000, rise: -0.2 }] }
    const before = analyzed({ ...long, seed: 1 })
    const errors: number[] = []
    for (let seed = 40; seed < 60; seed++) {
      const { changes } = compareTraces(
        before,
        analyzed({ ...long, seed, steps: [...long.steps!, { at: 4015, rise: -0.3 }] }),
      )
      const change = changes.find(({ distance }) => Math.abs(distance - 4015) < 60)!
      expect(change.lossDelta).toBeCloseTo(0.3, 1)
      expect(Math.abs(change.distance - 4015), `seed ${seed}`).toBeLessThan(4 * change.distanceSigma)
      errors.push(change.distance - 4015)
    }
    // The joint itself stands 15 m off.
    expect(Math.abs(errors.reduce((a, b) => a + b, 0) / errors.length)).toBeLessThan(5)
  })

  it('a loss spread over 200 m is one change, in the middle of it, with its extent', () => {
    // A staircase of 0.05 dB every 10 m over 200 m: 1 dB in all, many pulses long.
    const spread = Array.from({ length: 20 }, (_, k) => ({ at: 7000 + 10 * k, rise: -0.05 }))
    const { changes } = compareTraces(analyzed({ seed: 1 }), analyzed({ seed: 6, steps: [...LINK.steps!, ...spread] }))
    expect(changes).toHaveLength(1)
    expect(changes[0]!.lossDelta!).toBeCloseTo(1, 1)
    expect(Math.abs(changes[0]!.distance - 7100)).toBeLessThan(3 * changes[0]!.distanceSigma)
    expect(changes[0]!.extent).toBeGreaterThan(120)
    expect(changes[0]!.extent).toBeLessThan(260)
  })
})

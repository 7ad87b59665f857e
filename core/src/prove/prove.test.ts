import { describe, expect, it } from 'vitest'
import { shootTwoCables } from '../../test/shootTwoCables.ts'
import { twoCablePlant } from '../../test/plants.ts'
import type { Damage } from '../sim/index.ts'
import { backscatterDifference, holdsAgainst, proveRepair, ruleBook, twoWayLoss } from './index.ts'

const plant = twoCablePlant()
const baseline = shootTwoCables([])
const prove = (damages: Damage[], change = {}) =>
  proveRepair({ plant, linkId: 'l', baseline, after: shootTwoCables(damages, 50), ...change })

describe('two-way loss', () => {
  it('is the mean, in which the backscatter difference cancels (IEC 61280-4-2)', () => {
    // K1 − K2 = 0.4 dB, true 0.05: readings 0.25 and −0.15.
    const [ab, ba] = [
      { loss: 0.25, sigma: 0.02 },
      { loss: -0.15, sigma: 0.02 },
    ]
    expect(twoWayLoss(ab, ba)!.loss).toBeCloseTo(0.05, 12)
    expect(twoWayLoss(ab, ba)!.sigma).toBeCloseTo(0.02 / Math.SQRT2, 12)
    expect(backscatterDifference(ab, ba)).toBeCloseTo(0.4, 12)
  })

  it('from one end only is kept and said', () => {
    expect(twoWayLoss(null, { loss: 0.1, sigma: 0.01 })).toEqual({ loss: 0.1, sigma: 0.01, twoWay: false })
    expect(twoWayLoss(null, null)).toBeNull()
  })
})

describe('limits', () => {
  it('are those of TIA-568.3-D: splice 0.3 dB, mated pair 0.75 dB; reflectance −20, −35, −55 dB (from memory)', () => {
    const { splice, pair, reflectance } = ruleBook('standard')
    expect([splice.limit.value, pair.value]).toEqual([0.3, 0.75])
    expect([reflectance.multimode.value, reflectance.singleMode.value, reflectance.angled.value]).toEqual([
      -20, -35, -55,
    ])
    expect(splice.limit.source).toBe('TIA-568.3-D')
  })

  it.each([
    [0.2, 0.02, 'yes'],
    [0.28, 0.02, 'close'],
    [0.31, 0.02, 'close'],
    [0.35, 0.02, 'no'],
    [null, null, 'unknown'],
  ] as const)('0.3 dB against %f ± %f is "%s" (JCGM 100, k = 2)', (value, sigma, holds) => {
    expect(holdsAgainst(value, sigma, 0.3)).toBe(holds)
  })

  it('names the books there are when one is unknown', () => {
    expect(() => ruleBook('house')).toThrow(/standard, tight/)
  })
})

describe('the verdict on a repair', () => {
  it('a link that reads as before is restored', () => {
    expect(prove([]).verdict).toBe('restored')
  })

  it('a bad joint left behind is not restored, and the reason names it', () => {
    const { verdict, reasons, events } = prove([{ at: { node: 'n1' }, breaks: false, loss: 0.6 }])
    expect(verdict).toBe('not-restored')
    expect(reasons.join()).toMatch(/Middle closure/)
    const joint = events.find((event) => event.node === 'n1')!
    expect(joint.lossTwoWay! - joint.lossBefore!).toBeCloseTo(0.6, 1)
    expect(joint.holds).toBe('no')
  })

  it('a new splice within the good limit is restored and listed as new', () => {
    const { verdict, events } = prove([{ at: { chainage: 1500 }, breaks: false, loss: 0.06 }])
    expect(verdict).toBe('restored')
    const added = events.filter((event) => event.status === 'new')
    expect(added).toHaveLength(1)
    expect(Math.abs(added[0]!.chainage - 1500)).toBeLessThan(15)
  })

  it('a splice of the log is measured from both ends even where it is too small to show', () => {
    const { events, verdict } = prove([{ at: { chainage: 1500 }, breaks: false, loss: 0.004 }], {
      work: { newJoints: [1503], redone: [], others: [] },
    })
    const [joint, ...others] = events.filter((event) => event.node === null)
    expect(others).toEqual([])
    expect([joint!.kind, joint!.status, verdict]).toEqual(['splice', 'new', 'restored'])
    expect(Math.abs(joint!.lossTwoWay! - 0.004)).toBeLessThan(Math.max(0.01, 4 * joint!.lossSigma!))
  })

  it('a new splice over the good limit is a remark, over the limit a refusal', () => {
    expect(prove([{ at: { chainage: 1500 }, breaks: false, loss: 0.2 }]).verdict).toBe('restored-with-remarks')
    expect(prove([{ at: { chainage: 1500 }, breaks: false, loss: 0.5 }]).verdict).toBe('not-restored')
  })

  it('a fiber that is still broken is not restored', () => {
    const { verdict, next } = prove([{ at: { chainage: 1500 }, breaks: true }])
    expect(verdict).toBe('not-restored')
    expect(next).toContain('locate the remaining break')
  })

  it('without any trace after, nothing can be told', () => {
    expect(prove([], { after: [] }).verdict).toBe('cannot-tell')
  })

  it('tells the return loss of the whole link, the lesser of both ends, as the traces have it', () => {
    const after = shootTwoCables([], 50)
    const { total } = prove([], { after })
    const least = (shots: typeof after) => Math.min(...shots.map(({ analysis }) => analysis.orl!))
    expect(total['1550']!.orlAfter).toBe(least(after))
    expect(total['1550']!.orlBefore).toBe(least(baseline))
    // A clean link of some kilometres returns about 30 dB (common practice).
    expect(total['1550']!.orlAfter).toBeGreaterThan(25)
    expect(total['1550']!.orlAfter).toBeLessThan(40)
  })

  it('without a baseline it is judged by limits only, and says so', () => {
    const { verdict, reasons } = prove([], { baseline: [] })
    expect(verdict).toBe('restored-with-remarks')
    expect(reasons.join()).toMatch(/no baseline/)
  })

  it('without a baseline the total is held against the budget of the record, and one over it is refused', () => {
    // By hand: (1000 m × 1.01 + 22 m coiled) × 1.005 + 3.5 m on trays, (2000 m × 1.02 + 52 m) × 1.01 + 3.5 m; 0.5 dB/km,
    // 2 pairs at 0.75 dB, a splice at 0.3 dB (TIA-568.3-D).
    const { total } = prove([], { baseline: [] })
    expect(total['1550']!.before).toBeNull()
    expect(total['1550']!.allowed).toBeCloseTo(0.5 * (1.04066 + 2.11642) + 2 * 0.75 + 0.3, 9)
    const { verdict, reasons } = prove([{ at: { chainage: 1800 }, breaks: false, loss: 2.5 }], { baseline: [] })
    expect(verdict).toBe('not-restored')
    expect(reasons.join()).toMatch(/total at 1550 nm is 3\.\d\d dB, the budget is 3\.68 dB/)
  })

  it('from one end only it remains with a remark', () => {
    const after = shootTwoCables([], 50).filter((shot) => shot.direction === 'ab')
    const { verdict, reasons } = prove([], { after })
    expect(verdict).toBe('restored-with-remarks')
    expect(reasons.join()).toMatch(/one end only/)
  })

  it('a new piece that scatters otherwise, read from one end, holds by what both its joints lose together', () => {
    // Down by 0.60 dB into it and up by 0.45 dB out of it: 0.15 dB for two joints, of 0.30 dB each.
    const inserted = (second: number) =>
      shootTwoCables(
        [
          { at: { chainage: 1800 }, breaks: false, loss: 0.6 },
          { at: { chainage: 2000 }, breaks: false, loss: second },
        ],
        50,
      ).filter((shot) => shot.direction === 'ab')
    const good = prove([], { after: inserted(-0.45) })
    expect(good.verdict).toBe('restored-with-remarks')
    const read = good.events.filter(({ status }) => status === 'new')
    expect(read.map(({ holds }) => holds)).toEqual(['yes', 'yes'])
    expect(read[0]!.limitSource).toMatch(/both joints of the new piece/)
    expect(prove([], { after: inserted(0.05) }).verdict).not.toMatch(/^restored/)
  })
})

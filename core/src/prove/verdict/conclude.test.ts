import { describe, expect, it } from 'vitest'
import { shootTwoCables } from '../../../test/shootTwoCables.ts'
import { causesOf } from '../joints/causes.ts'
import { conclude, type Findings } from './conclude.ts'
import { ruleBook } from '../index.ts'
import type { TrunkTest } from '../../lossTest/trunk/trunk.ts'
import type { ProofEvent, ProofTotal } from './proof.ts'
import { calibrateFor, survey } from '../joints/sites.ts'
import { twoCablePlant } from '../../../test/plants.ts'

const shots = shootTwoCables([])
const surveys = survey(shots, calibrateFor(twoCablePlant(), 'l', shots, shots))

const joint = (change: Partial<ProofEvent> = {}): ProofEvent => ({
  wavelength: 1550,
  chainage: 1000,
  node: 'n1',
  place: 'Weir closure',
  kind: 'splice',
  joints: 1,
  status: 'unchanged',
  lossBefore: 0.05,
  lossAfter: 0.06,
  lossTwoWay: 0.06,
  lossSigma: 0.005,
  change: 0.01,
  changeSigma: 0.007,
  reflectanceBefore: null,
  reflectanceAfter: null,
  limit: 0.1,
  limitSource: 'baseline + 0.05 dB',
  holds: 'yes',
  ...change,
})
const fine: ProofTotal = { before: 2, after: 2.02, afterSigma: 0.02, allowed: 2.2 }

function findings(events: ProofEvent[], change: Partial<Findings> = {}): Findings {
  return {
    input: { linkId: 'l', baseline: shots, after: shots },
    events,
    causes: causesOf({ events, before: surveys, present: [], after: surveys, work: null, rules: ruleBook('standard') }),
    total: { '1550': fine },
    before: surveys,
    after: surveys,
    wavelengths: [1550],
    losses: [],
    received: [],
    continuity: [],
    trunks: [],
    fibers: null,
    unusable: [],
    rules: ruleBook('standard'),
    ...change,
  }
}

describe('from findings to a verdict', () => {
  it('a new joint over its limit from one end can’t be told, and the other end is asked for', () => {
    const one = joint({
      status: 'new',
      lossBefore: null,
      lossAfter: 0.41,
      lossTwoWay: null,
      limit: 0.3,
      holds: 'close',
    })
    const said = conclude(findings([one]))
    expect(said.verdict).toBe('cannot-tell')
    expect(said.next[0]).toContain('from the other end')
    expect(conclude(findings([{ ...one, lossTwoWay: 0.41 }])).verdict).toBe('restored-with-remarks')
  })

  it('a link that is as it was but over its budget is restored, and that is said', () => {
    const of = (total: Partial<ProofTotal>) =>
      conclude(findings([joint()], { total: { '1550': { ...fine, ...total } } }))
    expect(of({ budget: 2.5 }).verdict).toBe('restored')
    const as = of({ budget: 1.8 })
    expect(as.verdict).toBe('restored-with-remarks')
    expect(as.reasons).toEqual(['the total at 1550 nm, 2.02 dB, is over the 1.80 dB of its budget, as it was before'])
    expect(of({ budget: 1.8, before: 1.7, after: 1.9 }).reasons).toEqual([
      'the total at 1550 nm, 1.90 dB, is over the 1.80 dB of its budget; it was 1.70 dB',
    ])
    // Within twice its uncertainty of the budget it is not called over.
    expect(of({ budget: 1.99 }).verdict).toBe('restored')
  })

  it('all well is restored', () => {
    expect(conclude(findings([joint()]))).toMatchObject({ verdict: 'restored', next: [] })
  })

  it('a refutation outweighs what can’t be told, and both are said', () => {
    const { verdict, reasons } = conclude(
      findings([
        joint({ holds: 'no', lossAfter: 0.5 }),
        joint({ status: 'open', lossAfter: null, holds: 'unknown', place: 'Lock' }),
      ]),
    )
    expect(verdict).toBe('not-restored')
    expect(reasons.join()).toMatch(/Weir closure: 0\.50 ± 0\.01 dB at 1550 nm, was 0\.05 dB, more than 0\.10 dB/)
    expect(reasons.join()).toMatch(/splice at Lock can't be measured/)
  })

  it('a splice that no trace measures can’t be told', () => {
    const { verdict, next } = conclude(
      findings([joint({ status: 'open', lossAfter: null, lossTwoWay: null, holds: 'unknown' })]),
    )
    expect(verdict).toBe('cannot-tell')
    expect(next.join()).toMatch(/shorter pulse or from the other end/)
  })

  it('a figure close to its limit is a remark with its interval, never plainly good', () => {
    const { verdict, reasons } = conclude(findings([joint({ holds: 'close', lossAfter: 0.095, lossSigma: 0.01 })]))
    expect(verdict).toBe('restored-with-remarks')
    expect(reasons[0]).toMatch(/0\.10 ± 0\.02 dB is close to 0\.10 dB|0\.09 ± 0\.02 dB is close/)
  })

  it('a splice that reflects is remarked: a fusion splice does not', () => {
    const { verdict, reasons } = conclude(findings([joint({ reflectanceAfter: -48 })]))
    expect(verdict).toBe('restored-with-remarks')
    expect(reasons.join()).toMatch(/reflects -48\.0 dB: a fusion splice does not/)
  })

  it('a connector whose reflectance rose over the limit is refused even with its loss in order', () => {
    const connector = joint({ kind: 'connector', reflectanceBefore: -52, reflectanceAfter: -30 })
    const { verdict, next } = conclude(findings([connector]))
    expect(verdict).toBe('not-restored')
    expect(next).toEqual(['inspect, clean and re-seat Weir closure, measure again'])
  })

  it('a connector that always reflected so much is left alone', () => {
    const connector = joint({ kind: 'connector', reflectanceBefore: -31, reflectanceAfter: -30.5 })
    expect(conclude(findings([connector])).verdict).toBe('restored')
  })

  it('a total that grew beyond what the repair adds is refused, with all three figures', () => {
    const total = { '1550': { before: 2, after: 2.6, afterSigma: 0.02, allowed: 2.2 } }
    const { verdict, reasons } = conclude(findings([joint()], { total }))
    expect(verdict).toBe('not-restored')
    expect(reasons[0]).toBe('total at 1550 nm is 2.60 dB, was 2.00 dB, allowed 2.20 dB')
  })

  it('a total that nobody measured can’t be told', () => {
    const total = { '1550': { before: 2, after: null, afterSigma: null, allowed: 2.2 } }
    expect(conclude(findings([joint()], { total })).verdict).toBe('cannot-tell')
  })

  it('no trace after the repair proves nothing', () => {
    const { verdict, next } = conclude(findings([], { input: { linkId: 'l', baseline: shots, after: [] }, total: {} }))
    expect([verdict, next]).toEqual(['cannot-tell', ['shoot the link from both ends at the baseline wavelengths']])
  })

  it('no baseline is judged by limits, and that is said', () => {
    const { verdict, reasons } = conclude(findings([joint()], { before: [] }))
    expect(verdict).toBe('restored-with-remarks')
    expect(reasons).toContain('there is no baseline: judged by limits only')
  })

  it('received power that contradicts the traces can’t be told; one that agrees changes nothing', () => {
    const power = { link: 'l', way: 'ab' as const, wavelength: 1490, before: -12 }
    const after = (level: number, some = {}) =>
      conclude(findings([joint()], { received: [{ ...power, after: level, ...some }] }))
    expect(after(-12.5).verdict).toBe('restored')
    const { verdict, reasons } = after(-17)
    expect(verdict).toBe('cannot-tell')
    expect(reasons[0]).toMatch(/5\.0 dB less, by the traces 0\.02 dB: they differ by 5\.0 dB/)
    expect(after(-17, { link: 'other' }).verdict).toBe('restored')
    expect(conclude(findings([joint()], { total: {}, received: [{ ...power, after: -17 }] })).verdict).toBe('restored')
  })

  it('a trunk with a channel over its limit is refused, one that is only close is remarked', () => {
    const trunk = (loss: number): TrunkTest => ({
      trunk: 'T 1',
      end: 'first',
      fiber: 'multimode',
      wavelength: 850,
      polarity: 'A',
      channels: Array.from({ length: 12 }, (_, i) => ({ at: i + 1, loss: i === 4 ? loss : 0.4, returnLoss: null })),
    })
    const after = (loss: number) => conclude(findings([joint()], { trunks: [trunk(loss)] }))
    expect(after(0.4).verdict).toBe('restored')
    expect(after(1.45).verdict).toBe('restored-with-remarks')
    expect(after(2)).toMatchObject({ verdict: 'not-restored' })
    expect(after(2).reasons[0]).toMatch(/^trunk T 1, first end, 850 nm: channel 5 over, 2\.00 ± 0\.30 dB/)
  })

  it('advice that two findings share is given once', () => {
    const { next } = conclude(
      findings([joint({ holds: 'no', lossAfter: 0.5 }), joint({ wavelength: 1310, holds: 'no', lossAfter: 0.5 })]),
    )
    expect(next).toEqual(['redo the splice at Weir closure'])
  })
})

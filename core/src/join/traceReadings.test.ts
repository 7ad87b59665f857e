import { describe, expect, it } from 'vitest'
import { testPlant } from '../../test/openFacts.ts'
import { ruleBook } from '../prove/index.ts'
import { seededRandom } from '../math/random.ts'
import { fibersOf, judgeTraceReadings, sidesOf, tracedSplices, type SplicedFibers, type TraceReading } from './index.ts'

const RULES = ruleBook('standard')
const G652: SplicedFibers = { modeFields: null, g652: true }
const MISMATCH: SplicedFibers = { modeFields: [9.2e-6, 8.6e-6], g652: true }
const UNKNOWN: SplicedFibers = { modeFields: null, g652: false }
const read = (way: TraceReading['way'], loss: number, wavelength = 1550): TraceReading => ({ way, wavelength, loss })
const judge = (readings: TraceReading[], fibers = G652) => judgeTraceReadings(readings, fibers, RULES)!

describe('one way alone', () => {
  it('a gain is no gain: the fibers are named, the other way is waited for', () => {
    const { advice, reasons, loss } = judge([read('ab', -0.12)])
    expect([advice, loss]).toEqual(['wait', null])
    expect(reasons.join()).toMatch(/1550 nm: −0\.12 dB one way looks like a gain: no splice gains/)
    // 10·log10(9.6/8.2) = 0.68 dB, and two uncertainties of 0.02 dB: at most 0.60 dB.
    expect(reasons.join()).toMatch(/up to ± 0\.68 dB.*between 0\.00 dB and 0\.60 dB/)
  })

  it('what looks bad may be the fibers: it is not redone before the other way is there', () => {
    expect(judge([read('ab', 0.4)])).toMatchObject({ advice: 'wait' })
    expect(judge([read('ab', 0.4)]).reasons.join()).toMatch(/looks bad, but may be the fibers/)
    expect(judge([read('ab', 0.03)]).reasons.join()).toMatch(/one way can hide a loss/)
  })

  it('what no fibers of this kind explain is redone, or read again', () => {
    // 0.30 dB allowed and 0.685 dB of the fibers: from 1.03 dB on it is the splice.
    expect(judge([read('ab', 1.0)])).toMatchObject({ advice: 'wait' })
    expect(judge([read('ab', 1.06)])).toMatchObject({ advice: 'redo' })
    expect(judge([read('ab', -0.8)])).toMatchObject({ advice: 'doubt' })
  })

  it('the records’ mode fields say which way is high', () => {
    // 10·log10(8.6/9.2) = −0.29 dB, computed by hand; the other way as much above.
    expect(judge([read('ab', -0.22)], MISMATCH).reasons.join()).toMatch(
      /9\.2 µm into 8\.6 µm put −0\.29 dB on this way/,
    )
    expect(judge([read('ba', 0.36)], MISMATCH).reasons.join()).toMatch(/8\.6 µm into 9\.2 µm put 0\.29 dB on this way/)
    // Into the smaller field nothing lifts a reading by much: 0.4 dB that way is the splice.
    expect(judge([read('ab', 0.5)], MISMATCH)).toMatchObject({ advice: 'redo' })
    expect(judge([read('ba', 0.5)], MISMATCH)).toMatchObject({ advice: 'wait' })
  })

  it('of fibers that nothing is known of one way says nothing', () => {
    for (const loss of [-2, 0.05, 2]) {
      expect(judge([read('ab', loss)], UNKNOWN)).toMatchObject({ advice: 'wait' })
      expect(judge([read('ab', loss)], UNKNOWN).reasons.join()).toMatch(/is not known/)
    }
  })
})

describe('both ways', () => {
  it('their mean decides, half their difference is the fibers’', () => {
    const { advice, reasons, loss } = judge([read('ab', -0.2), read('ba', 0.34)])
    expect(advice).toBe('accept')
    expect(loss).toBeCloseTo(0.07, 10)
    expect(reasons.join()).toMatch(/\(−0\.20 dB and 0\.34 dB\) \/ 2 = 0\.07 dB ± 0\.03 dB, within 0\.10 dB/)
    // 10^(0.27/10) = 1.064
    expect(reasons.join()).toMatch(/off by 0\.27 dB.*6 % apart/)
  })

  it('over, close to and within the limits', () => {
    expect(judge([read('ab', 0.5), read('ba', 0.3)])).toMatchObject({ advice: 'redo' })
    expect(judge([read('ab', 0.31), read('ba', 0.28)])).toMatchObject({ advice: 'close' })
    expect(judge([read('ab', 0.2), read('ba', 0.2)])).toMatchObject({ advice: 'close' })
    expect(judge([read('ab', 0.04), read('ba', 0.04)]).reasons.join()).not.toMatch(/differ/)
  })

  it('no splice gains both ways', () => {
    expect(judge([read('ab', -0.2), read('ba', -0.1)])).toMatchObject({ advice: 'doubt', loss: null })
    // Within the uncertainty of reading it may be none at all.
    expect(judge([read('ab', -0.03), read('ba', 0.01)])).toMatchObject({ advice: 'accept' })
  })

  it('the worst wavelength decides; one that waits is said', () => {
    const good = [read('ab', 0.02, 1310), read('ba', 0.05, 1310)]
    expect(judge([...good, read('ab', 0.4)])).toMatchObject({
      advice: 'wait',
      loss: expect.closeTo(0.035, 5) as number,
    })
    expect(judge([...good, read('ab', 0.5), read('ba', 0.6)])).toMatchObject({ advice: 'redo' })
  })

  it('a later reading takes an earlier one’s place; without any there is nothing to say', () => {
    expect(judge([read('ab', 3), read('ba', 0.05), read('ab', 0.05)])).toMatchObject({ advice: 'accept' })
    expect(judgeTraceReadings([], G652, RULES)).toBeNull()
  })
})

it('whatever G.652 fibers meet, a good splice is never redone by one way, and both ways tell its loss', () => {
  const random = seededRandom(5)
  const within = () => 8.2 + 1.4 * random.uniform()
  for (let i = 0; i < 500; i++) {
    const [w1, w2, loss] = [within(), within(), 0.3 * random.uniform()]
    // Backscatter that is captured goes with 1/w²; half of its step in 10·log10 is on the trace.
    const half = 5 * Math.log10(w2 ** 2 / w1 ** 2)
    const noise = () => 0.03 * (2 * random.uniform() - 1)
    const [ab, ba] = [read('ab', loss + half + noise()), read('ba', loss - half + noise())]
    const one = judge([ab])
    expect(one.advice).toBe('wait')
    expect(judge([ab, ba]).loss ?? 0).toBeGreaterThan(loss - 0.031)
    expect(judge([ab, ba]).loss ?? 0).toBeLessThan(loss + 0.031)
  }
})

describe('splices of a log with their readings', () => {
  const plant = testPlant([{ fiber: 3, state: 'live', circuits: [] }])
  let count = 0
  const logged = (entry: { kind: string } & Record<string, unknown>) => ({
    id: `${count++}`,
    by: 'a',
    observedAt: '2026-01-01T03:00:00Z',
    supersedes: null,
    superseded: false,
    entry,
  })
  const at = { node: 'c', chainage: 1000, cable: 'a', fiber: 3 }
  const splice = (outcome: string, some: object = {}) =>
    logged({ kind: 'splice', ...at, attempt: 1, estimate: 0.02, outcome, ...some })
  const reading = (loss: number, some: object = {}) =>
    logged({ kind: 'trace-reading', ...at, way: 'ab', wavelength: 1550, loss, ...some })

  it('belong to the splice as it was last made', () => {
    const first = tracedSplices(plant, [splice('accepted'), reading(0.2)])
    expect(first).toMatchObject([{ b: { cable: 'b', fiber: 3 }, readings: [{ loss: 0.2 }] }])
    expect(tracedSplices(plant, [splice('accepted'), reading(0.2), splice('redo')])).toEqual([])
    expect(tracedSplices(plant, [splice('accepted'), reading(0.2), splice('accepted')])).toMatchObject([
      { readings: [] },
    ])
  })

  it('of a ribbon fiber by fiber; of a run both sides of one cable, told apart by where they come from', () => {
    const ribbon = [0.02, 0.03].map((estimate) => ({ estimate, cleaveLeft: null, cleaveRight: null }))
    const [, second] = tracedSplices(plant, [
      splice('accepted', { ribbon, mate: { cable: 'b', fiber: 3 } }),
      reading(0.1, { fiber: 4 }),
    ])
    expect(second).toMatchObject({ a: { fiber: 4 }, b: { fiber: 4 }, estimate: 0.03, readings: [{ loss: 0.1 }] })
    const [run] = tracedSplices(plant, [splice('accepted', { node: null, chainage: 400 })])
    expect(run!.b).toEqual(run!.a)
    expect(sidesOf(plant, run!.a, run!.b).a).not.toBe(sidesOf(plant, run!.a, run!.b).b)
    expect(sidesOf(plant, { cable: 'a', fiber: 3 }, { cable: 'b', fiber: 3 })).toEqual({ a: 'a', b: 'b' })
  })

  it('know what the record says of their fibers', () => {
    const ends = [
      { cable: 'a', fiber: 3 },
      { cable: 'b', fiber: 3 },
    ] as const
    expect(fibersOf(plant, ...ends)).toEqual({ modeFields: null, g652: /^G\.652/.test(plant.cables[0]!.fiberType) })
    const cables = plant.cables.map((cable, i) => ({ ...cable, modeField: i === 0 ? 9.2e-6 : 8.6e-6 }))
    expect(fibersOf({ ...plant, cables }, ...ends).modeFields).toEqual([9.2e-6, 8.6e-6])
    expect(fibersOf(plant, ends[0], null)).toEqual({ modeFields: null, g652: false })
  })
})

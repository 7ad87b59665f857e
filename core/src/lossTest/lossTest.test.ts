import { CodedError } from '../errors/index.ts'
import { describe, expect, it } from 'vitest'
import fc from 'fast-check'
import { mad, median } from 'mathjs'
import {
  amongNeighbours,
  badEnd,
  combined,
  convertLoss,
  farChannel,
  hasSettled,
  judgePolarity,
  lossComponents,
  measuredLoss,
  pairsCounted,
  readMeter,
  receivedAgrees,
  rectangular,
  REFERENCE_METHODS,
  referenceAt,
  steadiness,
  type SetReference,
} from './index.ts'

const minute = (m: number) => new Date(Date.UTC(2026, 0, 1, 3, m)).toISOString()
const reference = (checks: SetReference['checks'] = [], some: Partial<SetReference> = {}): SetReference => ({
  method: 'one-cord',
  wavelength: 1550,
  level: -20,
  at: minute(0),
  checks,
  ...some,
})
const MEANS = { referenceGrade: true, encircledFlux: null }

describe('reference methods', () => {
  // IEC 61280-4-1/-4-2, TIA-526-7/-14, from memory: one-cord counts all k pairs, two-cord k − 1, three-cord k − 2.
  it('count the pairs of a hand-worked link: 4 pairs, two panels at each end', () => {
    expect(REFERENCE_METHODS.map((method) => pairsCounted(method, 4))).toEqual([4, 3, 2])
    expect(() => pairsCounted('three-cord', 1)).toThrow(/holds 2 pairs, the link has 1/)
  })

  it('a link of 2 km, 2 pairs and 4 splices by hand: two pairs less in a three-cord result', () => {
    // 2 × 0.2 + 4 × 0.05 + 2 × 0.3 = 1.2 dB by one cord, 0.6 dB by three.
    const one = { loss: 1.2, sigma: 0.1 }
    const three = convertLoss(one, 'one-cord', 'three-cord')
    expect(three.loss).toBeCloseTo(0.6, 10)
    // √(0.1² + 2 × 0.15²)
    expect(three.sigma).toBeCloseTo(0.2345, 4)
    expect(convertLoss(three, 'three-cord', 'one-cord').loss).toBeCloseTo(1.2, 10)
    expect(convertLoss(one, 'two-cord', 'two-cord')).toEqual(one)
  })

  it('a reference is known to have held only by a later look', () => {
    const looked = reference([{ level: -20.04, at: minute(60) }])
    expect(referenceAt(looked, minute(30))).toBe('held')
    expect(referenceAt(looked, minute(90))).toBe('not checked since')
    expect(referenceAt(reference(), minute(30))).toBe('not checked since')
  })

  it('what was read before a look that found it moved is suspect, and what is read after it', () => {
    const moved = reference([
      { level: -20.02, at: minute(20) },
      { level: -20.3, at: minute(60) },
    ])
    expect(referenceAt(moved, minute(10))).toBe('held')
    expect(referenceAt(moved, minute(40))).toBe('moved')
    expect(referenceAt(moved, minute(80))).toBe('moved')
  })

  it('a source has settled when it stands still for five minutes', () => {
    const drifting = (per: number) => Array.from({ length: 12 }, (_, i) => ({ level: -10 + per * i, at: minute(i) }))
    expect(hasSettled(drifting(0.02))).toBe(false)
    expect(hasSettled(drifting(0.002))).toBe(true)
    expect(hasSettled(drifting(0).slice(0, 4))).toBe(false)
    expect(hasSettled([])).toBe(false)
  })
})

describe('figures of a meter', () => {
  it.each<[string, object | null]>([
    ['-20.5', { level: -20.5 }],
    ['−20,5 dBm', { level: -20.5 }],
    ['10 µW', { level: -20 }],
    ['1uW', { level: -30 }],
    ['2 mW', { level: 3.0103 }],
    ['100 nW', { level: -40 }],
    ['0.8 dB', { loss: 0.8 }],
    ['+3', { level: 3 }],
    ['0 µW', null],
    ['-3 µW', null],
    ['12 furlongs', null],
    ['', null],
    ['1.2.3', null],
    ['--', null],
  ])('%s', (text, figure) => {
    const read = readMeter(text, 'level')
    if (figure === null) expect(read).toBeNull()
    else
      expect(read).toEqual(
        Object.fromEntries(Object.entries(figure).map(([k, v]) => [k, expect.closeTo(v as number, 4)])),
      )
  })

  it('without a unit it is what was asked for', () => {
    expect(readMeter('0,4', 'loss')).toEqual({ loss: 0.4 })
  })

  it('a stream is taken when it rests; a swing says why it is not', () => {
    expect(steadiness([])).toBeNull()
    expect(steadiness([-20, -20])).toMatchObject({ steady: false, reason: expect.stringContaining('begun') as string })
    expect(steadiness([-25, -20, -20.01, -20, -20.01, -20])).toMatchObject({ steady: true })
    expect(steadiness([-20, -20.3, -20, -20.4, -20])!.reason).toMatch(/swings by 0\.40 dB: lay the cords out loose/)
    expect(steadiness([-20, -20.05, -20, -20.05, -20])!.reason).toMatch(/still moves/)
  })
})

describe('uncertainty', () => {
  // JCGM 100:2008, example H.1 (end gauge), from memory: 25, 9.7, 2.9 and 16.6 nm come to 32 nm.
  it('combines by the root of the sum of squares', () => {
    expect(combined([25, 9.7, 2.9, 16.6].map((sigma) => ({ name: '', sigma })))).toBeCloseTo(31.7, 1)
    // JCGM 100:2008, 4.3.7: half-width over √3.
    expect(rectangular(0.1)).toBeCloseTo(0.0577, 4)
  })

  it('is wider with ordinary cords, without encircled flux, without a look at the reference', () => {
    const sigma = (means: Parameters<typeof lossComponents>[2], of = reference([{ level: -20, at: minute(9) }])) =>
      combined(lossComponents(2, of, means))
    const best = sigma(MEANS)
    expect(sigma({ ...MEANS, referenceGrade: false })).toBeGreaterThan(best)
    expect(sigma({ ...MEANS, encircledFlux: true })).toBeGreaterThan(best)
    expect(sigma({ ...MEANS, encircledFlux: false })).toBeGreaterThan(sigma({ ...MEANS, encircledFlux: true }))
    expect(sigma(MEANS, reference())).toBeGreaterThan(best)
  })
})

describe('losses by reference and reading', () => {
  // Worked figures, common practice: reference −20.0; near end −20.5, turned −20.4, both ends −20.8 dBm.
  it.each([
    [-20.5, 0.5],
    [-20.4, 0.4],
    [-20.8, 0.8],
  ])('%f dBm is %f dB', (level, loss) => {
    expect(measuredLoss(level, minute(5), reference(), MEANS).loss).toBeCloseTo(loss, 10)
  })

  it('more light than the reference beyond the uncertainty is no proof; a little is kept and said', () => {
    const bad = measuredLoss(-19.4, minute(5), reference(), MEANS)
    expect(bad.against.join()).toMatch(/0\.60 dB more light than the reference/)
    const little = measuredLoss(-19.93, minute(5), reference([{ level: -20, at: minute(9) }]), MEANS)
    expect(little.against).toEqual([])
    expect(little.remarks.join()).toMatch(/below zero by 0\.07 dB, within ±/)
  })

  it('what was read before a reference that had moved does not stand', () => {
    const moved = reference([{ level: -20.4, at: minute(30) }])
    expect(measuredLoss(-20.5, minute(5), moved, MEANS).against.join()).toMatch(/had moved/)
  })

  it('the bad end is the one with the higher loss, where they differ by more than both may be off', () => {
    const at = (loss: number) => ({ loss, sigma: 0.05 })
    expect(badEnd(at(0.9), at(0.4), 0.75)).toMatchObject({ worse: 'first' })
    expect(badEnd(at(0.4), at(0.9), 0.75)).toMatchObject({ worse: 'second' })
    expect(badEnd(at(0.5), at(0.4), 0.75).worse).toBeNull()
    expect(badEnd(at(1.1), at(1.0), 0.75).words).toMatch(/both over/)
  })

  it('received power has to tell the same story', () => {
    expect(receivedAgrees({ before: -12, after: -12.4 }, { loss: 0.3, sigma: 0.1 }).agrees).toBe(true)
    expect(receivedAgrees({ before: -12, after: -18 }, { loss: 0.3, sigma: 0.1 }).words).toMatch(
      /6\.0 dB less, by the traces 0\.30 dB.*differ/,
    )
  })
})

describe('polarity of a trunk', () => {
  // TIA-568.3-D: A 1→1, B 1→12, C pairs swapped.
  const map = (polarity: 'A' | 'B' | 'C', count = 12) =>
    Array.from({ length: count }, (_, i) => farChannel(polarity, i + 1, count))
  it('maps', () => {
    expect(map('A')).toEqual([1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11, 12])
    expect(map('B')).toEqual([12, 11, 10, 9, 8, 7, 6, 5, 4, 3, 2, 1])
    expect(map('C')).toEqual([2, 1, 4, 3, 6, 5, 8, 7, 10, 9, 12, 11])
    expect(map('B', 8)).toEqual([8, 7, 6, 5, 4, 3, 2, 1])
    expect(() => farChannel('A', 13, 12)).toThrow(CodedError)
    expect(() => farChannel('C', 1, 5)).toThrow(/no pairs/)
  })

  it('another polarity than recorded is named', () => {
    expect(judgePolarity(map('B'), 'B')).toMatchObject({ holds: true })
    expect(judgePolarity(map('B'), 'A')).toMatchObject({ holds: false, instead: 'B' })
    expect(judgePolarity(map('C'), 'A').words).toMatch(/this is polarity C, the record says A/)
  })

  it('a dark channel is not a polarity; a swapped pair and a wrong one are said', () => {
    const dark: (number | null)[] = map('B')
    dark[3] = null
    expect(judgePolarity(dark, 'B').words).toBe('channel 4 dark; the others are polarity B')
    expect(judgePolarity(dark, 'A')).toMatchObject({ instead: 'B' })
    const swapped = map('A')
    ;[swapped[4], swapped[8]] = [9, 5]
    expect(judgePolarity(swapped, 'A').words).toBe('channels 5 and 9 are swapped')
    expect(
      judgePolarity(
        Array.from({ length: 12 }, () => null),
        'A',
      ),
    ).toMatchObject({ holds: false, instead: null })
  })
})

describe('among its neighbours', () => {
  const tube = [0.62, 0.58, 0.6, 0.65, 0.57, 0.61, 0.59, 0.63, 0.6, 0.64, 0.58]
  it('one that stands off is found, also beside another one; a tube alike is alike', () => {
    expect(amongNeighbours(1.1, tube, 0.02)).toMatchObject({ stands: true })
    expect(amongNeighbours(1.1, [...tube.slice(1), 1.4], 0.02)).toMatchObject({ stands: true })
    expect(tube.some((own, i) => amongNeighbours(own, tube.toSpliced(i, 1), 0.02)!.stands)).toBe(false)
  })

  it('over random tubes it is as a registry package of mathematics has median and median absolute deviation', () => {
    const loss = fc.double({ min: 0.1, max: 3, noNaN: true })
    fc.assert(
      fc.property(loss, fc.array(loss, { minLength: 5, maxLength: 23 }), (own, others) => {
        const { middle, off, stands } = amongNeighbours(own, others, 0.02)!
        // The modified z-score is 0.6745·(x − median)/MAD, an outlier from 3.5 on: B. Iglewicz, D. Hoaglin, 1993 (from memory).
        const spread = Math.max(mad(others) / 0.6745, 0.02)
        expect(middle).toBeCloseTo(median(others), 9)
        expect(off).toBeCloseTo((own - median(others)) / spread, 2)
        if (Math.abs(off - 3.5) > 0.01) expect(stands).toBe((own - median(others)) / spread > 3.5)
      }),
    )
  })

  it('by hand: median 0.60, median absolute deviation 0.02 dB', () => {
    const { middle, off } = amongNeighbours(1.1, tube, 0)!
    expect(middle).toBe(0.6)
    expect(off).toBeCloseTo(0.5 / (1.4826 * 0.02), 6)
  })

  it('what is within the uncertainty does not stand off, and too few neighbours tell nothing', () => {
    expect(
      amongNeighbours(
        0.7,
        tube.map(() => 0.6),
        0.1,
      )!.stands,
    ).toBe(false)
    expect(amongNeighbours(0.7, [0.6, 0.6], 0.1)).toBeNull()
  })
})

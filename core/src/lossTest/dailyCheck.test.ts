import { describe, expect, it } from 'vitest'
import {
  checkedToday,
  checksMade,
  cordsToReplace,
  FIRST_LOOK,
  judgeSourceCheck,
  sourceChecksOf,
  type SourceCheck,
} from './index.ts'

const check = (
  level: SourceCheck['level'],
  third: number | null = null,
  some: Partial<SourceCheck> = {},
): SourceCheck => ({
  source: 's',
  meter: 'm',
  cord: 'LC 1',
  wavelength: 1310,
  kind: 'laser',
  level,
  third,
  ...some,
})
let count = 0
const logged = (one: SourceCheck) => ({
  id: `${count++}`,
  by: 'a',
  observedAt: new Date(Date.UTC(2026, 0, 1, 3, count)).toISOString(),
  supersedes: null,
  superseded: false,
  entry: { kind: 'source-check', check: one },
})
const words = (...checks: SourceCheck[]) => sourceChecksOf(checks.map(logged)).map(({ judgement }) => judgement.word)

// Figures of common practice, no published source: a laser about −10 dBm, low under −11; an LED about −20; a cord at most 0.5 dB.
describe('the daily check', () => {
  it.each<[string, SourceCheck, string]>([
    ['a laser that shows what it has', check(-10.3), 'go on'],
    ['a laser under −11 dBm', check(-11.2), 'low'],
    ['an LED at −20 dBm', check(-20.2, null, { kind: 'LED' }), 'go on'],
    ['a laser as weak as an LED', check(-20), 'low'],
    ['no light: the meter shows “low”', check('low'), 'low'],
    ['more than it has', check(-8), 'high'],
    ['a third cord within half a decibel', check(-10, 0.5), 'good'],
    ['one over it', check(-10, 0.6), 'third bad'],
    ['one that gains', check(-10, -0.4), 'below zero'],
  ])('%s', (_name, one, word) => {
    expect(judgeSourceCheck(one, one.kind === 'laser' ? -10 : -20, FIRST_LOOK).word).toBe(word)
  })

  it('a low level names the wrong wavelength and the wrong leg before anything is thrown away', () => {
    const { reasons, next } = judgeSourceCheck(check(-17), -10, FIRST_LOOK)
    expect(reasons.join()).toMatch(/not set to 1310 nm, the wrong leg/)
    expect(next).toMatch(/^caps off, set both to 1310 nm, take the lit leg; then clean/)
  })

  it('clean and reseat twice, then replace; a good one begins anew', () => {
    const bad = check(-10, 0.8)
    const all = sourceChecksOf([bad, bad, bad, check(-10, 0.3), bad].map(logged))
    expect(all.map(({ judgement }) => judgement.next)).toEqual([
      expect.stringMatching(/^clean/),
      expect.stringMatching(/^clean/),
      expect.stringMatching(/^replace the third cord or the sleeve, not the first cord/),
      'set the reference',
      expect.stringMatching(/^clean/),
    ])
  })

  it('a source is held against what it showed when it was good, not against its kind', () => {
    expect(words(check(-10.8, 0.2), check(-11.6))).toEqual(['good', 'go on'])
    expect(words(check(-9.2, 0.2), check(-10.5))).toEqual(['good', 'low'])
    expect(words(check(-9.2, 0.2), check(-10.5, null, { wavelength: 1550 }))).toEqual(['good', 'go on'])
  })

  it('what a source showed in another callout counts in the next; of one that nobody named it tells nothing', () => {
    const made = (...some: SourceCheck[]) => checksMade(some.map(logged))
    const after = (elsewhere: ReturnType<typeof made>, one: SourceCheck) =>
      sourceChecksOf([logged(one)], elsewhere).find(({ own }) => own)!.judgement
    expect(after(made(check(-9.2, 0.2)), check(-10.5)).word).toBe('low')
    expect(after(made(check(-9.2, 0.2, { source: null })), check(-10.5, null, { source: null })).word).toBe('go on')
    // A cord that was cleaned and reseated there is replaced here; one without a name is another one.
    const bad = check(-10, 0.8)
    expect(after(made(bad, bad), bad).next).toMatch(/^replace the third cord or the sleeve/)
    const nameless = { ...bad, cord: '' }
    expect(after(made(nameless, nameless), nameless).next).toMatch(/^clean/)
    // A later check elsewhere changes nothing about an earlier one.
    const own = logged(check(-10.5))
    expect(sourceChecksOf([own], made(check(-9.2, 0.2)))[0]!.judgement.word).toBe('go on')
  })

  it('low at one wavelength only is its setting; low at both is a cap, the leg or dirt', () => {
    const reason = (...some: SourceCheck[]) => sourceChecksOf(some.map(logged)).at(-1)!.judgement.reasons.join()
    const at1550 = { wavelength: 1550 }
    expect(reason(check(-10, 0.2), check(-17, null, at1550))).toMatch(/1310 nm is as it should be.*likely.*1550 nm/)
    expect(reason(check('low'), check('low', null, at1550))).toMatch(
      /low at 1310 nm, too: not the wavelength but a cap/,
    )
  })

  it('a third cord that lost too much is no try at a level that is low', () => {
    const bad = check(-10, 0.8)
    expect(sourceChecksOf([bad, bad, check('low')].map(logged)).at(-1)!.judgement.next).toMatch(/^caps off/)
    expect(sourceChecksOf([check(-17), check(-17), bad].map(logged)).at(-1)!.judgement.next).toMatch(/^clean third/)
  })

  it('a level still low with another cord is the source’s or the meter’s: to service', () => {
    const all = sourceChecksOf([check(-17), check(-17), check(-17), check(-17, null, { cord: 'LC 2' })].map(logged))
    expect(all.map(({ judgement }) => judgement.word)).toEqual(['low', 'low', 'low', 'to service'])
    expect(all[2]!.judgement).toMatchObject({ next: expect.stringMatching(/^take another cord/) as string })
    expect(all[3]!.judgement.next).toMatch(/^source or meter: to service/)
    // A good one with the other cord: it was the cord.
    expect(words(check(-17), check(-17), check(-17), check(-10, 0.2, { cord: 'LC 2' })).at(-1)).toBe('good')
  })

  it('of third cord and sleeve the one is named that was not shown good beside another', () => {
    const named = (thirdCord: string, sleeve: string, third: number) => check(-10, third, { thirdCord, sleeve })
    const replaced = (...some: SourceCheck[]) => sourceChecksOf(some.map(logged)).at(-1)!.judgement.replace
    const bad = named('LC 5', 'sleeve 1', 0.9)
    expect(replaced(bad, bad, bad)).toEqual(['LC 5', 'sleeve 1'])
    expect(replaced(named('LC 5', 'sleeve 2', 0.2), bad, bad, bad)).toEqual(['sleeve 1'])
    expect(replaced(named('LC 6', 'sleeve 1', 0.2), bad, bad, bad)).toEqual(['LC 5'])
  })

  it('each wavelength that is tested at is to be checked on the day', () => {
    const all = sourceChecksOf([logged(check(-10, 0.2))])
    const now = new Date(all[0]!.at)
    expect(checkedToday(all, [1310, 1550], now).map(({ last }) => last?.judgement.word ?? null)).toEqual(['good', null])
    expect(checkedToday(all, [1310], new Date(now.getTime() + 86_400_000))).toEqual([{ wavelength: 1310, last: null }])
  })

  it('what cleaning did not help is told to be replaced, until it is good again: not the first cord', () => {
    const bad = check(-10, 0.8, { thirdCord: 'LC 5', sleeve: 'sleeve 1' })
    const of = (...some: SourceCheck[]) => cordsToReplace(sourceChecksOf(some.map(logged)))
    expect(of(bad, bad)).toEqual([])
    const reason = 'adapter and third cord lose 0.80 dB, at most 0.5 dB'
    expect(of(bad, bad, bad)).toEqual([
      { what: 'LC 5', reason },
      { what: 'sleeve 1', reason },
    ])
    const low = [check(-17), check(-17), check(-17)]
    expect(of(...low).map(({ what }) => what)).toEqual(['LC 1'])
    // As low through another cord: it was never the cord.
    expect(of(...low, check(-17, null, { cord: 'LC 2' }))).toEqual([])
    expect(of(bad, bad, bad, check(-10, 0.2))).toEqual([])
  })
})

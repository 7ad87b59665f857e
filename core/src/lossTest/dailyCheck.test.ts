import { describe, expect, it } from 'vitest'
import { checksMade, cordsToReplace, judgeSourceCheck, sourceChecksOf, type SourceCheck } from './index.ts'

const check = (level: number, third: number | null = null, some: Partial<SourceCheck> = {}): SourceCheck => ({
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
    ['more than it has', check(-8), 'high'],
    ['a third cord within half a decibel', check(-10, 0.5), 'good'],
    ['one over it', check(-10, 0.6), 'cord bad'],
    ['one that gains', check(-10, -0.4), 'below zero'],
  ])('%s', (_name, one, word) => {
    expect(judgeSourceCheck(one, one.kind === 'laser' ? -10 : -20, 0).word).toBe(word)
  })

  it('a low level names the wrong wavelength and the wrong leg before anything is thrown away', () => {
    const { reasons, next } = judgeSourceCheck(check(-17), -10, 0)
    expect(reasons.join()).toMatch(/not set to 1310 nm, or the wrong leg/)
    expect(next).toMatch(/^set both to 1310 nm, take the lit leg; then clean/)
  })

  it('clean and reseat twice, then replace; a good one begins anew', () => {
    const bad = check(-10, 0.8)
    const all = sourceChecksOf([bad, bad, bad, check(-10, 0.3), bad].map(logged))
    expect(all.map(({ judgement }) => judgement.next)).toEqual([
      expect.stringMatching(/^clean/),
      expect.stringMatching(/^clean/),
      expect.stringMatching(/^replace the cord/),
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
    expect(after(made(bad, bad), bad).next).toMatch(/^replace the cord/)
    const nameless = { ...bad, cord: '' }
    expect(after(made(nameless, nameless), nameless).next).toMatch(/^clean/)
    // A later check elsewhere changes nothing about an earlier one.
    const own = logged(check(-10.5))
    expect(sourceChecksOf([own], made(check(-9.2, 0.2)))[0]!.judgement.word).toBe('go on')
  })

  it('a cord that cleaning did not help is told to be replaced, until it is good again', () => {
    const bad = check(-10, 0.8)
    const of = (...some: SourceCheck[]) => cordsToReplace(sourceChecksOf(some.map(logged)))
    expect(of(bad, bad)).toEqual([])
    expect(of(bad, bad, bad)).toEqual([{ cord: 'LC 1', reason: 'adapter and third cord lose 0.80 dB, at most 0.5 dB' }])
    expect(of(bad, bad, bad, check(-10, 0.2))).toEqual([])
  })
})

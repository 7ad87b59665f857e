import { describe, expect, it } from 'vitest'
import { twoCablePlant } from '../../test/plants.ts'
import { ruleBook } from '../ruleBook/rules.ts'
import { conclude } from '../prove/verdict/conclude.ts'
import type { LoggedEntry } from '../log/standing.ts'
import type { PlantBundle } from '../plant/types.ts'
import { judgeLosses, lossTestsOf } from './index.ts'

let count = 0
const minute = (m: number) => new Date(Date.UTC(2026, 0, 1, 3, m)).toISOString()
const logged = (entry: { kind: string } & Record<string, unknown>, some: Partial<LoggedEntry> = {}): LoggedEntry => ({
  id: `${count++}`,
  by: 'a',
  observedAt: minute(count),
  supersedes: null,
  superseded: false,
  entry,
  ...some,
})
const set = (some: object = {}, id = 'r') =>
  logged(
    {
      kind: 'loss-reference',
      method: 'one-cord',
      wavelength: 1550,
      level: -10,
      source: null,
      meter: null,
      cords: 'two, LC to LC',
      referenceGrade: true,
      encircledFlux: null,
      ...some,
    },
    { id },
  )
const read = (level: number, some: object = {}) =>
  logged({ kind: 'loss-reading', referenceId: 'r', link: 'l', way: 'ab', level, ...some })
const look = (level: number) => logged({ kind: 'reference-look', referenceId: 'r', level })
const judge = (log: LoggedEntry[], plant: PlantBundle = twoCablePlant(), more = {}) =>
  judgeLosses(plant, lossTestsOf(log).readings, more)

describe('loss tests of a log', () => {
  it('a later reading of the same link, wavelength and way takes the earlier one’s place', () => {
    const { references, readings } = lossTestsOf([
      set(),
      read(-13),
      read(-12),
      read(-12.5, { way: 'ba' }),
      read(-9, { referenceId: 'nowhere' }),
      set({ wavelength: 1310 }, 's'),
    ])
    expect(references.map(({ id }) => id)).toEqual(['s', 'r'])
    expect(readings.map(({ level, way }) => [level, way])).toEqual([
      [-12, 'ab'],
      [-12.5, 'ba'],
    ])
  })

  it('looks at a reference belong to it', () => {
    expect(lossTestsOf([set(), look(-10.02)]).references[0]!.checks).toMatchObject([{ level: -10.02 }])
  })
})

describe('a loss against its budget', () => {
  // The budget of this plant's link by hand: 3.38 dB with one cord, see budget.test.ts.
  it.each([
    [-12, 'within', /2\.00 dB ± 0\.\d\d dB, within the 3\.38 dB/],
    [-13.38, 'close', /close to the 3\.38 dB/],
    [-14.2, 'over', /4\.20 dB ± 0\.\d\d dB, over the 3\.38 dB/],
    [-9, 'no proof', /more light than the reference/],
  ])('%f dBm: %s', (level, word, reason) => {
    const [figure] = judge([set(), read(level), look(-10)])
    expect(figure!.word).toBe(word)
    expect(figure!.reasons.join()).toMatch(reason)
    expect(figure!.next === null).toBe(word === 'within')
  })

  it('two cords hold one pair less, a repair adds its splices', () => {
    const [two] = judge([set({ method: 'two-cord' }), read(-12)])
    expect(two!.budget.allowed).toBeCloseTo(3.37854 - 0.75, 9)
    const [more] = judge([set(), read(-12)], twoCablePlant(), { l: 2 })
    expect(more!.budget.allowed).toBeCloseTo(3.97854, 9)
  })

  it('without a limit nothing is called good', () => {
    expect(judge([set({ wavelength: 850 }), read(-12)])[0]).toMatchObject({ word: 'no limit' })
  })

  it('what was read before a reference that had moved proves nothing', () => {
    expect(judge([set(), read(-12), look(-10.4)])[0]).toMatchObject({ word: 'no proof' })
  })

  it('a reading of a link that the plant does not have is left out', () => {
    expect(judge([set(), read(-12, { link: 'gone' })])).toEqual([])
  })

  it('one that stands off its tube is looked at, within its budget or not', () => {
    const plant = twoCablePlant()
    const links = Array.from({ length: 8 }, (_, i) => ({
      ...plant.links[0]!,
      id: `l${i}`,
      path: plant.links[0]!.path.map((step) => ('fiber' in step ? { ...step, fiber: i + 1 } : step)),
    }))
    const levels = [-11.6, -11.62, -11.58, -11.6, -11.61, -11.59, -11.6, -12.9]
    const figures = judge([set(), ...levels.map((level, i) => read(level, { link: `l${i}` })), look(-10)], {
      ...plant,
      links,
    })
    expect(figures.map(({ word }) => word)).toEqual([...Array.from({ length: 7 }, () => 'within'), 'close'])
    expect(figures[7]!.reasons.join()).toMatch(/1\.30 dB over the middle of its tube, 1\.60 dB/)
  })
})

describe('a source that was not warm', () => {
  it('is remarked on until the reference was looked at again (common practice: 15 min)', () => {
    const remarked = (log: LoggedEntry[]) => judge(log)[0]!.reasons.join()
    expect(remarked([set({ sourceOn: 4 }), read(-14)])).toMatch(/on for 4 of 15 min: it may have drifted/)
    expect(remarked([set({ sourceOn: 20 }), read(-14)])).not.toMatch(/drifted/)
    expect(remarked([set({ sourceOn: 4 }), read(-14), look(-10)])).not.toMatch(/drifted/)
  })
})

describe('the verdict with a loss test', () => {
  const rules = ruleBook('standard')
  const input = { linkId: 'l', baseline: [], after: [] }
  const verdict = (log: LoggedEntry[]) =>
    conclude({
      input,
      events: [],
      causes: [],
      total: {},
      before: [],
      after: [],
      wavelengths: [],
      losses: judge(log),
      received: [],
      continuity: [],
      trunks: [],
      fibers: null,
      unusable: [],
      rules,
    })

  it('a loss over its budget is not restored, also before a trace was taken', () => {
    const { verdict: word, reasons, next } = verdict([set(), read(-14.5)])
    expect(word).toBe('not-restored')
    expect(reasons[0]).toMatch(/loss test at 1550 nm from West panel: 4\.50 dB/)
    expect(next[0]).toMatch(/inspect and clean both end connections/)
  })

  it('one that proves nothing can’t tell; one that is well does not make up for the traces', () => {
    expect(verdict([set(), read(-8)]).verdict).toBe('cannot-tell')
    expect(verdict([set(), read(-12)])).toMatchObject({
      verdict: 'cannot-tell',
      reasons: ['no trace was taken after the repair'],
    })
  })
})

import { describe, expect, it } from 'vitest'
import { CodedError } from '../../errors/index.ts'
import { fullKit } from '../../../test/kit.ts'
import { twoCablePlant } from '../../../test/plants.ts'
import { checkKit, countOf, whyUnfit, type KitItem } from '../../kit/index.ts'
import { chooseCords } from './cords.ts'
import { FIRST_SCENARIO } from './crews.ts'
import { packingList } from './packing.ts'
import { SITE_DEFAULTS } from '../planRules.ts'
import { proposeRepairs } from '../propose.ts'
import { learnRates, withRates } from './rates.ts'
import { PLAN_RULES } from '../planRules.ts'
import { rentOrBuy } from './rentOrBuy.ts'
import { breakAt } from '../../../test/faults.ts'

const panel = (connector: string) => ({ kind: 'panel', connector }) as const
const open = (connector: string) => ({ kind: 'open', connector }) as const

// Choosing cords: common practice, no published source.
describe('test cords', () => {
  it('are two for panels at both ends, each with the instrument on one end and the panel on the other', () => {
    expect(chooseCords('SC/UPC', panel('LC/UPC'), panel('SC/UPC'), null)).toMatchObject({
      cords: [
        { from: 'SC/UPC', to: 'LC/UPC', count: 1 },
        { from: 'SC/UPC', to: 'SC/UPC', count: 1 },
      ],
      adapters: [],
      meterCap: '2.5 mm',
    })
  })

  it('are one for one panel: the open end goes into the meter, whose cap must fit it', () => {
    expect(chooseCords('SC/UPC', panel('SC/UPC'), open('LC/UPC'), null)).toMatchObject({
      cords: [{ from: 'SC/UPC', to: 'SC/UPC', count: 1 }],
      adapters: [],
      meterCap: '1.25 mm',
    })
  })

  it('are two with an adapter at each end for open connectors', () => {
    expect(chooseCords('SC/UPC', open('LC/UPC'), open('LC/UPC'), null)).toMatchObject({
      cords: [{ from: 'SC/UPC', to: 'LC/UPC', count: 2 }],
      adapters: [{ fit: 'LC/UPC', count: 2 }],
    })
  })

  it('warn of APC beside UPC', () => {
    expect(chooseCords('SC/UPC', panel('SC/APC'), panel('SC/UPC'), null).words.join()).toMatch(/APC and UPC never mate/)
  })
})

describe('the packing list', () => {
  const plant = twoCablePlant()
  const link = plant.links[0]!
  const cable = plant.cables[1]!
  const pack = (kit = fullKit()) => {
    const { lasting } = proposeRepairs({
      plant,
      linkId: link.id,
      fault: breakAt('b', 2000),
      hit: null,
      kit,
      site: { ...SITE_DEFAULTS, toBench: 1, preparation: 1, lost: 1 },
    })
    return packingList([lasting!], { kit, cable, link, scenario: FIRST_SCENARIO, today: null }).lines
  }
  const line = (lines: ReturnType<typeof pack>, kind: string) => lines.find((candidate) => candidate.kind === kind)!

  it('has parts with a margin, tools of the steps, a pair of gloves for each person', () => {
    const lines = pack()
    // 12 fibers, and a fifth more rounded up.
    expect(line(lines, 'splice sleeve').count).toBe(12 + 3)
    expect(line(lines, 'closure').count).toBe(1)
    expect(line(lines, 'gloves').count).toBe(2)
    expect(lines.map(({ kind }) => kind)).toEqual(
      expect.arrayContaining(['splicer', 'cleaver', 'cable locator', 'otdr', 'shard bin', 'closure stand']),
    )
    expect(lines.every(({ missing }) => missing === 0)).toBe(true)
  })

  it('names what is missing, with what would do instead where something does', () => {
    const lines = pack(fullKit(['cleaning pen', 'closure']))
    expect(line(lines, 'closure')).toMatchObject({ missing: 1, substitute: null })
    const kit = fullKit(['pigtail'])
    const { options } = proposeRepairs({
      plant,
      linkId: link.id,
      fault: breakAt('b', 2000),
      hit: null,
      kit,
      site: SITE_DEFAULTS,
    })
    const pigtail = {
      ...options[0]!,
      parts: [{ kind: 'pigtail', fit: null, fibers: null, count: 1, unit: 'piece' as const, use: 'x' }],
    }
    const packed = packingList([pigtail], { kit, cable, link, scenario: FIRST_SCENARIO, today: null }).lines
    expect(line(packed, 'pigtail').substitute).toMatch(/splice-on connector/)
  })

  it('does not count what is worn out or out of calibration, and says why', () => {
    const kit = fullKit()
    const cleaver = kit.items.find(({ kind }) => kind === 'cleaver')!
    cleaver.wear = { used: 48_000, due: 48_000, unit: 'cleaves' }
    expect(countOf(kit, 'cleaver')).toBe(0)
    const otdr: KitItem = { ...cleaver, id: 'o', kind: 'otdr', wear: null, calibratedUntil: '2026-02-28' }
    expect(whyUnfit(otdr, '2026-02-28')).toBeNull()
    expect(whyUnfit(otdr, '2026-03-01')).toBe('calibration ran out on 2026-02-28')
  })
})

describe('a kit', () => {
  it.each([
    ['an id twice', (kit: ReturnType<typeof fullKit>) => void (kit.items[1]!.id = kit.items[0]!.id), 'items[1].id'],
    [
      'a shift of nobody',
      (kit: ReturnType<typeof fullKit>) =>
        void kit.hours.shifts.push({ id: 's', crew: 'x', zone: 'CET', weekdays: [1], from: '08:00', to: '16:00' }),
      'hours.shifts[0].crew',
    ],
    [
      'a zone that is none',
      (kit: ReturnType<typeof fullKit>) =>
        void kit.hours.windows.push({
          id: 'w',
          name: 'w',
          traffic: 'light',
          zone: 'X/Y',
          weekdays: [1],
          from: '08:00',
          to: '09:00',
        }),
      'hours.windows[0].zone',
    ],
  ])('with %s is refused by its place', (_, spoil, path) => {
    const kit = fullKit()
    spoil(kit)
    expect(() => checkKit(kit)).toThrow(path)
  })
})

describe('rates', () => {
  it('move from the rule book to what was done as more is done, and never silently', () => {
    // Travel 20, 30, 60 min: mean (20 + 4·30 + 60)/6 = 33.3. Ten journeys of 50 min: (5 + 10·1.5)/15 = 4/3.
    const done = Array.from({ length: 10 }, () => ({ kind: 'travel' as const, minutes: 50, byRules: 200 / 6 }))
    const [rate] = learnRates(PLAN_RULES, done)
    expect(rate!.learned.likely).toBeCloseTo(40, 9)
    expect(rate!.learned.worst).toBeCloseTo(80, 9)
    expect(learnRates(PLAN_RULES, done.slice(0, 1))[0]!.learned.likely).toBeCloseTo((30 * (5 + 1.5)) / 6, 9)
    const rules = withRates(PLAN_RULES, [rate!])
    expect(rules.source).toMatch(/learned from 10 steps/)
    expect(rules.steps.travel.minutes.likely).toBeCloseTo(40, 9)
    expect(rules.steps.dig).toEqual(PLAN_RULES.steps.dig)
    expect(rules.splicing.single).toEqual(PLAN_RULES.splicing.single)
  })

  it('of a tube’s splices is that of the splices, not of one that takes as long as all', () => {
    // Five tubes of 12 splices, each line half as long again as planned: (5 + 5·1.5)/10 = 1.25.
    const done = Array.from({ length: 5 }, () => ({ kind: 'splice' as const, minutes: 33, byRules: 22 }))
    const [rate] = learnRates(PLAN_RULES, done)
    expect(rate!.stretch).toBeCloseTo(1.25, 9)
    expect(rate!.learned.likely).toBeCloseTo(1.9 * 1.25, 9)
    const { splicing, steps } = withRates(PLAN_RULES, [rate!])
    // Hands are slower, the oven is not.
    expect(splicing.single).toEqual({ prepare: 65 * 1.25, splice: 35 * 1.25, oven: 35, store: 15 })
    expect(steps.travel).toEqual(PLAN_RULES.steps.travel)
  })

  it('of connectors and hauling stretch each way and the pace', () => {
    const done = ['terminate' as const, 'haul' as const].map((kind) => ({ kind, minutes: 70, byRules: 10 }))
    const { terminations, haulPace } = withRates(PLAN_RULES, learnRates(PLAN_RULES, done))
    // (5 + 7)/6 = 2.
    expect(terminations.pigtail.minutes).toEqual({ best: 12, likely: 18, worst: 30 })
    expect(haulPace).toBe(PLAN_RULES.haulPace / 2)
  })

  it('leave aside what the rule book has no minutes for', () => {
    expect(learnRates(PLAN_RULES, [{ kind: 'confirm', minutes: 3, byRules: 0 }])).toEqual([])
  })
})

describe('rent or buy', () => {
  it('is even where rent pays what owning costs a year', () => {
    // (6000 − 1000)/5 + 500 = 1500 a year; at 75 a day even at 20 days.
    const input = { price: 6000, years: 5, resale: 1000, upkeep: 500, rentPerDay: 75, days: 19 }
    expect(rentOrBuy(input)).toEqual({ own: 1500, rent: 1425, evenAtDays: 20, better: 'rent' })
    expect(rentOrBuy({ ...input, days: 21 }).better).toBe('buy')
    expect(() => rentOrBuy({ ...input, years: 0 })).toThrow(CodedError)
  })
})

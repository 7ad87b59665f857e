import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { cautionsOf, compileSheet, type RunSheet } from './compile.ts'
import type { SheetFacts } from './facts.ts'
import { handOver, recordDifferences, scrapOf } from './handOver.ts'
import { PROCEDURES } from '../procedures/index.ts'
import { emptyOutcome, faultsOf, progressOf, whyNotSkipped, type SheetEvent, type StepOutcome } from './progress.ts'
import { TEST_DOME, testFacts } from '../../../test/openFacts.ts'
import { sheetTimes } from './times.ts'

function sheetOf(some: Partial<SheetFacts> = {}, model = TEST_DOME): RunSheet {
  return compileSheet({ facts: testFacts(some), procedures: PROCEDURES, model, given: {} }) as RunSheet
}

/** An entry as a careful person makes it. */
function good(sheet: RunSheet, id: string): StepOutcome {
  const step = sheet.steps.find((one) => one.id === id)!
  return {
    ...emptyOutcome(id),
    said: cautionsOf(step).map((caution) => caution.id),
    values: Object.fromEntries(
      step.fields.map((field) => [field.id, field.kind === 'text' ? 'as on record' : (field.least ?? 1)]),
    ),
    photos: step.photo ? ['photo'] : [],
    watch: step.watch ? { added: 0, sigma: 0.01, flagged: false } : null,
    pressure: step.test
      ? {
          startGauge: 40_000,
          startTemperature: 20,
          endGauge: 40_000,
          endTemperature: 20,
          minutes: 15,
          ambient: 101_300,
        }
      : null,
  }
}

let count = 0
const did = (entry: StepOutcome, by = 'A'): SheetEvent => ({
  kind: 'step',
  id: `e${++count}`,
  by,
  at: '2026-01-01T00:00:00Z',
  entry,
})
const word = (step: string): SheetEvent => ({
  kind: 'release',
  id: `e${++count}`,
  by: 'Lead',
  at: '2026-01-01T00:00:00Z',
  step,
  remark: '',
})

/** A whole sheet done in its order, with the lead's word where it waits. */
function wholeOf(sheet: RunSheet): SheetEvent[] {
  return sheet.steps.flatMap((step) => [...(step.hold === undefined ? [] : [word(step.id)]), did(good(sheet, step.id))])
}

const stateOf = (sheet: RunSheet, events: readonly SheetEvent[], id: string) =>
  progressOf(sheet, events).steps.find(({ step }) => step.id === id)!

const live = { live: true, armored: true, metallic: true, diameter: 0.0114 }

describe('a sheet done in its order', () => {
  it.each<[string, Partial<SheetFacts>]>([
    ['loose tube into a dome', {}],
    ['live, armored, thin', live],
    [
      'rollable ribbon',
      { construction: 'rollable-ribbon', strengthMember: false, armored: true, doubleJacket: true, metallic: true },
    ],
    ['micro-module into a wall box', { construction: 'micro-module', closure: 'wall-box' }],
    ['panel in service', { work: 'panel', closure: 'live-panel', live: true }],
  ])('is complete, with nothing left open: %s', (_name, facts) => {
    const sheet = sheetOf(facts)
    const progress = progressOf(sheet, wholeOf(sheet))
    expect(progress.steps.flatMap(({ others }) => others)).toEqual([])
    expect(progress.complete).toBe(true)
    expect(progress.next).toBeNull()
    expect(progress.exposed).toEqual([])
  })
})

describe('locks', () => {
  it('no sheet is complete with a lock broken, in whatever order two people enter steps, words and withdrawals', () => {
    const sheet = sheetOf(live)
    const holds = sheet.steps.filter(({ hold }) => hold !== undefined).map(({ id }) => id)
    const event = fc.oneof(
      fc
        .tuple(fc.constantFrom(...sheet.steps.map(({ id }) => id)), fc.constantFrom('A', 'B'))
        .map(([id, by]) => did(good(sheet, id), by)),
      fc.constantFrom(...holds).map(word),
      fc
        .constantFrom(...sheet.steps.map(({ id }) => id))
        .map((id) => did({ ...emptyOutcome(id), outcome: 'skipped', reason: 'no time' })),
    )
    // Random orders alone never end: most begin with a sheet that is nearly done, with steps taken out or moved.
    const nearly = fc
      .tuple(
        fc.array(fc.nat(sheet.steps.length - 1), { maxLength: 3 }),
        fc.array(fc.tuple(fc.nat(60), event), { maxLength: 6 }),
      )
      .map(([out, added]) => {
        const events = wholeOf(sheet).filter((_, i) => !out.includes(i))
        for (const [at, one] of added) events.splice(Math.min(at, events.length), 0, one)
        return events
      })
    let [complete, broken] = [0, 0]
    fc.assert(
      fc.property(nearly, (events) => {
        const { steps, complete: whole } = progressOf(sheet, events)
        const at = new Map(
          steps.flatMap(({ step, by }) => (by ? [[step.id, events.findIndex(({ id }) => id === by.id)]] : [])),
        )
        for (const { step, state, by, released } of steps) {
          if (state === 'open') continue
          if (state === 'skipped') expect(whyNotSkipped(sheet, step)).toBeNull()
          for (const lock of state === 'done' ? (step.locks ?? []) : [])
            expect(at.get(lock.step) ?? Infinity).toBeLessThan(at.get(step.id)!)
          if (step.hold !== undefined) expect(released).not.toBeNull()
          if (state === 'done')
            for (const { id, say } of cautionsOf(step)) if (say !== null) expect(by!.entry.said).toContain(id)
        }
        if (whole) complete++
        else broken++
      }),
      { numRuns: 300, endOnFailure: true },
    )
    // Both happened, or nothing was tried.
    expect(complete).toBeGreaterThan(10)
    expect(broken).toBeGreaterThan(10)
  })

  it.each<[string, Partial<SheetFacts>]>([
    ['a thin, armored, grounded cable into a dome', { ...live, grounded: true }],
    [
      'grounded after the wedge',
      { ...live, grounded: true, schools: { sheathEnd: 'basket', groundCable: 'after-wedge' } },
    ],
    [
      'rollable ribbon',
      { construction: 'rollable-ribbon', strengthMember: false, armored: true, doubleJacket: true, metallic: true },
    ],
    ['a wall box', { construction: 'micro-module', closure: 'wall-box', fiberCount: 24 }],
    ['a panel module of ribbons', { closure: 'panel-module', pigtails: 'ribbon' }],
    ['a connector in a 900 µm tube', { work: 'connector', connector: 'tube-900', ferrule: 'SC', closure: null }],
    ['a field-installable connector', { work: 'connector', connector: 'field-lc', ferrule: 'LC', closure: null }],
    ['epoxy and polish', { work: 'connector', connector: 'epoxy', ferrule: 'SC', closure: null }],
  ])('what must wait waits, and what may be free is free: %s', (_name, facts) => {
    const sheet = sheetOf(facts)
    const needed = (id: string): Set<string> => {
      const locks = sheet.steps.find((step) => step.id === id)!.locks ?? []
      return new Set(locks.flatMap((lock) => [lock.step, ...needed(lock.step)]))
    }
    for (const { id, locks = [] } of sheet.steps) {
      const before = needed(id)
      // With nothing done but what it waits for, it is free.
      const least = wholeOf(sheet).filter(
        (event) => event.kind === 'release' || [...before].some((one) => one === event.entry.step),
      )
      expect(stateOf(sheet, least, id).obstacles).toEqual([])
      // With everything done but one of those, it waits, whatever else is done.
      for (const lock of locks) {
        const without = wholeOf(sheet).filter(
          (event) => event.kind === 'release' || ![id, lock.step].includes(event.entry.step),
        )
        const done = progressOf(sheet, without)
        expect(done.steps.find(({ step }) => step.id === id)!.obstacles.join()).toContain(lock.why)
      }
    }
  })

  it('the wedge waits for no bushing, and the bushing for no wedge: the screws alone wait for it', () => {
    const sheet = sheetOf(live)
    expect(
      sheet.steps.flatMap(({ id, locks = [] }) => (locks.some(({ step }) => /bushing/.test(step)) ? [id] : [])),
    ).toEqual(['dome-close.screws'])
    expect(sheet.steps.find(({ id }) => id === 'dome-enter.bushing')!.locks).toEqual([])
  })

  it('says what comes first and why: the bushing can’t pass the gel once the screw is tight', () => {
    const sheet = sheetOf(live)
    const events = wholeOf(sheet).filter(
      (event) => event.kind !== 'step' || !['dome-enter.bushing', 'dome-close.screws'].includes(event.entry.step),
    )
    const screws = stateOf(sheet, events, 'dome-close.screws')
    expect(screws.obstacles.join()).toMatch(/“Bushing over the cable.*” comes first: the bushing can’t pass the gel/)
    const forced = [...events, did(good(sheet, 'dome-close.screws'))]
    expect(stateOf(sheet, forced, 'dome-close.screws')).toMatchObject({ state: 'open' })
    expect(stateOf(sheet, forced, 'dome-close.screws').others[0]!.why).toMatch(/out of order/)
  })

  it('a step whose lock is undone later counts no more, and is to be done again', () => {
    const sheet = sheetOf()
    const events = wholeOf(sheet)
    const without = events.filter((event) => event.kind !== 'step' || event.entry.step !== 'dome-open.vent')
    expect(stateOf(sheet, without, 'dome-open.clamp-ring').state).toBe('open')
    // It is open all the same: the ring was taken off.
    const upToRing = without.slice(
      0,
      without.findIndex((event) => event.kind === 'step' && event.entry.step === 'dome-open.clamp-ring') + 1,
    )
    expect(progressOf(sheet, upToRing).exposed).toContain('closure open')
  })

  it('a lead’s word given before its reasons counts for nothing', () => {
    const sheet = sheetOf(live)
    const early = [word('identify.cut-word'), ...wholeOf(sheet).filter(({ kind }) => kind === 'step')]
    expect(stateOf(sheet, early, 'identify.cut-word').state).toBe('open')
    expect(progressOf(sheet, early).complete).toBe(false)
  })

  it('of two entries for one step both are kept and the first counts', () => {
    const sheet = sheetOf()
    const [first, second] = [did(good(sheet, 'dome-open.vent'), 'A'), did(good(sheet, 'dome-open.vent'), 'B')]
    const state = stateOf(sheet, [first, second], 'dome-open.vent')
    expect(state.by).toMatchObject({ by: 'A' })
    expect(state.others).toMatchObject([{ by: 'B', why: 'A had settled it before' }])
  })
})

describe('what an entry is refused for', () => {
  const sheet = sheetOf(live)
  const stepOf = (id: string) => sheet.steps.find((step) => step.id === id)!
  it.each<[string, string, Partial<StepOutcome>, RegExp | null]>([
    ['a caution not said', 'dome-open.vent', { said: [] }, /No pressure and no vacuum/],
    ['life at stake left out', 'dome-open.vent', { outcome: 'skipped', reason: 'in a hurry' }, /life is at stake/],
    ['left out without a reason', 'dome-open.dome-aside', { outcome: 'skipped' }, /needs a reason/],
    ['left out with a reason', 'dome-open.dome-aside', { outcome: 'skipped', reason: 'no dome yet' }, null],
    ['others wait for it', 'dome-enter.bushing', { outcome: 'skipped', reason: 'none' }, /waits for it/],
    ['a photo missing', 'dome-close.left', { photos: [] }, /photo is wanted/],
    ['a photo missing with a reason', 'dome-close.left', { photos: [], reason: 'camera broken' }, null],
    ['a member too long', 'loose-tube.strength-member', { values: { length: 70 } }, /70 mm, expected 51 to 57 mm/],
    [
      'a member too long, with a reason',
      'loose-tube.strength-member',
      { values: { length: 58 }, reason: 'long retainer' },
      null,
    ],
    ['a member at its limit', 'loose-tube.strength-member', { values: { length: 57 } }, null],
    ['nothing filled in', 'loose-tube.strength-member', { values: {} }, /not filled in/],
    ['no number', 'loose-tube.strength-member', { values: { length: 'long' } }, /not a number/],
    ['a count that differs', 'loose-tube.count', { values: { groups: 3 } }, /Stop and count again/],
    [
      'counts that differ from each other',
      'loose-tube.count',
      { values: { groups: 3, 'groups-again': 5 } },
      /Count until two counts agree/,
    ],
    [
      'counted twice without a reason',
      'loose-tube.count',
      { values: { groups: 3, 'groups-again': 3 } },
      /whoever keeps the record/,
    ],
    [
      'counted twice, with the reason',
      'loose-tube.count',
      { values: { groups: 3, 'groups-again': 3 }, reason: 'one tube was cut out in an earlier repair' },
      null,
    ],
    ['half a tube', 'loose-tube.count', { values: { groups: 3.5 } }, /whole number/],
    [
      'loss added',
      'dome-enter.clamp-tight',
      { watch: { added: 0.31, sigma: 0.01, flagged: true } },
      /0.31 dB were added/,
    ],
    [
      'loss added, and talked away',
      'dome-enter.clamp-tight',
      { watch: { added: 0.31, sigma: 0.01, flagged: true }, reason: 'fine' },
      /0.31 dB/,
    ],
    ['loss not watched', 'dome-enter.clamp-tight', { watch: null }, /watched here/],
    ['loss not watched, with the reason', 'dome-enter.clamp-tight', { watch: null, reason: 'no dark fiber' }, null],
    ['a failed try without a word', 'dome-close.pressure', { outcome: 'failed' }, /say what failed/],
  ])('%s', (_name, id, change, expected) => {
    const faults = faultsOf(sheet, stepOf(id), { ...good(sheet, id), ...change }).join('; ')
    if (expected === null) expect(faults).toBe('')
    else expect(faults).toMatch(expected)
  })

  it('a leak, and a test above the closure’s figure', () => {
    const step = stepOf('dome-close.pressure')
    const test = good(sheet, step.id).pressure!
    const faults = (change: object) =>
      faultsOf(sheet, step, { ...good(sheet, step.id), pressure: { ...test, ...change } })
    expect(faults({ endGauge: 30_000 }).join()).toMatch(/it leaks: 10.0 kPa/)
    expect(faults({ startGauge: 60_000, endGauge: 60_000 }).join()).toMatch(/above the closure’s figure/)
    expect(faults({ minutes: 5 }).join()).toMatch(/fewer than the 15/)
  })

  it('without a figure in the closure’s record there is no pressure test, and the sheet can still be ended', () => {
    const plain = sheetOf({}, { ...TEST_DOME, pressure: null })
    const step = plain.steps.find(({ id }) => id === 'dome-close.pressure')!
    expect(faultsOf(plain, step, good(plain, step.id)).join()).toMatch(/no figure is on record/)
    const events = wholeOf(plain).map((event) =>
      event.kind === 'step' && event.entry.step === step.id
        ? did({ ...emptyOutcome(step.id), outcome: 'skipped', reason: 'no figure on record' })
        : event,
    )
    expect(progressOf(plain, events).complete).toBe(true)
  })
})

describe('what follows from a sheet that was done', () => {
  it('where the record was wrong is told to whoever keeps it, with the reason', () => {
    const sheet = sheetOf()
    const events = wholeOf(sheet).map((event) =>
      event.kind === 'step' && event.entry.step === 'loose-tube.count'
        ? did({ ...event.entry, values: { groups: 3, 'groups-again': 3 }, reason: 'one tube was cut out' })
        : event,
    )
    expect(recordDifferences(progressOf(sheet, events))).toEqual([
      'Tubes: 3 counted twice, 4 on record: one tube was cut out (A)',
    ])
    expect(recordDifferences(progressOf(sheet, wholeOf(sheet)))).toEqual([])
  })

  it('minutes of a part are those of its steps and of what failed; what was entered afterwards tells nothing', () => {
    const sheet = sheetOf()
    const timed = (minutes: number) =>
      wholeOf(sheet).map((event) => (event.kind === 'step' ? did({ ...event.entry, minutes }) : event))
    const opening = sheet.steps.filter(({ part }) => part === 'open').length
    const failed = did({ ...emptyOutcome('dome-close.pressure'), outcome: 'failed', reason: 'leak', minutes: 15 })
    const times = new Map(sheetTimes(sheet, [failed, ...timed(2)]).map(({ kind, minutes }) => [kind, minutes]))
    expect(times.get('open')).toBe(2 * opening)
    expect(times.get('pressure-test')).toBe(17)
    expect(sheetTimes(sheet, timed(0.02))).toEqual([])
    // A step that was not timed leaves its part out.
    const gap = timed(2).map((event) =>
      event.kind === 'step' && event.entry.step === 'dome-open.vent' ? did({ ...event.entry, minutes: null }) : event,
    )
    expect(sheetTimes(sheet, gap).map(({ kind }) => kind)).not.toContain('open')
  })
})

describe('hand-over between shifts', () => {
  it('tells what lies open, what failed, what was left out and what comes next', () => {
    const sheet = sheetOf(live)
    const upTo = sheet.steps.findIndex(({ id }) => id === 'dome-enter.clamp-tight')
    const events: SheetEvent[] = [
      ...wholeOf(sheet)
        .filter(
          (event) =>
            event.kind === 'release' ||
            (sheet.steps.findIndex(({ id }) => id === event.entry.step) < upTo &&
              event.entry.step !== 'dome-open.dome-aside'),
        )
        .slice(),
      did({ ...emptyOutcome('dome-open.dome-aside'), outcome: 'skipped', reason: 'dome is at the depot' }, 'B'),
      did({ ...emptyOutcome('dome-enter.clamp-tight'), outcome: 'failed', reason: '0.31 dB added, released' }, 'B'),
    ]
    const told = handOver(sheet, events)
    expect(told.exposed).toEqual(['closure open', 'trays out', 'fibers bare', 'cable cut'].sort(byOrder(told.exposed)))
    expect(told.next).toMatchObject({ step: 'dome-enter.clamp-tight', obstacles: [] })
    expect(told.failed).toEqual([
      { title: '“Tighten the clamp, with an eye on the loss”', why: '0.31 dB added, released', by: 'B' },
    ])
    expect(told.leftOut).toMatchObject([{ why: 'dome is at the depot', by: 'B' }])
    expect(told.done).toBe(upTo)
  })
})

const byOrder = (order: readonly string[]) => (a: string, b: string) => order.indexOf(a) - order.indexOf(b)

it('a connector that fails its look is thrown away and counted; the step is still to do, and what failed in it is told', () => {
  const sheet = sheetOf({ work: 'connector', connector: 'epoxy', ferrule: 'SC', closure: null })
  const before = sheet.steps.map(({ id }) => id).filter((id) => id !== 'adhesive.look')
  const failed = (id: string) => did({ ...emptyOutcome(id), outcome: 'failed', reason: 'a scratch over the core' })
  const events = [...before.map((id) => did(good(sheet, id))), failed('adhesive.look'), failed('adhesive.look')]
  const progress = progressOf(sheet, events)
  expect(scrapOf(progress)).toEqual([{ kind: 'connector body', count: 2 }])
  expect(progress).toMatchObject({ complete: false, next: { step: { id: 'adhesive.look' } } })
  const done = progressOf(sheet, [...events, did(good(sheet, 'adhesive.look'))])
  expect([done.complete, scrapOf(done)[0]!.count]).toEqual([true, 2])
})

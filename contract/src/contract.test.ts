import fc from 'fast-check'
import { readFileSync } from 'node:fs'
import { describe, expect, it } from 'vitest'
import type { z } from 'zod'
import {
  adviceDocument,
  analyzeDocument,
  compareDocument,
  errorBody,
  ERRORS,
  gradeDocument,
  kit,
  locateDocument,
  logEntry,
  newAccount,
  planContent,
  plantBundle,
  proveDocument,
  readError,
} from './index.ts'

const golden = (name: string): Record<string, unknown> =>
  JSON.parse(readFileSync(new URL(`../golden/${name}.json`, import.meta.url), 'utf8')) as Record<string, unknown>

const DOCUMENTS: [string, z.ZodType][] = [
  ['analyze', analyzeDocument],
  ['compare', compareDocument],
  ['locate', locateDocument],
  ['prove', proveDocument],
  ['grade', gradeDocument],
  ['advise', adviceDocument],
]

describe('documents of the command line', () => {
  it.each(DOCUMENTS)('the golden example of %s fits its schema and loses nothing', (name, schema) => {
    expect(schema.parse(golden(name))).toEqual(golden(name))
  })

  it.each(DOCUMENTS)('%s takes no field that is not documented', (name, schema) => {
    expect(schema.safeParse({ ...golden(name), guess: 1 }).success).toBe(false)
  })

  it.each(DOCUMENTS)('%s misses none of its fields', (name, schema) => {
    for (const field of Object.keys(golden(name)).filter((key) => key !== 'why' && key !== 'bound')) {
      const { [field]: _left, ...rest } = golden(name)
      expect(schema.safeParse(rest).success, field).toBe(false)
    }
  })

  it('the located fault comes with ranked causes, each a probability with its reasons, and tests in order of risk', () => {
    const { faults, nextTests } = locateDocument.parse(golden('locate'))
    const [fault] = faults
    const given = fault!.causes.map(({ probability }) => probability)
    expect(given).toEqual(given.toSorted((a, b) => b - a))
    expect(given.reduce((a, b) => a + b, 0)).toBeLessThanOrEqual(1)
    expect(fault!.causes[0]).toMatchObject({ cause: 'bad-splice' })
    expect(fault!.causes[0]!.because).not.toEqual([])
    const risky = nextTests.map((test) => Number(test.outageRisk))
    expect(risky).toEqual(risky.toSorted())
    for (const test of nextTests) expect(test.precondition).not.toBe('')
  })
})

describe('errors', () => {
  it('every code has a status of its kind and a sentence', () => {
    for (const { status, message } of Object.values(ERRORS)) {
      expect(status).toBeGreaterThanOrEqual(400)
      expect(status).toBeLessThan(600)
      expect(message).toMatch(/^[A-Z].*\.$/)
    }
  })

  it('an answer is read as an error of ours where the schema says so, and only there', () => {
    const code = fc.constantFrom(...Object.keys(ERRORS), 'oops', 'toString', 3, null, undefined)
    const text = fc.oneof(fc.string(), fc.constantFrom(undefined, null, 7, {}))
    const answer = fc.oneof(
      fc.record({ code, message: text, place: text }, { requiredKeys: [] }),
      fc.anything(),
      fc.constantFrom(null, '<html>', [], [{ code: 'internal', message: 'x' }]),
    )
    fc.assert(
      fc.property(answer, (said) => {
        const parsed = errorBody.safeParse(said)
        expect(readError(said)).toEqual(parsed.success ? parsed.data : null)
      }),
      { endOnFailure: true, numRuns: 500 },
    )
    expect(readError({ code: 'not-found', message: 'x', more: 1 })).toEqual({ code: 'not-found', message: 'x' })
    expect(readError({ code: 'oops', message: 'x' })).toBeNull()
  })
})

describe('requests', () => {
  const account = {
    id: '0197b1a0-0000-7000-8000-000000000001',
    name: 'night',
    displayName: 'Night',
    role: 'viewer',
    password: 'ten letters',
  }

  it.each([
    ['a short password', { password: 'short' }],
    ['a role that does not exist', { role: 'owner' }],
    ['a name with markup', { name: '<b>' }],
    ['an id that is no UUID', { id: '7' }],
  ])('an account with %s is refused', (_, change) => {
    expect(newAccount.safeParse(account).success).toBe(true)
    expect(newAccount.safeParse({ ...account, ...change }).success).toBe(false)
  })

  it('a log entry of an unknown kind is refused', () => {
    expect(logEntry.safeParse({ kind: 'note', text: 'Closed again.' }).success).toBe(true)
    expect(logEntry.safeParse({ kind: 'rumour', text: 'Closed again.' }).success).toBe(false)
  })

  it('a plant of another version is refused', () => {
    expect(
      plantBundle.safeParse({
        format: 'cold-thread/plant',
        version: 2,
        name: 'x',
        routes: [],
        cables: [],
        nodes: [],
        links: [],
      }).success,
    ).toBe(false)
  })
})

describe('what plans rest on', () => {
  const shift = { id: 's', crew: 'Van 1', zone: 'CET', weekdays: [1], from: '22:00', to: '06:00' }
  const empty = {
    format: 'cold-thread/kit',
    version: 1,
    people: [{ id: 'p', name: 'Night mate', crew: 'Van 1', skills: ['digging'] }],
    items: [
      {
        id: 'i',
        kind: 'cleaver',
        name: '',
        count: 1,
        place: 'Van 1',
        fits: [],
        fibers: null,
        wear: null,
        calibratedUntil: null,
      },
    ],
    hours: { windows: [], shifts: [shift], restHours: 11 },
  }

  it('keeps what it does not know of a kit', () => {
    expect(kit.parse({ ...empty, depot: 'north' })).toMatchObject({ depot: 'north', people: empty.people })
  })

  it.each([
    ['a day that is none', { hours: { ...empty.hours, shifts: [{ ...shift, weekdays: [8] }] } }],
    ['no day at all', { hours: { ...empty.hours, shifts: [{ ...shift, weekdays: [] }] } }],
    ['a time without minutes', { hours: { ...empty.hours, shifts: [{ ...shift, from: '22' }] } }],
    ['more rest than a week has', { hours: { ...empty.hours, restHours: 200 } }],
    ['wear that is never due', { items: [{ ...empty.items[0], wear: { used: 1, due: 0, unit: 'cleaves' } }] }],
    ['a calibration day that is none', { items: [{ ...empty.items[0], calibratedUntil: 'next spring' }] }],
    ['people without a name', { people: [{ ...empty.people[0], name: ' ' }] }],
  ])('a kit with %s is refused', (_, change) => {
    expect(kit.safeParse(empty).success).toBe(true)
    expect(kit.safeParse({ ...empty, ...change }).success).toBe(false)
  })

  const content = {
    cable: 'TN-3',
    chainage: 24_060,
    optionIds: ['section'],
    hit: [1, 2],
    site: { toBench: 8, preparation: 3, lost: 2, section: 40, traffic: false, belowGround: true },
    scenario: { crews: 1, splicers: 1, ribbon: false, haulFromBothEnds: false },
    weights: { firstCircuit: 3, allCircuits: 2, cost: 2, margin: 1, permanence: 3, intervention: 2 },
    edits: [],
    learnedRates: false,
    window: null,
    rules: { name: 'repair plan', version: 1 },
    summary: { name: 'A section', finish50: 1, finish90: 2, firstCircuit: null, margin: -1.5 },
  }

  it.each([
    ['three crews', { scenario: { ...content.scenario, crews: 3 } }],
    ['a bench behind the closure', { site: { ...content.site, toBench: -1 } }],
    ['fiber 0', { hit: [0] }],
    ['three repairs', { optionIds: ['a', 'b', 'c'] }],
    ['a wish below nothing', { weights: { ...content.weights, cost: -1 } }],
    ['a change of an unknown kind', { edits: [{ kind: 'swap', line: 'a', other: 'b' }] }],
    ['a field that nobody knows', { guess: 1 }],
  ])('a plan with %s is refused', (_, change) => {
    expect(planContent.parse(content)).toEqual(content)
    expect(planContent.safeParse({ ...content, ...change }).success).toBe(false)
  })

  it('a step is logged with its minutes, a packed line with what stands in for it', () => {
    const step = { kind: 'step', step: 'dig', line: 'dig@fault', name: 'dig', minutes: 40, planned: 75 }
    expect(logEntry.safeParse(step).success).toBe(true)
    expect(logEntry.safeParse({ ...step, minutes: 0 }).success).toBe(false)
    expect(logEntry.safeParse({ ...step, step: 'rest' }).success).toBe(false)
    expect(logEntry.safeParse({ kind: 'packed', line: 'closure', substitute: 'another' }).success).toBe(true)
  })
})

import { readFileSync } from 'node:fs'
import { describe, expect, it } from 'vitest'
import type { z } from 'zod'
import {
  analyzeDocument,
  compareDocument,
  errorBody,
  ERRORS,
  locateDocument,
  logEntry,
  newAccount,
  plantBundle,
  proveDocument,
} from './index.ts'

const golden = (name: string): Record<string, unknown> =>
  JSON.parse(readFileSync(new URL(`../golden/${name}.json`, import.meta.url), 'utf8')) as Record<string, unknown>

const DOCUMENTS: [string, z.ZodType][] = [
  ['analyze', analyzeDocument],
  ['compare', compareDocument],
  ['locate', locateDocument],
  ['prove', proveDocument],
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

  it('an unknown code is no error of ours', () => {
    expect(errorBody.safeParse({ code: 'oops', message: 'x' }).success).toBe(false)
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

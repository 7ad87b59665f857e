import { THRUSHMERE, THRUSHMERE_OPEN_BOOK } from '@cold-thread/demo'
import type { LogEntry, Observation, OpenBook } from '@cold-thread/contract'
import {
  cautionsOf,
  closureModelOf,
  compileSheet,
  emptyOutcome,
  factsOf,
  isSheet,
  PROCEDURES,
  progressOf,
  sheetEvents,
  type Procedure,
  type RunSheet,
} from '@cold-thread/core/open'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { v7 as uuidv7 } from 'uuid'
import { caller, openCallout, startTestServer, type TestServer } from './test/index.ts'

let server: TestServer
beforeAll(async () => {
  server = await startTestServer()
})
afterAll(() => server.close())

const call = caller(() => server, 'technician')

const newCallout = () => openCallout(call)

const model = closureModelOf('gel-sealed dome, six ports', THRUSHMERE_OPEN_BOOK.closures)!

function sheetFor(work: 're-enter' | 'bring-in'): RunSheet {
  const facts = factsOf(THRUSHMERE, { node: 'lock-9', cable: 'TN-1', chainage: 8230 }, work, model)
  const sheet = compileSheet({ facts, procedures: PROCEDURES, model, given: {} })
  if (!isSheet(sheet)) throw new Error(sheet.why)
  return sheet
}

async function log(
  calloutId: string,
  entry: LogEntry,
  role: keyof TestServer['cookies'] = 'technician',
  supersedes: string | null = null,
) {
  const id = uuidv7()
  const reply = await call(
    'PUT',
    `/api/callouts/${calloutId}/observations/${id}`,
    { entry, observedAt: new Date().toISOString(), supersedes },
    role,
  )
  return { id, ...reply }
}

const step = (sheetId: string, sheet: RunSheet, id: string, some: object = {}): LogEntry => {
  const found = sheet.steps.find((one) => one.id === id)!
  return {
    kind: 'sheet-step',
    sheetId,
    ...emptyOutcome(id),
    said: cautionsOf(found).map((caution) => caution.id),
    photos: [],
    values: Object.fromEntries(found.fields.map((field) => [field.id, field.least ?? 1])),
    minutes: 1.5,
    reason: found.photo || found.watch ? 'tested without camera and meter' : '',
    ...some,
  } as LogEntry
}

async function progress(calloutId: string, sheetId: string) {
  const { body } = await call('GET', `/api/callouts/${calloutId}/observations`)
  const entries = body as Observation[]
  const begun = entries.find(({ id }) => id === sheetId)!.entry as { sheet: RunSheet }
  return progressOf(begun.sheet, sheetEvents(sheetId, entries))
}

describe('a run sheet in the log', () => {
  it('comes back as it was begun, and its steps count in the order of entry', async () => {
    const calloutId = await newCallout()
    const sheet = sheetFor('re-enter')
    const { id: sheetId, status } = await log(calloutId, { kind: 'sheet', sheet })
    expect(status).toBe(200)
    const { body } = await call('GET', `/api/callouts/${calloutId}/observations`)
    expect((body as { entry: unknown }[])[0]!.entry).toEqual({
      kind: 'sheet',
      sheet: JSON.parse(JSON.stringify(sheet)) as unknown,
    })
    for (const id of ['place.window', 'dome-open.vent', 'dome-open.clamp-ring'])
      if (sheet.steps.some((one) => one.id === id))
        expect((await log(calloutId, step(sheetId, sheet, id))).status).toBe(200)
    const { steps } = await progress(calloutId, sheetId)
    expect(steps.find(({ step: one }) => one.id === 'dome-open.clamp-ring')!.state).toBe('done')
  })

  it('a step out of its order is kept as a fact and does not count', async () => {
    const calloutId = await newCallout()
    const sheet = sheetFor('re-enter')
    const { id: sheetId } = await log(calloutId, { kind: 'sheet', sheet })
    expect((await log(calloutId, step(sheetId, sheet, 'dome-open.clamp-ring'))).status).toBe(200)
    const ring = (await progress(calloutId, sheetId)).steps.find(({ step: one }) => one.id === 'dome-open.clamp-ring')!
    expect(ring.state).toBe('open')
    expect(ring.others[0]!.why).toMatch(/vent it first/)
  })

  it('two people on one step: both entries are kept, the first counts; a corrected entry keeps its place', async () => {
    const calloutId = await newCallout()
    const sheet = sheetFor('bring-in')
    const { id: sheetId } = await log(calloutId, { kind: 'sheet', sheet })
    const first = await log(calloutId, step(sheetId, sheet, 'dome-open.vent'))
    await log(calloutId, step(sheetId, sheet, 'dome-open.vent'), 'lead')
    await log(calloutId, step(sheetId, sheet, 'dome-open.clamp-ring'))
    const vent = async () =>
      (await progress(calloutId, sheetId)).steps.find(({ step: one }) => one.id === 'dome-open.vent')!
    expect(await vent()).toMatchObject({ by: { by: 'technician' }, others: [{ by: 'lead' }] })
    await log(calloutId, step(sheetId, sheet, 'dome-open.vent', { reason: 'cap was stiff' }), 'technician', first.id)
    expect(await vent()).toMatchObject({ by: { entry: { reason: 'cap was stiff' } } })
    const { steps } = await progress(calloutId, sheetId)
    expect(steps.find(({ step: one }) => one.id === 'dome-open.clamp-ring')!.state).toBe('done')
  })

  it('the lead’s word comes from a lead', async () => {
    const calloutId = await newCallout()
    const sheet = sheetFor('bring-in')
    const { id: sheetId } = await log(calloutId, { kind: 'sheet', sheet })
    const held = sheet.steps.find(({ hold }) => hold !== undefined)!
    const word: LogEntry = { kind: 'sheet-release', sheetId, step: held.id, remark: '' }
    expect(await log(calloutId, word)).toMatchObject({ status: 403, body: { code: 'no-right' } })
    expect((await log(calloutId, word, 'lead')).status).toBe(200)
    const other: LogEntry = { ...word, step: 'dome-open.vent' } as LogEntry
    expect(await log(calloutId, other, 'lead')).toMatchObject({ status: 400, body: { place: 'entry.step' } })
  })

  it.each<[string, (sheetId: string, sheet: RunSheet) => LogEntry, number]>([
    ['another callout’s sheet', (_id, sheet) => step(uuidv7(), sheet, 'dome-open.vent'), 404],
    [
      'a step that the sheet does not have',
      (id) => ({ ...step(id, sheetFor('re-enter'), 'dome-open.vent'), step: 'dome-open.dance' }) as LogEntry,
      400,
    ],
    ['a hand-over of no sheet', () => ({ kind: 'hand-over', sheetId: uuidv7(), to: 'B', remark: '' }), 404],
    [
      'a closure that the plant does not have',
      () => ({ kind: 'closure-state', node: 'nowhere', when: 'found', state: { ports: [], trays: [], remark: '' } }),
      400,
    ],
  ])('refuses %s, and the log stays as it was', async (_name, entryOf, status) => {
    const calloutId = await newCallout()
    const sheet = sheetFor('re-enter')
    const { id: sheetId } = await log(calloutId, { kind: 'sheet', sheet })
    expect((await log(calloutId, entryOf(sheetId, sheet))).status).toBe(status)
    const { body } = await call('GET', `/api/callouts/${calloutId}/observations`)
    expect(body).toHaveLength(1)
  })

  it('refuses a sheet whose steps wait for what is not there, and names the step', async () => {
    const sheet = sheetFor('re-enter')
    const steps = [{ ...sheet.steps[0]!, locks: [{ step: 'no.such', why: 'none' }] }, ...sheet.steps.slice(1)]
    const refused = await log(await newCallout(), { kind: 'sheet', sheet: { ...sheet, steps } })
    expect(refused).toMatchObject({ status: 422, body: { code: 'procedure-refused', place: sheet.steps[0]!.id } })
  })

  it('minutes of a part that was timed in every step feed the plan’s rates', async () => {
    const calloutId = await newCallout()
    const sheet = sheetFor('re-enter')
    const { id: sheetId } = await log(calloutId, { kind: 'sheet', sheet })
    const before = ((await call('GET', '/api/step-times')).body as { step: string }[]).filter(
      (one) => one.step === 'open',
    ).length
    const opening = sheet.steps.filter(({ part }) => part === 'open')
    for (const { id, part } of sheet.steps) if (part === 'site') await log(calloutId, step(sheetId, sheet, id))
    for (const { id } of opening) await log(calloutId, step(sheetId, sheet, id))
    const times = ((await call('GET', '/api/step-times')).body as { step: string; minutes: number }[]).filter(
      (one) => one.step === 'open',
    )
    expect(times).toHaveLength(before + 1)
    expect(times.at(-1)!.minutes).toBeCloseTo(1.5 * opening.length, 6)
  })
})

describe('a closure’s history', () => {
  it('has its states and sheets over all callouts, newest first', async () => {
    const [one, two] = [await newCallout(), await newCallout()]
    const state = (when: 'found' | 'left', remark: string): LogEntry => ({
      kind: 'closure-state',
      node: 'aqueduct',
      when,
      state: { ports: [{ port: 1, cables: ['TN-2'], plug: false }], trays: [], remark },
    })
    await log(one, state('found', 'first'))
    await log(two, state('left', 'second'))
    const { body } = await call('GET', '/api/closures/aqueduct/history', undefined, 'viewer')
    expect((body as { what: { state: { remark: string } } }[]).map(({ what }) => what.state.remark)).toEqual([
      'second',
      'first',
    ])
    expect((await call('GET', '/api/closures/nowhere/history')).status).toBe(404)
  })
})

describe('the book of closures and procedures', () => {
  const own: Procedure = {
    id: 'zip-cord',
    version: 1,
    name: 'Zip cord',
    part: 'prepare',
    rank: 1,
    for: { construction: ['zip-cord'] },
    source: 'maker’s sheet',
    steps: [{ id: 'part', do: 'Part the cord.' }],
  }
  const version = async () => ((await call('GET', '/api/open-book')).body as { version: number }).version

  it('keeps each version, and refuses a change made on an older one', async () => {
    const read = await version()
    const saved = await call('PUT', '/api/open-book', {
      book: { ...THRUSHMERE_OPEN_BOOK, procedures: [own] },
      version: read,
    })
    expect(saved).toMatchObject({ status: 200, body: { version: read + 1, savedBy: 'technician' } })
    const stale = await call('PUT', '/api/open-book', { book: THRUSHMERE_OPEN_BOOK, version: read }, 'lead')
    expect(stale).toMatchObject({ status: 409, body: { code: 'stale-edit' } })
    expect((await call('GET', '/api/open-book')).body).toMatchObject({ book: { procedures: [own] } })
  })

  it.each<[string, Partial<OpenBook>, number, string]>([
    [
      'a lock on nothing',
      { procedures: [{ ...own, steps: [{ id: 'a', do: 'A.', locks: [{ step: 'b.c', why: '' }] }] }] },
      422,
      'zip-cord.a',
    ],
    [
      'an unknown length',
      { procedures: [{ ...own, steps: [{ id: 'a', do: 'Cut at {somewhere}.' }] }] },
      422,
      'zip-cord.a',
    ],
    ['a closure twice', { closures: [model, model] }, 422, 'closures'],
    [
      'a length with the least above the most',
      { closures: [{ ...model, lengths: { sheath: { min: 2, max: 1 } } }] },
      400,
      'book.closures.0.lengths.sheath',
    ],
  ])('refuses %s, names the place, and changes nothing', async (_name, change, status, place) => {
    const read = await version()
    const reply = await call('PUT', '/api/open-book', { book: { ...THRUSHMERE_OPEN_BOOK, ...change }, version: read })
    expect(reply.status).toBe(status)
    expect((reply.body as { place: string }).place).toContain(place)
    expect(await version()).toBe(read)
  })

  it('is read by all and changed by those who work or keep records', async () => {
    expect((await call('GET', '/api/open-book', undefined, 'viewer')).status).toBe(200)
    const change = { book: THRUSHMERE_OPEN_BOOK, version: await version() }
    expect((await call('PUT', '/api/open-book', change, 'viewer')).status).toBe(403)
    expect((await call('PUT', '/api/open-book', change, 'records keeper')).status).toBe(200)
  })
})

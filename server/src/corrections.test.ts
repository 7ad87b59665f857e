import { THRUSHMERE, THRUSHMERE_OPEN_BOOK } from '@cold-thread/demo'
import { closureModelOf, compileSheet, emptyOutcome, factsOf, isSheet, PROCEDURES } from '@cold-thread/core/open'
import { QueryTypes } from 'sequelize'
import { afterAll, beforeAll, expect, it } from 'vitest'
import { v7 as uuidv7 } from 'uuid'
import { migrate, migrateDown } from './db/migrations.ts'
import { caller, openCallout, startTestServer, type TestServer } from './test/index.ts'

let server: TestServer
beforeAll(async () => {
  server = await startTestServer()
})
afterAll(() => server.close())

const call = caller(() => server, 'records keeper')
const field = caller(() => server, 'technician')

const cableOf = async (id: string) => {
  const { body } = await call('GET', '/api/plant')
  return { version: body.version as number, cable: body.bundle.cables.find((one: { id: string }) => one.id === id) }
}
const correct = async (correction: object, role: 'records keeper' | 'lead' | 'technician' | 'viewer' = 'lead') =>
  call('POST', '/api/plant/corrections', { version: (await cableOf('TN-1')).version, ...correction }, role)

/** A sheet on which three fibers fewer than on record are counted in the first tube. */
async function countFewer(): Promise<string> {
  const calloutId = await openCallout(field)
  const model = closureModelOf('gel-sealed dome, six ports', THRUSHMERE_OPEN_BOOK.closures)!
  const facts = factsOf(THRUSHMERE, { node: 'lock-9', cable: 'TN-1', chainage: 8230 }, 're-enter', model)
  const whole = compileSheet({ facts, procedures: PROCEDURES, model, given: {} })
  if (!isSheet(whole)) throw new Error(whole.why)
  // Only the count: what comes before it is tested elsewhere.
  const sheet = { ...whole, steps: whole.steps.filter(({ id }) => id === 'joints.count') }
  const put = async (id: string, entry: object) => {
    const observation = { entry, observedAt: new Date().toISOString(), supersedes: null }
    expect((await field('PUT', `/api/callouts/${calloutId}/observations/${id}`, observation)).status).toBe(200)
  }
  const sheetId = uuidv7()
  await put(sheetId, { kind: 'sheet', sheet })
  const counted = facts.groupFibers! - 3
  await put(uuidv7(), {
    kind: 'sheet-step',
    sheetId,
    ...emptyOutcome('joints.count'),
    values: { 'group-fibers': counted, 'group-fibers-again': counted },
    reason: 'three were never pulled in',
  })
  return calloutId
}

it('what was counted otherwise waits for whoever keeps the record, who puts it right with the reason', async () => {
  const calloutId = await countFewer()
  const { cable } = await cableOf('TN-1')
  const { body: findings } = await call('GET', '/api/plant/findings')
  // A tube with fewer changes nothing by itself: whoever keeps the record judges what it means.
  expect(findings).toMatchObject([
    {
      calloutId,
      cable: 'TN-1',
      changes: {},
      words: [`fibers in the first tube: ${cable.tubeSize - 3}, on record ${cable.tubeSize}`],
      reason: 'three were never pulled in',
      by: 'technician',
    },
  ])
  const tubes = Math.ceil(cable.fiberCount / cable.tubeSize)
  const changes = { tubeSize: cable.tubeSize - 3, fiberCount: tubes * (cable.tubeSize - 3) }
  const { version } = await cableOf('TN-1')
  const { status } = await correct({ cable: 'TN-1', changes, reason: 'counted at Lock 9' }, 'records keeper')
  expect(status).toBe(200)
  const after = await cableOf('TN-1')
  expect(after).toMatchObject({ version: version + 1, cable: changes })
  expect((await call('GET', '/api/plant/findings')).body).toEqual([])
  expect((await call('GET', '/api/plant/corrections')).body[0]).toMatchObject({
    cable: 'TN-1',
    by: 'records keeper',
    reason: 'counted at Lock 9',
    words: expect.arrayContaining([`fibers: ${changes.fiberCount}, on record ${cable.fiberCount}`]) as string[],
  })
})

it('a record that stands is kept as looked at, the plant is not changed, a later count is new', async () => {
  const { version } = await cableOf('TN-1')
  // The record is now three fewer to a tube; the sheet that counts against the demo's record finds three fewer again.
  await correct({ cable: 'TN-1', changes: { tubeSize: 12, fiberCount: 48 }, reason: 'back as it was' })
  await countFewer()
  expect((await call('GET', '/api/plant/findings')).body).toHaveLength(1)
  await correct({ cable: 'TN-1', changes: {}, reason: 'counted again by two: the record is right' })
  expect((await call('GET', '/api/plant/findings')).body).toEqual([])
  expect((await cableOf('TN-1')).version).toBe(version + 1)
  await countFewer()
  expect((await call('GET', '/api/plant/findings')).body).toHaveLength(1)
})

it.each<[string, object, 'lead' | 'technician' | 'viewer', number, string | undefined]>([
  ['a technician', { changes: { fiberCount: 60 }, reason: 'counted' }, 'technician', 403, undefined],
  ['a viewer', { changes: { fiberCount: 60 }, reason: 'counted' }, 'viewer', 403, undefined],
  ['no reason', { changes: { fiberCount: 60 }, reason: ' ' }, 'lead', 400, 'body.reason'],
  [
    'a fraction of a fiber',
    { changes: { fiberCount: 47.5 }, reason: 'counted' },
    'lead',
    400,
    'body.changes.fiberCount',
  ],
  ['a field that a record does not have', { changes: { id: 'X' }, reason: 'counted' }, 'lead', 400, 'body.changes'],
  ['a cable that is not there', { cable: 'X', changes: {}, reason: 'counted' }, 'lead', 404, 'cable'],
  ['an older version of the plant', { changes: { armored: true }, reason: 'seen', version: 0 }, 'lead', 409, 'version'],
  [
    'fewer fibers than its links need',
    { changes: { fiberCount: 2, tubeSize: 1 }, reason: 'counted' },
    'lead',
    422,
    'cables[0].fiberCount',
  ],
])('%s changes nothing', async (_name, some, role, status, place) => {
  const before = await cableOf('TN-1')
  const kept = (await call('GET', '/api/plant/corrections')).body
  const reply = await correct({ cable: 'TN-1', ...some }, role)
  expect([reply.status, reply.body.place]).toEqual([status, place])
  expect(await cableOf('TN-1')).toEqual(before)
  expect((await call('GET', '/api/plant/corrections')).body).toEqual(kept)
})

it('sheets begun before neighbours were a fact come along', async () => {
  const calloutId = await countFewer()
  // Down to before the one that brings the sheets along.
  for (let k = 0; k < 3; k++) await migrateDown(server.sequelize)
  await server.sequelize.query(
    `UPDATE observations SET entry = JSON_REMOVE(entry,
       '$.sheet.facts.groupFibers', '$.sheet.facts.liveNeighbours', '$.sheet.facts.neighbours')
     WHERE JSON_VALUE(entry, '$.kind') = 'sheet'`,
  )
  await migrate(server.sequelize)
  const { status, body } = await call('GET', `/api/callouts/${calloutId}/observations`)
  expect(status).toBe(200)
  expect(body[0].entry.sheet.facts).toMatchObject({ groupFibers: null, liveNeighbours: false, neighbours: [] })
  const [{ n }] = (await server.sequelize.query<{ n: number }>(
    `SELECT COUNT(*) AS n FROM observations WHERE entry IS NULL`,
    { type: QueryTypes.SELECT },
  )) as [{ n: number }]
  expect(n).toBe(0)
})

it('sheets begun when armor was always bonded come along as grounded, with their school; so do own procedures', async () => {
  const calloutId = await countFewer()
  const own = { ...PROCEDURES.find(({ id }) => id === 'dome-enter')!, version: 3 }
  const book = { closures: [], procedures: [own] }
  expect((await call('PUT', '/api/open-book', { book, version: 0 }, 'lead')).status).toBe(200)
  await migrateDown(server.sequelize)
  const [before] = await server.sequelize.query<{ facts: string; book: string }>(
    `SELECT JSON_EXTRACT(entry, '$.sheet.facts') AS facts, (SELECT book FROM open_books) AS book
     FROM observations WHERE JSON_VALUE(entry, '$.kind') = 'sheet'`,
    { type: QueryTypes.SELECT },
  )
  expect(JSON.stringify(before)).toContain('bond')
  expect(JSON.stringify(before)).not.toContain('groundCable')
  expect(JSON.stringify(before!.facts)).not.toMatch(/grounded|pigtails|connectors/)
  await migrate(server.sequelize)
  const { status, body } = await call('GET', `/api/callouts/${calloutId}/observations`)
  expect(status).toBe(200)
  const { facts } = body[0].entry.sheet
  expect(facts).toMatchObject({ grounded: facts.armored, connectors: 1, pigtails: 'single' })
  expect(facts.schools).toEqual({ sheathEnd: 'attachment', groundCable: 'before-wedge' })
  expect((await call('GET', '/api/open-book')).body.book).toEqual(JSON.parse(JSON.stringify(book)))
})

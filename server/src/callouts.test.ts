import { shootBothWays, DEMO_DAMAGES, THRUSHMERE } from '@cold-thread/demo'
import type { ShotStages } from '@cold-thread/contract'
import { decodeTrace } from '@cold-thread/core/trace'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { v7 as uuidv7 } from 'uuid'
import { readBackup, writeBackup } from './backup.ts'
import { migrate, migrateDown } from './db/migrations.ts'
import { TABLE_NAMES } from './db/models.ts'
import { HOST, ORIGIN, PASSWORD, startTestServer, type TestServer } from './test/index.ts'

let server: TestServer
beforeAll(async () => {
  server = await startTestServer()
})
afterAll(() => server.close())

type Method = 'GET' | 'PUT' | 'PATCH' | 'DELETE' | 'POST'

async function call(
  method: Method,
  url: string,
  payload?: object | Buffer,
  role: keyof TestServer['cookies'] = 'lead',
) {
  const binary = Buffer.isBuffer(payload)
  const reply = await server.app.inject({
    method,
    url,
    headers: {
      host: HOST,
      origin: ORIGIN,
      cookie: server.cookies[role],
      ...(binary ? { 'content-type': 'application/octet-stream' } : {}),
    },
    ...(payload === undefined ? {} : { payload }),
  })
  const isJson = String(reply.headers['content-type']).includes('json')
  return { status: reply.statusCode, body: isJson ? reply.json() : reply.rawPayload, headers: reply.headers }
}

async function newCallout(linkId = 'visitor-wan', practiceSeed: number | null = null): Promise<string> {
  const id = uuidv7()
  const { status } = await call('PUT', `/api/callouts/${id}`, {
    linkId,
    title: 'Link is down',
    alarm: '',
    practiceSeed,
  })
  expect(status).toBe(200)
  return id
}

const splice = {
  kind: 'splice',
  node: 'lock-9',
  chainage: 8230,
  cable: 'TN-2',
  fiber: 7,
  attempt: 1,
  estimate: 0.03,
  cleaveLeft: 0.4,
  cleaveRight: 0.3,
  outcome: 'accepted',
  remark: '',
}
const logged = (entry: object, supersedes: string | null = null) => ({
  entry,
  observedAt: '2026-03-01T02:00:00.000Z',
  supersedes,
})
const baselineFiles = shootBothWays('visitor-wan', 'baseline', null, new Date('2025-01-01'))
const afterFiles = shootBothWays('visitor-wan', 'after', DEMO_DAMAGES.splice, new Date('2026-03-01'))
const query = (file: { fileName: string; direction: string }, role: string) =>
  `fileName=${file.fileName}&role=${role}&direction=${file.direction}&launchCord=500&receiveCord=500`

describe('the API document', () => {
  it('names every route and its answers', async () => {
    const { body } = await call('GET', '/api/openapi.json')
    expect(Object.keys(body.paths)).toContain('/api/callouts/{id}/sign-off/{signOffId}')
    expect(Object.keys(body.paths['/api/callouts/{id}'].put.responses)).toEqual(
      expect.arrayContaining(['200', '401', '403', '409']),
    )
  })
})

describe('sessions', () => {
  const signIn = (password: string) =>
    server.app.inject({
      method: 'POST',
      url: '/api/session',
      headers: { host: HOST, origin: ORIGIN },
      payload: { name: 'viewer', password },
    })

  it('the cookie can’t be read by scripts nor sent from other sites', async () => {
    const cookie = String((await signIn(PASSWORD)).headers['set-cookie'])
    expect(cookie).toMatch(/HttpOnly/)
    expect(cookie).toMatch(/SameSite=Strict/)
  })

  it('a wrong password and a wrong name are told apart by nobody', async () => {
    const wrong = await signIn('not this one')
    expect([wrong.statusCode, wrong.json().code]).toEqual([401, 'wrong-credentials'])
  })

  it('after signing out the cookie is worth nothing', async () => {
    const cookie = String((await signIn(PASSWORD)).headers['set-cookie']).split(';')[0]!
    const headers = { host: HOST, origin: ORIGIN, cookie }
    expect((await server.app.inject({ method: 'GET', url: '/api/plant', headers })).statusCode).toBe(200)
    await server.app.inject({ method: 'DELETE', url: '/api/session', headers })
    expect((await server.app.inject({ method: 'GET', url: '/api/plant', headers })).statusCode).toBe(401)
  })

  it('the first account can be made only once', async () => {
    const account = { id: uuidv7(), name: 'second', displayName: 'Second', password: PASSWORD }
    expect((await call('POST', '/api/setup', account)).body).toMatchObject({ code: 'already-set-up' })
  })

  it('security headers are set', async () => {
    const { headers } = await call('GET', '/api/plant')
    expect(headers['content-security-policy']).toMatch(/script-src 'self'/)
    expect(headers['x-content-type-options']).toBe('nosniff')
  })
})

describe('the plant', () => {
  it('an edit made on an older version is refused and changes nothing', async () => {
    const before = (await call('GET', '/api/plant')).body
    const stale = await call('PUT', '/api/plant', { bundle: THRUSHMERE, version: before.version - 1 })
    expect([stale.status, stale.body.code]).toEqual([409, 'stale-edit'])
    expect((await call('GET', '/api/plant')).body).toEqual(before)
  })

  it.each([
    [
      'a dangling id',
      (p: typeof THRUSHMERE) => ({ ...p, cables: [{ ...p.cables[0]!, routeId: 'x' }, ...p.cables.slice(1)] }),
      422,
      'cables[0].routeId',
    ],
    [
      'a negative coil',
      (p: typeof THRUSHMERE) => ({
        ...p,
        nodes: [{ ...p.nodes[0]!, slack: [{ cable: 'TN-1', side: 'after', sheath: -1 }] }, ...p.nodes.slice(1)],
      }),
      422,
      'nodes[0].slack[0].sheath',
    ],
    ['no links at all', (p: typeof THRUSHMERE) => ({ ...p, links: undefined }), 400, 'body.bundle.links'],
  ])('%s is refused, naming the place', async (_, spoil, status, place) => {
    const { version } = (await call('GET', '/api/plant')).body
    const refused = await call('PUT', '/api/plant', { bundle: spoil(THRUSHMERE), version })
    expect([refused.status, refused.body.place]).toEqual([status, place])
    expect((await call('GET', '/api/plant')).body.version).toBe(version)
  })

  it('keeps fields that it does not know', async () => {
    const { version } = (await call('GET', '/api/plant')).body
    await call('PUT', '/api/plant', { bundle: { ...THRUSHMERE, ownersNote: 'kept' }, version })
    expect((await call('GET', '/api/plant')).body.bundle.ownersNote).toBe('kept')
  })
})

describe('a callout', () => {
  it('sent twice is one; another under its id is refused', async () => {
    const id = await newCallout()
    const again = { linkId: 'visitor-wan', title: 'Link is down', alarm: '', practiceSeed: null }
    expect((await call('PUT', `/api/callouts/${id}`, again)).status).toBe(200)
    expect((await call('PUT', `/api/callouts/${id}`, { ...again, linkId: 'level-control' })).body.code).toBe(
      'id-in-use',
    )
  })

  it('on a link that does not exist is refused', async () => {
    const refused = await call('PUT', `/api/callouts/${uuidv7()}`, {
      linkId: 'x',
      title: 'Link is down',
      alarm: '',
      practiceSeed: null,
    })
    expect([refused.status, refused.body.place]).toEqual([404, 'linkId'])
  })

  it('an edit on an older version is refused; the newer one stands', async () => {
    const id = await newCallout()
    expect((await call('PATCH', `/api/callouts/${id}`, { version: 1, title: 'First edit' })).body.version).toBe(2)
    expect((await call('PATCH', `/api/callouts/${id}`, { version: 1, title: 'Late edit' })).body.code).toBe(
      'stale-edit',
    )
    expect((await call('GET', `/api/callouts/${id}`)).body.title).toBe('First edit')
  })
})

describe('the simulated OTDR', () => {
  it('takes pulse and averaging as they are set, and marks its traces as simulated', async () => {
    const id = await newCallout('visitor-wan', 11)
    const shot = { role: 'present', direction: 'ab', wavelength: 1550, pulseWidth: 100, minutes: 1 }
    const { status, body } = await call('PUT', `/api/callouts/${id}/shots/${uuidv7()}`, shot)
    expect([status, body.simulated, body.facts.pulseWidth, body.facts.averages]).toEqual([200, true, 100, 65_536])
  })

  it('shows the shot while it averages, and keeps the stage at which it is stopped', async () => {
    const id = await newCallout('visitor-wan', 11)
    const traceId = uuidv7()
    const url = `/api/callouts/${id}/shots/${traceId}`
    const watched = await call('GET', `${url}?role=present&direction=ab&wavelength=1550&pulseWidth=30&minutes=1`)
    expect(watched.status).toBe(200)
    const { stages, to } = watched.body as ShotStages
    expect(stages.map(({ averages }) => averages)).toEqual([1024, 2048, 4096, 8192, 16_384, 32_768, 65_536])
    expect(stages.at(-1)!.minutes).toBe(1)
    // Four times the averages, half the noise, half the loss that hides in it.
    const seen = stages.map(({ smallestLoss }) => smallestLoss ?? Infinity)
    expect(seen[2]! / seen[6]!).toBeGreaterThan(2.5)
    expect((await call('GET', `/api/callouts/${id}/traces`)).body).toEqual([])
    const shot = { role: 'present', direction: 'ab', wavelength: 1550, pulseWidth: 30, minutes: 1 }
    expect((await call('PUT', url, { ...shot, stopAt: 5000 })).status).toBe(422)
    const kept = await call('PUT', url, { ...shot, stopAt: 4096 })
    expect([kept.status, kept.body.facts.averages]).toEqual([200, 4096])
    const { levels } = decodeTrace((await call('GET', `/api/traces/${traceId}/file`)).body)
    const column = (k: number) => levels.subarray((k * levels.length) / 480, ((k + 1) * levels.length) / 480)
    expect(Math.min(...column(100))).toBeCloseTo(stages[2]!.low[100]!, 1)
    expect(Math.max(...column(300))).toBeCloseTo(stages[2]!.high[300]!, 1)
    expect(to).toBeCloseTo(levels.length * kept.body.facts.spacing, -1)
  })

  it('averaging longer than half an hour or a pulse of nothing is refused by name', async () => {
    const id = await newCallout('visitor-wan', 11)
    const shot = { role: 'present', direction: 'ab', wavelength: 1550 }
    for (const [change, field] of [
      [{ minutes: 45 }, 'minutes'],
      [{ pulseWidth: 0 }, 'pulseWidth'],
    ] as const) {
      const refused = await call('PUT', `/api/callouts/${id}/shots/${uuidv7()}`, { ...shot, ...change })
      expect([refused.status, `${refused.body.place} ${refused.body.message}`.includes(field)]).toEqual([400, true])
    }
  })

  it('shoots no real link', async () => {
    const id = await newCallout()
    const shot = { role: 'present', direction: 'ab', wavelength: 1550 }
    const refused = await call('PUT', `/api/callouts/${id}/shots/${uuidv7()}`, shot)
    expect([refused.status, refused.body.code]).toEqual([422, 'cannot-compute'])
  })
})

describe('the log', () => {
  it('takes an entry once, however often it is sent, and keeps what a correction supersedes', async () => {
    const id = await newCallout()
    const first = uuidv7()
    for (let i = 0; i < 3; i++)
      expect((await call('PUT', `/api/callouts/${id}/observations/${first}`, logged(splice))).status).toBe(200)
    const better = logged({ ...splice, estimate: 0.02 }, first)
    await call('PUT', `/api/callouts/${id}/observations/${uuidv7()}`, better)
    const log = (await call('GET', `/api/callouts/${id}/observations`)).body
    expect(log.map((entry: { superseded: boolean }) => entry.superseded)).toEqual([true, false])
    expect((await call('GET', `/api/callouts/${id}`)).body.state).toBe('proving')
  })

  it('another entry under the same id is refused', async () => {
    const id = await newCallout()
    const entryId = uuidv7()
    await call('PUT', `/api/callouts/${id}/observations/${entryId}`, logged(splice))
    const other = await call('PUT', `/api/callouts/${id}/observations/${entryId}`, logged({ ...splice, fiber: 8 }))
    expect(other.body.code).toBe('id-in-use')
  })

  it.each([
    ['a node', { node: 'gauge-house' }, 'entry.node'],
    ['a chainage', { node: null, chainage: 40_000 }, 'entry.chainage'],
  ])('%s that the link does not pass is refused', async (_, change, place) => {
    const id = await newCallout()
    const refused = await call('PUT', `/api/callouts/${id}/observations/${uuidv7()}`, logged({ ...splice, ...change }))
    expect([refused.status, refused.body.place]).toEqual([400, place])
  })

  it.each([
    ['an unknown node', { kind: 'opened', node: 'nowhere', found: true }, 'entry.evidence.node'],
    [
      'a chainage off the link',
      { kind: 'report', place: { chainage: 40_900 }, spread: 50, text: 'digger' },
      'entry.evidence.place.chainage',
    ],
  ])('evidence of %s is refused by name', async (_, evidence, place) => {
    const id = await newCallout()
    const refused = await call(
      'PUT',
      `/api/callouts/${id}/observations/${uuidv7()}`,
      logged({ kind: 'evidence', evidence }),
    )
    expect([refused.status, refused.body.place]).toEqual([400, place])
    expect((await call('GET', `/api/callouts/${id}/observations`)).body).toEqual([])
  })

  it('evidence is kept as it was given, and taken back without being deleted', async () => {
    const id = await newCallout()
    const [given, back] = [uuidv7(), uuidv7()]
    const evidence = { kind: 'light', from: 'ab', place: { node: 'lock-9' }, seen: true }
    const kept = await call(
      'PUT',
      `/api/callouts/${id}/observations/${given}`,
      logged({ kind: 'evidence', evidence }),
      'technician',
    )
    expect([kept.status, kept.body.entry.evidence]).toEqual([200, evidence])
    await call(
      'PUT',
      `/api/callouts/${id}/observations/${back}`,
      logged({ kind: 'withdrawn', reason: 'wrong panel' }, given),
      'technician',
    )
    const { body } = await call('GET', `/api/callouts/${id}/observations`)
    expect(body.map((entry: { superseded: boolean }) => entry.superseded)).toEqual([true, false])
    expect(body[0].entry.evidence).toEqual(evidence)
  })

  it.each([
    [{ kind: 'distance', from: 'ab', distance: -5, groupIndex: 1.468, launch: 0, sigma: 5, what: 'break' }, 'distance'],
    [{ kind: 'distance', from: 'ab', distance: 5, groupIndex: 2.1, launch: 0, sigma: 5, what: 'break' }, 'groupIndex'],
    [{ kind: 'power', from: 'ab', node: 'lock-9', expected: -12, measured: 400 }, 'measured'],
    [{ kind: 'growth', how: 'overnight' }, 'how'],
  ])('evidence that can’t be true is refused: %o', async (evidence, field) => {
    const id = await newCallout()
    const refused = await call(
      'PUT',
      `/api/callouts/${id}/observations/${uuidv7()}`,
      logged({ kind: 'evidence', evidence }),
    )
    expect(refused.status).toBe(400)
    expect(`${refused.body.place} ${refused.body.message}`).toContain(field)
  })

  it('a figure that no splicer shows is refused, naming the field', async () => {
    const id = await newCallout()
    const refused = await call(
      'PUT',
      `/api/callouts/${id}/observations/${uuidv7()}`,
      logged({ ...splice, estimate: 400 }),
    )
    expect([refused.status, refused.body.place]).toEqual([400, 'body.entry.estimate'])
  })
})

describe('trace files', () => {
  const good = baselineFiles[0]!
  it.each([
    ['an empty file', Buffer.alloc(0), 422],
    ['a text', Buffer.from('this is not a trace'), 422],
    ['a truncated trace', good.content.subarray(0, 4000), 422],
    ['a file over 16 MB', Buffer.alloc(16 * 1024 * 1024 + 1), 413],
  ])('%s is refused and nothing is kept', async (_, content, status) => {
    const id = await newCallout()
    const refused = await call('PUT', `/api/callouts/${id}/traces/${uuidv7()}?${query(good, 'present')}`, content)
    expect(refused.status).toBe(status)
    const traces = (await call('GET', `/api/callouts/${id}/traces`)).body
    expect(traces.filter((trace: { role: string }) => trace.role === 'present')).toEqual([])
  })

  it('a trace with a wrong checksum is kept with a warning, and comes back byte for byte', async () => {
    const id = await newCallout()
    const traceId = uuidv7()
    const content = Buffer.from(good.content)
    content[content.length - 1]! ^= 0xff
    const kept = await call('PUT', `/api/callouts/${id}/traces/${traceId}?${query(good, 'present')}`, content)
    expect(kept.body.warnings.map((warning: { code: string }) => warning.code)).toContain('wrong-checksum')
    expect((await call('GET', `/api/traces/${traceId}/file`)).body.equals(content)).toBe(true)
  })

  it('a practice callout is shot by the simulated OTDR and marked so; a real one can’t be', async () => {
    const shot = { role: 'present', direction: 'ab', wavelength: 1550 }
    const practice = await newCallout('visitor-wan', 12)
    const taken = await call('PUT', `/api/callouts/${practice}/shots/${uuidv7()}`, shot)
    expect([taken.status, taken.body.simulated]).toEqual([200, true])
    const real = await newCallout()
    expect((await call('PUT', `/api/callouts/${real}/shots/${uuidv7()}`, shot)).body.code).toBe('cannot-compute')
  })
})

describe('proof and sign-off', () => {
  it('goes from evidence to a signature that binds it, after which nothing more is taken', async () => {
    for (const file of baselineFiles)
      expect(
        (await call('PUT', `/api/links/visitor-wan/baselines/${uuidv7()}?${query(file, 'baseline')}`, file.content))
          .status,
      ).toBe(200)
    const id = await newCallout()
    const sign = (evidence: string) => call('PUT', `/api/callouts/${id}/sign-off/${uuidv7()}`, { evidence, remark: '' })
    const early = (await call('GET', `/api/callouts/${id}/verdict`)).body
    expect(early.proof.verdict).toBe('cannot-tell')
    expect((await sign(early.evidence)).body.code).toBe('not-proved')

    for (const file of afterFiles)
      await call('PUT', `/api/callouts/${id}/traces/${uuidv7()}?${query(file, 'after')}`, file.content)
    const verdict = (await call('GET', `/api/callouts/${id}/verdict`)).body
    expect(verdict.proof.verdict).toBe('restored')
    await call('PUT', `/api/callouts/${id}/observations/${uuidv7()}`, logged(splice))
    expect((await sign(verdict.evidence)).body.code).toBe('evidence-changed')

    const shown = (await call('GET', `/api/callouts/${id}/verdict`)).body
    const signed = await sign(shown.evidence)
    expect([signed.status, signed.body.proof.verdict]).toEqual([200, 'restored'])
    expect((await call('PUT', `/api/callouts/${id}/observations/${uuidv7()}`, logged(splice))).body.code).toBe(
      'callout-closed',
    )
    const csv = (await call('GET', `/api/callouts/${id}/readings.csv`)).body.toString()
    expect(csv.split('\r\n')[0]).toMatch(/^wavelength_nm,chainage_m,place,.*loss_after_dB/)
    expect(csv).toMatch(/1550,8230,Lock 9 closure,splice/)
  })
})

describe('backup', () => {
  it('gives everything back in an empty installation, bytes and times included, and refuses a full one', async () => {
    const bytes = await writeBackup()
    await expect(readBackup(server.sequelize, bytes)).rejects.toThrow(/not empty/)
    await expect(readBackup(server.sequelize, Uint8Array.from([1, 2, 3]))).rejects.toThrow(/not a ZIP/)
    const queries = server.sequelize.getQueryInterface()
    const rows = async () =>
      Object.fromEntries(
        await Promise.all(
          Object.values(server.sequelize.models)
            .filter((m) => m.getTableName() !== 'sessions')
            .map(async (m) => [
              m.name,
              JSON.stringify((await m.findAll({ raw: true })).map((row) => JSON.stringify(row)).sort()),
            ]),
        ),
      )
    const before = await rows()
    for (const table of TABLE_NAMES) await queries.bulkDelete(table, {})
    await readBackup(server.sequelize, bytes)
    expect(await rows()).toEqual(before)
  })

  it('the tables can be taken back and made again', async () => {
    const tables = async () => JSON.stringify(await server.sequelize.getQueryInterface().showAllTables())
    const columns = async (table: string) =>
      Object.keys(await server.sequelize.getQueryInterface().describeTable(table))
    // The newest changes facts in entries, no table.
    await migrateDown(server.sequelize)
    await migrateDown(server.sequelize)
    expect(await tables()).not.toContain('cable_proofs')
    expect(await columns('survey_traces')).not.toContain('role')
    expect(await columns('sign_offs')).not.toContain('cause')
    // Tables of an earlier version get what they lack.
    await migrate(server.sequelize)
    expect(await columns('survey_traces')).toEqual(expect.arrayContaining(['role', 'launchCord', 'receiveCord']))
    expect(await columns('sign_offs')).toContain('cause')
    await migrateDown(server.sequelize)
    await migrateDown(server.sequelize)
    expect(await tables()).toContain('corrections')
    await migrateDown(server.sequelize)
    expect(await tables()).not.toContain('corrections')
    await migrateDown(server.sequelize)
    expect(await tables()).not.toContain('open_books')
    expect(await tables()).toContain('attachments')
    await migrateDown(server.sequelize)
    expect(await tables()).not.toContain('attachments')
    await migrateDown(server.sequelize)
    expect(await tables()).not.toContain('plans')
    expect(await tables()).toContain('survey_traces')
    await migrateDown(server.sequelize)
    expect(await tables()).not.toContain('survey_traces')
    expect(await tables()).toContain('callouts')
    await migrateDown(server.sequelize)
    expect(await tables()).not.toContain('callouts')
    await migrate(server.sequelize)
    expect(await tables()).toContain('callouts')
    expect(await tables()).toContain('survey_traces')
  })
})

import type { Observation } from '@cold-thread/contract'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { v7 as uuidv7 } from 'uuid'
import { HOST, ORIGIN, startTestServer, type TestServer } from './test/index.ts'

let server: TestServer
beforeAll(async () => {
  server = await startTestServer()
})
afterAll(() => server.close())

async function call(method: 'GET' | 'PUT', url: string, payload?: object) {
  const headers = { host: HOST, origin: ORIGIN, cookie: server.cookies.technician }
  const reply = await server.app.inject({ method, url, headers, ...(payload === undefined ? {} : { payload }) })
  return { status: reply.statusCode, body: reply.json<never>() as unknown }
}

const note = (text: string) => ({
  id: uuidv7(),
  entry: { kind: 'note', text },
  observedAt: '2026-03-01T02:00:00.000Z',
  supersedes: null,
})

describe('entries sent together', () => {
  it('are taken in their order, once, and what is refused is told beside the others', async () => {
    const callout = uuidv7()
    const head = { linkId: 'visitor-wan', title: 'Link is down', alarm: '', practiceSeed: null }
    await call('PUT', `/api/callouts/${callout}`, head)
    const [first, last] = [note('first'), note('last')]
    const wrong = { ...note(''), entry: { kind: 'cleaning', node: 'nowhere', outcome: 'clean', remark: '' } }
    const url = `/api/callouts/${callout}/observations`
    const once = await call('PUT', url, [first, wrong, last])
    expect(once).toMatchObject({
      status: 200,
      body: [
        { id: first.id, refused: null },
        { id: wrong.id, refused: { code: 'invalid-request', place: 'entry.node' } },
        { id: last.id, refused: null },
      ],
    })
    expect(await call('PUT', url, [first, wrong, last])).toEqual(once)
    const log = (await call('GET', url)).body as Observation[]
    expect(log.map(({ id }) => id)).toEqual([first.id, last.id])
  })

  it('that can’t be read are none of them taken', async () => {
    const url = `/api/callouts/${uuidv7()}/observations`
    expect((await call('PUT', url, [note('a'), { ...note('b'), observedAt: 'yesterday' }])).status).toBe(400)
    expect((await call('PUT', url, [])).status).toBe(400)
    expect((await call('PUT', url, [note('a')])).status).toBe(404)
  })
})

import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { v7 as uuidv7 } from 'uuid'
import { Live } from './live.ts'
import { changeOf } from './routes/live.ts'
import { HOST, ORIGIN, startTestServer, type TestServer } from './test/index.ts'

describe('what changed', () => {
  it.each([
    ['/api/callouts/1/observations/2', 'log'],
    ['/api/callouts/1/traces/2?fileName=a.sor', 'traces'],
    ['/api/callouts/1/plans/2/approval', 'plans'],
    ['/api/callouts/1', 'callout'],
  ])('by a write to %s is %s', (url, change) => {
    expect(changeOf(url)).toEqual({ calloutId: '1', change })
  })

  it('is remembered for who comes back, unless that is too long ago or another process was', () => {
    const live = new Live()
    const heard: string[] = []
    live.listen((event) => heard.push(live.idOf(event)))
    for (let k = 0; k < 3; k++) live.tell('a', 'log')
    expect(live.since(heard[0]!)!.map(({ seq }) => seq)).toEqual([2, 3])
    expect(live.since(heard[2]!)).toEqual([])
    expect(live.since('1-2')).toBeNull()
    for (let k = 0; k < 1200; k++) live.tell('a', 'log')
    expect(live.since(heard[0]!)).toBeNull()
  })
})

describe('a second person on a callout', () => {
  let server: TestServer
  let address: string
  beforeAll(async () => {
    server = await startTestServer()
    address = await server.app.listen({ host: '127.0.0.1', port: 0 })
  })
  afterAll(() => server.close())

  const put = (url: string, payload: object) =>
    server.app.inject({
      method: 'PUT',
      url,
      headers: { host: HOST, origin: ORIGIN, cookie: server.cookies.lead },
      payload,
    })

  /** Reads events of a callout until one fits; the id of the last one. */
  async function listen(callout: string, until: string, lastId = ''): Promise<{ id: string; milliseconds: number }> {
    const stop = new AbortController()
    const begun = performance.now()
    const response = await fetch(`${address}/api/callouts/${callout}/live`, {
      headers: { cookie: server.cookies.technician, ...(lastId ? { 'last-event-id': lastId } : {}) },
      signal: AbortSignal.any([stop.signal, AbortSignal.timeout(10_000)]),
    })
    expect(response.headers.get('content-type')).toBe('text/event-stream')
    let text = ''
    const decoder = new TextDecoder()
    for await (const chunk of response.body as unknown as AsyncIterable<Uint8Array>) {
      text += decoder.decode(chunk)
      if (text.includes(`data: ${until}`)) break
    }
    stop.abort()
    return { id: /id: (\S+)\ndata/.exec(text)?.[1] ?? '', milliseconds: performance.now() - begun }
  }

  it('hears of an entry well within two seconds, and of what was missed in a break', async () => {
    const callout = uuidv7()
    await put(`/api/callouts/${callout}`, {
      linkId: 'visitor-wan',
      title: 'Link is down',
      alarm: '',
      practiceSeed: null,
    })
    const note = (text: string) => ({
      entry: { kind: 'note', text },
      observedAt: '2026-03-01T02:00:00.000Z',
      supersedes: null,
    })
    const first = listen(callout, 'log')
    await new Promise((resolve) => setTimeout(resolve, 300))
    const written = performance.now()
    await put(`/api/callouts/${callout}/observations/${uuidv7()}`, note('a'))
    const { id } = await first
    expect(performance.now() - written).toBeLessThan(2000)
    // While nobody listens a plan-like change and another entry come in; they are told on return.
    await put(`/api/callouts/${callout}/observations/${uuidv7()}`, note('b'))
    expect((await listen(callout, 'log', id)).milliseconds).toBeLessThan(2000)
    expect((await listen(callout, 'everything', '1-1')).milliseconds).toBeLessThan(2000)
  })

  it('needs a sign-in, and a callout that there is', async () => {
    expect((await fetch(`${address}/api/callouts/${uuidv7()}/live`)).status).toBe(401)
    const cookie = server.cookies.viewer
    expect((await fetch(`${address}/api/callouts/${uuidv7()}/live`, { headers: { cookie } })).status).toBe(404)
  })
})

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
    address = `http://127.0.0.1:${await server.listen()}`
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
  async function listen(
    callout: string,
    until: string,
    { lastId = '', onListening = () => {} } = {},
  ): Promise<{ id: string; heard: string[] }> {
    const stop = new AbortController()
    const response = await fetch(`${address}/api/callouts/${callout}/live`, {
      headers: { cookie: server.cookies.technician, ...(lastId ? { 'last-event-id': lastId } : {}) },
      signal: stop.signal,
    })
    onListening()
    expect(response.headers.get('content-type')).toBe('text/event-stream')
    let text = ''
    const decoder = new TextDecoder()
    for await (const chunk of response.body as unknown as AsyncIterable<Uint8Array>) {
      text += decoder.decode(chunk)
      if (text.includes(`data: ${until}`)) break
    }
    stop.abort()
    const heard = [...text.matchAll(/data: (\S+)/g)].map((match) => match[1]!)
    return { id: /id: (\S+)\ndata/.exec(text)?.[1] ?? '', heard }
  }

  it('hears of an entry as it is written, and of what was missed in a break', async () => {
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
    let tellListening = () => {}
    const listening = new Promise<void>((resolve) => (tellListening = resolve))
    const first = listen(callout, 'log', { onListening: tellListening })
    await listening
    await put(`/api/callouts/${callout}/observations/${uuidv7()}`, note('a'))
    const { id, heard } = await first
    expect(heard).toEqual(['log'])
    // While nobody listens a plan-like change and another entry come in; they are told on return.
    await put(`/api/callouts/${callout}/observations/${uuidv7()}`, note('b'))
    expect((await listen(callout, 'log', { lastId: id })).heard).toEqual(['log'])
    expect((await listen(callout, 'everything', { lastId: '1-1' })).heard).toEqual(['everything'])
  })

  it('needs a sign-in, and a callout that there is', async () => {
    expect((await fetch(`${address}/api/callouts/${uuidv7()}/live`)).status).toBe(401)
    const cookie = server.cookies.viewer
    expect((await fetch(`${address}/api/callouts/${uuidv7()}/live`, { headers: { cookie } })).status).toBe(404)
  })
})

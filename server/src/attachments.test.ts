import type { Attachment } from '@cold-thread/contract'
import { createHash } from 'node:crypto'
import { request as httpRequest } from 'node:http'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { v7 as uuidv7 } from 'uuid'
import { HOST, ORIGIN, startTestServer, type TestServer } from './test/index.ts'

/** The smallest PNG: signature, header of 1 × 1, data, end (PNG specification, W3C). */
const PNG = Buffer.from(
  'iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg==',
  'base64',
)

let server: TestServer
let port: number
beforeAll(async () => {
  server = await startTestServer()
  port = await server.listen()
})
afterAll(() => server.close())

const headersOf = (role: keyof TestServer['cookies']) => ({
  host: HOST,
  origin: ORIGIN,
  cookie: server.cookies[role],
})

async function newCallout(): Promise<string> {
  const id = uuidv7()
  const payload = { linkId: 'visitor-wan', title: 'Link is down', alarm: '', practiceSeed: null }
  await server.app.inject({ method: 'PUT', url: `/api/callouts/${id}`, headers: headersOf('lead'), payload })
  return id
}

const sha256 = (content: Buffer) => createHash('sha256').update(content).digest('hex')

function addressOf(callout: string, id: string, content: Buffer, some: Record<string, string> = {}): string {
  const facts = {
    fileName: 'post.png',
    caption: 'post beside the cable',
    takenAt: '2026-03-01T02:00:00.000Z',
    sha256: sha256(content),
    ...some,
  }
  return `/api/callouts/${callout}/attachments/${id}?${new URLSearchParams(facts)}`
}

async function send(url: string, content: Buffer, role: keyof TestServer['cookies'] = 'technician') {
  const reply = await server.app.inject({
    method: 'PUT',
    url,
    headers: { ...headersOf(role), 'content-type': 'application/octet-stream' },
    payload: content,
  })
  return { status: reply.statusCode, body: reply.json<Attachment & { code?: string; place?: string }>() }
}

async function read<T>(url: string): Promise<T> {
  return (await server.app.inject({ url, headers: headersOf('viewer') })).json<T>()
}

describe('a photo of a callout', () => {
  it('is kept with who and when, once however often it is sent, and shown as it was', async () => {
    const callout = await newCallout()
    const id = uuidv7()
    const url = addressOf(callout, id, PNG)
    const [first, second] = [await send(url, PNG), await send(url, PNG)]
    expect(first).toEqual(second)
    expect(first.body).toMatchObject({ id, mediaType: 'image/png', bytes: PNG.length, addedBy: 'technician' })
    expect(await read<Attachment[]>(`/api/callouts/${callout}/attachments`)).toEqual([first.body])
    const file = await server.app.inject({ url: `/api/attachments/${id}/file`, headers: headersOf('viewer') })
    expect(file.rawPayload).toEqual(PNG)
    expect(file.headers).toMatchObject({ 'content-type': 'image/png', 'x-content-type-options': 'nosniff' })
  })

  it('is refused under the id of another, and on a callout that is none', async () => {
    const callout = await newCallout()
    const id = uuidv7()
    await send(addressOf(callout, id, PNG), PNG)
    const other = Buffer.from('another')
    expect((await send(addressOf(callout, id, other), other)).body.code).toBe('id-in-use')
    expect((await send(addressOf(uuidv7(), uuidv7(), PNG), PNG)).status).toBe(404)
  })

  it('that calls itself a picture and is none is saved, never shown', async () => {
    const callout = await newCallout()
    const id = uuidv7()
    const page = Buffer.from('<html><script>alert(1)</script></html>')
    const { body } = await send(addressOf(callout, id, page, { fileName: 'photo.jpg' }), page)
    expect(body.mediaType).toBe('application/octet-stream')
    const file = await server.app.inject({ url: `/api/attachments/${id}/file`, headers: headersOf('viewer') })
    expect(file.headers['content-disposition']).toBe('attachment; filename="photo.jpg"')
  })

  it('that arrives in part is not taken, and taken when it is sent again', async () => {
    const callout = await newCallout()
    const id = uuidv7()
    const url = addressOf(callout, id, PNG)
    const half = await send(url, PNG.subarray(0, 30))
    expect(half).toMatchObject({ status: 400, body: { code: 'half-sent' } })
    // A connection that dies in the middle of the body leaves nothing behind either.
    await new Promise<void>((resolve) => {
      const asked = httpRequest({
        host: '127.0.0.1',
        port,
        method: 'PUT',
        path: url,
        headers: {
          ...headersOf('technician'),
          'content-type': 'application/octet-stream',
          'content-length': PNG.length,
        },
      })
      asked.on('error', () => undefined)
      asked.on('close', resolve)
      asked.write(PNG.subarray(0, 30), () => asked.destroy())
    })
    expect(await read(`/api/callouts/${callout}/attachments`)).toEqual([])
    expect((await send(url, PNG)).status).toBe(200)
  })

  it('over the limit is refused', async () => {
    const callout = await newCallout()
    const large = Buffer.alloc(20_000_001)
    expect(await send(addressOf(callout, uuidv7(), large), large)).toMatchObject({
      status: 413,
      body: { code: 'too-large' },
    })
  })

  it('is taken out by hand, its file kept', async () => {
    const callout = await newCallout()
    const id = uuidv7()
    await send(addressOf(callout, id, PNG), PNG)
    const url = `/api/attachments/${id}`
    const taken = await server.app.inject({ method: 'DELETE', url, headers: headersOf('lead') })
    expect(taken.json()).toMatchObject({ id, withdrawn: true })
    expect((await server.app.inject({ method: 'DELETE', url, headers: headersOf('lead') })).json()).toEqual(
      taken.json(),
    )
    expect((await server.app.inject({ url: `${url}/file`, headers: headersOf('viewer') })).rawPayload).toEqual(PNG)
  })
})

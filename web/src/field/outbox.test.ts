import type { NewObservation } from '@cold-thread/contract'
import Dexie from 'dexie'
import fc from 'fast-check'
import { v7 as uuidv7 } from 'uuid'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { FieldStore } from './fieldStore.ts'
import { backOff, drain, putEntry, type NewEntry, type Send } from './outbox.ts'

let store: FieldStore
let count = 0
beforeEach(() => {
  store = new FieldStore(`test ${count++}`)
})
afterEach(() => store.delete())

const ME = '01a0c0de-0000-7000-8000-000000000001'
const observation = (text: string): NewObservation => ({
  entry: { kind: 'note', text },
  observedAt: '2026-03-01T02:00:00.000Z',
  supersedes: null,
})
const entry = (text: string, some: Partial<NewEntry> = {}): NewEntry =>
  ({
    id: uuidv7(),
    calloutId: '01a0c0de-0000-7000-8000-00000000000c',
    accountId: ME,
    by: 'Night technician',
    enteredAt: '2026-03-01T02:00:00.000Z',
    kind: 'observation',
    observation: observation(text),
    ...some,
  }) as NewEntry

/** A server that keeps each id once, as ours does. */
class Server {
  readonly kept = new Map<string, string>()
  /** What happens to the next requests; then all is well. */
  readonly troubles: ('down' | 'lost answer' | 500 | 'nonsense' | 401 | 422)[] = []

  readonly send: Send = async (request) => {
    const id = new URL(request.url).pathname.split('/').at(-1)!
    const trouble = this.troubles.shift()
    if (trouble === 'down') throw new TypeError('network')
    if (trouble === 500) return json(503, { code: 'database-down', message: 'The database does not answer.' })
    if (trouble === 401) return json(401, { code: 'not-signed-in', message: 'Sign in first.' })
    if (trouble === 'nonsense') return new Response('<html>Welcome to our guest network</html>', { status: 200 })
    const refusal = { code: 'invalid-request', message: 'no such node', place: 'entry.node' }
    const body = (await request.json()) as NewObservation | (NewObservation & { id: string })[]
    const keep = (id: string, { entry: note }: NewObservation) => {
      if (!this.kept.has(id)) this.kept.set(id, note.kind === 'note' ? note.text : '')
    }
    if (Array.isArray(body)) {
      const [refused, taken] = trouble === 422 ? [body[0], body.slice(1)] : [undefined, body]
      taken.forEach((one) => keep(one.id, one))
      if (trouble === 'lost answer') throw new TypeError('network')
      return json(
        200,
        body.map((one) => ({ id: one.id, refused: one === refused ? refusal : null })),
      )
    }
    if (trouble === 422) return json(422, refusal)
    keep(id, body)
    if (trouble === 'lost answer') throw new TypeError('network')
    return json(200, { id })
  }
}

const json = (status: number, body: unknown) =>
  new Response(JSON.stringify(body), { status, headers: { 'content-type': 'application/json' } })

describe('the outbox', () => {
  it('sends in the order of entry and forgets what has arrived', async () => {
    const server = new Server()
    for (const text of ['a', 'b', 'c']) await putEntry(store, entry(text))
    const { arrived, stopped } = await drain(store, ME, server.send)
    expect([...server.kept.values()]).toEqual(['a', 'b', 'c'])
    expect([arrived.size, stopped]).toEqual([1, null])
    expect(await store.outbox.count()).toBe(0)
  })

  it.each(['down', 500, 'nonsense', 'lost answer'] as const)(
    'keeps everything when the answer is: %s',
    async (trouble) => {
      const server = new Server()
      for (const text of ['a', 'b']) await putEntry(store, entry(text))
      server.troubles.push(trouble)
      expect((await drain(store, ME, server.send)).stopped).toBe('later')
      expect(await store.outbox.count()).toBe(2)
      expect((await store.outbox.orderBy('seq').first())!.attempts).toBe(1)
      await drain(store, ME, server.send)
      expect([...server.kept.values()]).toEqual(['a', 'b'])
      expect(await store.outbox.count()).toBe(0)
    },
  )

  it('keeps a refused entry with its reason, and goes on with the others', async () => {
    const server = new Server()
    for (const text of ['a', 'b']) await putEntry(store, entry(text))
    server.troubles.push(422)
    await drain(store, ME, server.send)
    expect([...server.kept.values()]).toEqual(['b'])
    const [left] = await store.outbox.toArray()
    expect(left!.refused).toEqual({ code: 'invalid-request', message: 'no such node', place: 'entry.node' })
    // It is not sent again by itself.
    await drain(store, ME, server.send)
    expect(await store.outbox.count()).toBe(1)
  })

  it('waits for a sign-in, and leaves entries of others alone', async () => {
    const server = new Server()
    await putEntry(store, entry('a'))
    await putEntry(store, entry('theirs', { accountId: uuidv7() } as Partial<NewEntry>))
    server.troubles.push(401)
    expect((await drain(store, ME, server.send)).stopped).toBe('signed-out')
    await drain(store, ME, server.send)
    expect([...server.kept.values()]).toEqual(['a'])
    expect(await store.outbox.count()).toBe(1)
  })

  it('puts the same entry in only once; entered again, a refused one is mended', async () => {
    const server = new Server()
    const one = entry('a')
    await putEntry(store, one)
    await putEntry(store, one)
    expect(await store.outbox.count()).toBe(1)
    server.troubles.push(422)
    await drain(store, ME, server.send)
    await putEntry(store, { ...one, observation: observation('mended') } as NewEntry)
    await drain(store, ME, server.send)
    expect([...server.kept.values()]).toEqual(['mended'])
    expect(await store.outbox.count()).toBe(0)
  })

  it('sends what waits of one log together, in one journey, and each refusal is its own', async () => {
    const journeys: string[] = []
    const server = new Server()
    const send: Send = (request) => {
      journeys.push(new URL(request.url).pathname.split('/').at(-1)!)
      return server.send(request)
    }
    for (const text of ['a', 'b', 'c']) await putEntry(store, entry(text))
    await putEntry(store, entry('elsewhere', { calloutId: uuidv7() } as Partial<NewEntry>))
    server.troubles.push(422)
    await drain(store, ME, send)
    expect(journeys).toHaveLength(2)
    expect([...server.kept.values()]).toEqual(['b', 'c', 'elsewhere'])
    expect((await store.outbox.toArray()).map(({ state, refused }) => [state, refused?.message])).toEqual([
      ['refused', 'no such node'],
    ])
  })

  it('sends them one by one where the server can’t read them together', async () => {
    const server = new Server()
    for (const text of ['a', 'b']) await putEntry(store, entry(text))
    const send: Send = async (request) =>
      new URL(request.url).pathname.endsWith('/observations')
        ? json(400, { code: 'invalid-request', message: 'one of them is none', place: '1.entry' })
        : server.send(request)
    await drain(store, ME, send)
    expect([...server.kept.values()]).toEqual(['a', 'b'])
  })

  it('sends a file with its entry, apart from it, and forgets both when it has arrived', async () => {
    const bytes = new Uint8Array([1, 2, 3]).buffer
    const photo = {
      ...entry('x'),
      kind: 'attachment',
      facts: { fileName: 'a.png', caption: 'post', takenAt: '2026-03-01T02:00:00.000Z', sha256: 'a'.repeat(64) },
      record: {},
      file: bytes,
    } as unknown as NewEntry
    await putEntry(store, photo)
    expect(await store.outboxFiles.count()).toBe(1)
    const sent: [string, number][] = []
    const answers = [json(400, { code: 'half-sent', message: 'not whole' }), json(200, { id: photo.id })]
    const send: Send = async (request) => {
      sent.push([new URL(request.url).search, (await request.arrayBuffer()).byteLength])
      return answers.shift()!
    }
    // What was cut off on its way is whole here: it is sent again.
    expect((await drain(store, ME, send)).stopped).toBe('later')
    expect((await drain(store, ME, send)).stopped).toBeNull()
    expect(sent.map(([, length]) => length)).toEqual([3, 3])
    expect(new URLSearchParams(sent[0]![0]).get('caption')).toBe('post')
    expect([await store.outbox.count(), await store.outboxFiles.count()]).toEqual([0, 0])
  })

  it('sends again, and once, what had arrived when the device died before it was forgotten', async () => {
    const server = new Server()
    for (let k = 0; k < 30; k++) await putEntry(store, entry(`entry ${k}`))
    let calls = 0
    // The page dies in the middle of a batch: nothing after this call happens any more.
    const died = drain(store, ME, (request) => {
      // The first journey arrives, its answer does not.
      if (++calls > 1) return new Promise(() => undefined)
      return server.send(request).then(() => new Promise(() => undefined))
    })
    void died
    await vi.waitFor(() => expect(server.kept.size).toBe(30))
    await drain(store, ME, server.send)
    expect([...server.kept.values()]).toEqual(Array.from({ length: 30 }, (_, k) => `entry ${k}`))
    expect(await store.outbox.count()).toBe(0)
  })

  it('goes on with what an older version of the app had kept', async () => {
    const name = `older ${count++}`
    const older = new Dexie(name)
    older.version(1).stores({ outbox: '++seq, &id, calloutId', answers: 'path', files: 'sha256', taken: 'calloutId' })
    const waiting = () => ({ ...entry('waiting'), attempts: 0, refused: null })
    await older.table('outbox').add(waiting())
    await older.table('outbox').add({ ...entry('refused'), attempts: 1, refused: { code: 'x', message: 'no' } })
    await older.table('outbox').add({ ...waiting(), kind: 'trace', facts: {}, file: new ArrayBuffer(4) })
    older.close()
    const newer = new FieldStore(name)
    const entries = await newer.outbox.orderBy('seq').toArray()
    expect(entries.map(({ state }) => state)).toEqual(['waits', 'refused', 'waits'])
    expect('file' in entries[2]!).toBe(false)
    expect((await newer.outboxFiles.get(entries[2]!.id))!.bytes.byteLength).toBe(4)
    await newer.delete()
  })

  it('outlives its page: another one sends what this one kept', async () => {
    await putEntry(store, entry('a'))
    store.close()
    const reopened = new FieldStore(store.name)
    const server = new Server()
    await drain(reopened, ME, server.send)
    expect([...server.kept.values()]).toEqual(['a'])
    reopened.close()
  })

  it('loses nothing and doubles nothing, whatever happens on the way', async () => {
    const trouble = fc.constantFrom('down', 'lost answer', 500, 'nonsense', 401) as fc.Arbitrary<
      Server['troubles'][number]
    >
    await fc.assert(
      fc.asyncProperty(fc.array(trouble, { maxLength: 12 }), fc.integer({ min: 1, max: 8 }), async (troubles, many) => {
        const own = new FieldStore(`property ${count++}`)
        const server = new Server()
        server.troubles.push(...troubles)
        const texts = Array.from({ length: many }, (_, k) => `entry ${k}`)
        for (const text of texts) {
          await putEntry(own, entry(text))
          await drain(own, ME, server.send)
        }
        while ((await own.outbox.count()) > 0) await drain(own, ME, server.send)
        expect([...server.kept.values()]).toEqual(texts)
        await own.delete()
      }),
      { numRuns: 25, endOnFailure: true },
    )
  })
})

it('waits longer after each try in vain, up to a minute', () => {
  expect([0, 1, 2, 5, 6, 50].map(backOff)).toEqual([1, 2, 4, 32, 60, 60])
})

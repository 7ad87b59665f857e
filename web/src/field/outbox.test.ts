import type { NewObservation } from '@cold-thread/contract'
import fc from 'fast-check'
import { v7 as uuidv7 } from 'uuid'
import { afterEach, beforeEach, describe, expect, it } from 'vitest'
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
    if (trouble === 422) return json(422, { code: 'invalid-request', message: 'no such node', place: 'entry.node' })
    const { entry: note } = (await request.json()) as NewObservation
    if (!this.kept.has(id)) this.kept.set(id, note.kind === 'note' ? note.text : '')
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
  }, 60_000)
})

it('waits longer after each try in vain, up to a minute', () => {
  expect([0, 1, 2, 5, 6, 50].map(backOff)).toEqual([1, 2, 4, 32, 60, 60])
})

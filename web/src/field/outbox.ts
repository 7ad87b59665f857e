import { errorBody } from '@cold-thread/contract'
import type { FieldStore, OutboxEntry } from './fieldStore.ts'
import { serverSays } from './serverSays.ts'

/** An entry as it is put in; the store gives it its place in the order. */
export type NewEntry = OutboxEntry extends infer Entry
  ? Entry extends OutboxEntry
    ? Omit<Entry, 'seq' | 'attempts' | 'refused'>
    : never
  : never

/** What became of an entry that was to be sent. */
export type Delivery =
  | { outcome: 'sent'; record: unknown }
  | { outcome: 'refused'; refusal: NonNullable<OutboxEntry['refused']> }
  /** No answer, or none that can be relied on: it waits. */
  | { outcome: 'later' }
  /** Somebody must sign in first: it waits. */
  | { outcome: 'signed-out' }
  /** The server refuses it and speaks another version than this app: it waits for the newer one. */
  | { outcome: 'other-version' }

export type Send = (request: Request) => Promise<Response>

/**
 * Keeps an entry durably; when this resolves nothing can lose it any more. Entered again under its id, one that was
 * refused is mended by it and goes anew, and one that waits stays as it is.
 */
export async function putEntry(store: FieldStore, entry: NewEntry): Promise<void> {
  const fresh = { ...entry, attempts: 0, refused: null } as Omit<OutboxEntry, 'seq'> as OutboxEntry
  await store.transaction('rw', store.outbox, async () => {
    const known = await store.outbox.where('id').equals(entry.id).first()
    if (!known) await store.outbox.add(fresh)
    else if (known.refused) await store.outbox.put({ ...fresh, seq: known.seq })
  })
}

function requestOf(entry: OutboxEntry): Request {
  const base = `/api/callouts/${entry.calloutId}`
  if (entry.kind === 'observation')
    return new Request(`${base}/observations/${entry.id}`, {
      method: 'PUT',
      body: JSON.stringify(entry.observation),
      headers: { 'content-type': 'application/json' },
    })
  const query = new URLSearchParams()
  for (const [key, value] of Object.entries(entry.facts)) if (value !== undefined) query.set(key, String(value))
  return new Request(`${base}/${entry.kind}s/${entry.id}?${query}`, {
    method: 'PUT',
    body: entry.file,
    headers: { 'content-type': 'application/octet-stream' },
  })
}

/** Statuses with which the server says that sending it again would not help. */
const REFUSALS = new Set([400, 403, 404, 409, 413, 422])

/** Sends one entry. Only an answer that is the server's own counts: a login page of a guest network is none. */
export async function deliver(entry: OutboxEntry, send: Send): Promise<Delivery> {
  let response: Response
  let body: unknown
  try {
    response = await send(requestOf(entry))
    body = await response.json()
  } catch {
    return { outcome: 'later' }
  }
  if (response.ok) {
    const own = typeof body === 'object' && body !== null && 'id' in body && body.id === entry.id
    return own ? { outcome: 'sent', record: body } : { outcome: 'later' }
  }
  const error = errorBody.safeParse(body)
  if (!error.success) return { outcome: 'later' }
  if (response.status === 401) return { outcome: 'signed-out' }
  if (!REFUSALS.has(response.status)) return { outcome: 'later' }
  if (serverSays(response.headers, Date.now()).otherVersion) return { outcome: 'other-version' }
  const { code, message, place } = error.data
  // What was cut off on its way is whole here.
  if (code === 'half-sent') return { outcome: 'later' }
  return { outcome: 'refused', refusal: { code, message, ...(place === undefined ? {} : { place }) } }
}

export interface Drained {
  /** Callouts whose entries arrived. */
  arrived: Set<string>
  outcomes: Map<string, Delivery>
  /** Why it stopped before the end. */
  stopped: 'later' | 'signed-out' | 'other-version' | null
}

/**
 * Sends what waits, in the order in which it was entered. A refused entry stays with its reason and does not hold up the
 * others; where no answer comes everything behind waits as well.
 * @param accountId whoever is signed in: entries of others stay
 */
export async function drain(store: FieldStore, accountId: string, send: Send): Promise<Drained> {
  const drained: Drained = { arrived: new Set(), outcomes: new Map(), stopped: null }
  for (;;) {
    const next = await store.outbox
      .orderBy('seq')
      .filter(({ refused, accountId: owner }) => refused === null && owner === accountId)
      .first()
    if (!next) return drained
    const delivery = await deliver(next, send)
    drained.outcomes.set(next.id, delivery)
    switch (delivery.outcome) {
      case 'sent':
        await store.outbox.delete(next.seq)
        drained.arrived.add(next.calloutId)
        break
      case 'refused':
        await store.outbox.update(next.seq, { refused: delivery.refusal, attempts: next.attempts + 1 } as never)
        break
      default:
        await store.outbox.update(next.seq, { attempts: next.attempts + 1 } as never)
        return { ...drained, stopped: delivery.outcome }
    }
  }
}

/** Seconds to wait after so many tries in vain: 1, 2, 4 … 60. */
export function backOff(tries: number): number {
  return Math.min(60, 2 ** Math.min(tries, 10))
}

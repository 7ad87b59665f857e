import { readError, type ErrorBody } from '@cold-thread/contract'
import type { FieldStore, OutboxEntry } from './fieldStore.ts'
import { serverSays } from './serverSays.ts'

/** An entry as it is put in; the store gives it its place in the order. */
export type NewEntry = OutboxEntry extends infer Entry
  ? Entry extends OutboxEntry
    ? Omit<Entry, 'seq' | 'attempts' | 'state' | 'refused'> &
        (Entry['kind'] extends 'observation' ? { file?: undefined } : { file: ArrayBuffer })
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
export async function putEntry(store: FieldStore, { file, ...entry }: NewEntry): Promise<void> {
  const fresh = { ...entry, attempts: 0, state: 'waits', refused: null } as Omit<OutboxEntry, 'seq'> as OutboxEntry
  await store.transaction('rw', store.outbox, store.outboxFiles, async () => {
    const known = await store.outbox.where('id').equals(entry.id).first()
    if (known && known.state === 'waits') return
    if (file) await store.outboxFiles.put({ id: entry.id, bytes: file })
    if (known) await store.outbox.put({ ...fresh, seq: known.seq })
    else await store.outbox.add(fresh)
  })
}

/** Takes an entry out: it has arrived, or a person does not want it any more. */
export async function removeEntries(
  store: FieldStore,
  entries: readonly Pick<OutboxEntry, 'seq' | 'id'>[],
): Promise<void> {
  if (entries.length === 0) return
  await store.transaction('rw', store.outbox, store.outboxFiles, async () => {
    await store.outbox.bulkDelete(entries.map(({ seq }) => seq))
    await store.outboxFiles.bulkDelete(entries.map(({ id }) => id))
  })
}

/** A refused entry waits again. */
export async function sendAgain(store: FieldStore, { seq }: Pick<OutboxEntry, 'seq'>): Promise<void> {
  await store.outbox.update(seq, { state: 'waits', refused: null } as never)
}

function requestOf(entry: OutboxEntry, file: ArrayBuffer | undefined): Request {
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
    body: file ?? new ArrayBuffer(0),
    headers: { 'content-type': 'application/octet-stream' },
  })
}

/** Statuses with which the server says that sending it again would not help. */
const REFUSALS = new Set([400, 403, 404, 409, 413, 422])

/** Sends one entry. Only an answer that is the server's own counts: a login page of a guest network is none. */
export async function deliver(entry: OutboxEntry, file: ArrayBuffer | undefined, send: Send): Promise<Delivery> {
  let response: Response
  let body: unknown
  try {
    response = await send(requestOf(entry, file))
    body = await response.json()
  } catch {
    return { outcome: 'later' }
  }
  if (response.ok) {
    const own = typeof body === 'object' && body !== null && 'id' in body && body.id === entry.id
    return own ? { outcome: 'sent', record: body } : { outcome: 'later' }
  }
  const error = readError(body)
  if (!error) return { outcome: 'later' }
  if (response.status === 401) return { outcome: 'signed-out' }
  if (!REFUSALS.has(response.status)) return { outcome: 'later' }
  if (serverSays(response.headers, Date.now()).otherVersion) return { outcome: 'other-version' }
  // What was cut off on its way is whole here.
  return error.code === 'half-sent' ? { outcome: 'later' } : refusalOf(error)
}

/**
 * Sends entries of one callout's log together: one journey for many. What the server makes of each it says by itself; where
 * it can't say (one of them is nothing it can read), they are sent one by one.
 */
async function deliverTogether(
  run: readonly (OutboxEntry & { kind: 'observation' })[],
  send: Send,
): Promise<Delivery[] | null> {
  const later = run.map((): Delivery => ({ outcome: 'later' }))
  let response: Response
  let body: unknown
  try {
    response = await send(
      new Request(`/api/callouts/${run[0]!.calloutId}/observations`, {
        method: 'PUT',
        body: JSON.stringify(run.map(({ id, observation }) => ({ ...observation, id }))),
        headers: { 'content-type': 'application/json' },
      }),
    )
    body = await response.json()
  } catch {
    return later
  }
  if (!response.ok) return REFUSALS.has(response.status) ? null : later
  const { otherVersion } = serverSays(response.headers, Date.now())
  const outcomes = Array.isArray(body) ? (body as unknown[]) : []
  // An answer that is not one for each of them, in their order, says nothing of any.
  const refusals = run.map(({ id }, k) => refusalIn(outcomes[k], id))
  if (outcomes.length !== run.length || refusals.includes('nothing said')) return later
  return (refusals as (ErrorBody | null)[]).map((refused, k): Delivery => {
    if (refused === null) return { outcome: 'sent', record: run[k]!.observation }
    return otherVersion ? { outcome: 'other-version' } : refusalOf(refused)
  })
}

/** What one of the answers to entries that went together says of that with an id: null where it was taken. */
function refusalIn(outcome: unknown, id: string): ErrorBody | null | 'nothing said' {
  if (typeof outcome !== 'object' || outcome === null || !('id' in outcome) || outcome.id !== id) return 'nothing said'
  if (!('refused' in outcome)) return 'nothing said'
  return outcome.refused === null ? null : (readError(outcome.refused) ?? 'nothing said')
}

function refusalOf({ code, message, place }: ErrorBody): Delivery {
  return { outcome: 'refused', refusal: { code, message, ...(place === undefined ? {} : { place }) } }
}

/** Sends the first of some entries, with those behind it that can go along. @returns what became of so many of them */
async function deliverFirst(entries: readonly OutboxEntry[], store: FieldStore, send: Send): Promise<Delivery[]> {
  const [first] = entries as [OutboxEntry]
  const end = entries.findIndex(({ kind, calloutId }) => kind !== 'observation' || calloutId !== first.calloutId)
  const run = entries.slice(0, end < 0 ? undefined : end) as (OutboxEntry & { kind: 'observation' })[]
  const together = run.length > 1 ? await deliverTogether(run, send) : null
  if (together) return together
  const file = first.kind === 'observation' ? undefined : (await store.outboxFiles.get(first.id))?.bytes
  return [await deliver(first, file, send)]
}

export interface Drained {
  /** Callouts whose entries arrived. */
  arrived: Set<string>
  outcomes: Map<string, Delivery>
  /** Why it stopped before the end. */
  stopped: 'later' | 'signed-out' | 'other-version' | null
}

/** Entries are read, and those that have arrived forgotten, so many at a time: each time is a write to the disk. */
const BATCH = 50

/**
 * Sends what waits, in the order in which it was entered. A refused entry stays with its reason and does not hold up the
 * others; where no answer comes everything behind waits as well. What has arrived is forgotten some at a time: a device
 * that dies in between sends them again under their ids, and they stay one.
 * @param accountId whoever is signed in: entries of others stay
 */
export async function drain(store: FieldStore, accountId: string, send: Send): Promise<Drained> {
  const drained: Drained = { arrived: new Set(), outcomes: new Map(), stopped: null }
  for (;;) {
    const batch = await store.outbox
      .where('state')
      .equals('waits')
      .filter((entry) => entry.accountId === accountId)
      .limit(BATCH)
      .sortBy('seq')
    if (batch.length === 0) return drained
    const sent: OutboxEntry[] = []
    let deliveries: Delivery[] = []
    for (const [k, entry] of batch.entries()) {
      if (deliveries.length === 0) deliveries = await deliverFirst(batch.slice(k), store, send)
      const delivery = deliveries.shift()!
      drained.outcomes.set(entry.id, delivery)
      const attempts = entry.attempts + 1
      if (delivery.outcome === 'sent') {
        sent.push(entry)
        drained.arrived.add(entry.calloutId)
        continue
      }
      await removeEntries(store, sent.splice(0))
      if (delivery.outcome === 'refused') {
        await store.outbox.update(entry.seq, { state: 'refused', refused: delivery.refusal, attempts } as never)
        continue
      }
      await store.outbox.update(entry.seq, { attempts } as never)
      return { ...drained, stopped: delivery.outcome }
    }
    await removeEntries(store, sent)
  }
}

/** Seconds to wait after so many tries in vain: 1, 2, 4 … 60. */
export function backOff(tries: number): number {
  return Math.min(60, 2 ** Math.min(tries, 10))
}

import type { Observation } from '@cold-thread/contract'
import type { FieldStore, OutboxEntry } from './fieldStore.ts'

/** An observation, or one that is still on its way to the server. */
export type LoggedObservation = Observation & { waiting?: boolean }

/**
 * What the server has, and behind it what waits on this device, in the order of entry; each once.
 * @param shownAs how an entry of this kind is shown; null for those of other kinds
 */
export async function withWaiting<T extends { id: string }>(
  store: FieldStore,
  calloutId: string,
  there: readonly T[],
  shownAs: (entry: OutboxEntry) => T | null,
): Promise<T[]> {
  const known = new Set(there.map(({ id }) => id))
  const entries = await store.outbox.where('calloutId').equals(calloutId).sortBy('seq')
  const own = entries.flatMap((entry) => (entry.refused === null && !known.has(entry.id) ? (shownAs(entry) ?? []) : []))
  return [...there, ...own]
}

/** The log with what waits; what waits supersedes too. */
export async function withWaitingObservations(
  store: FieldStore,
  calloutId: string,
  log: readonly Observation[],
): Promise<LoggedObservation[]> {
  const all = await withWaiting<LoggedObservation>(store, calloutId, log, (entry) =>
    entry.kind === 'observation'
      ? {
          id: entry.id,
          calloutId,
          ...entry.observation,
          receivedAt: entry.enteredAt,
          by: entry.by,
          superseded: false,
          waiting: true,
        }
      : null,
  )
  const superseded = new Set(all.flatMap(({ waiting, supersedes }) => (waiting ? [supersedes] : [])))
  return all.map((one) => (superseded.has(one.id) ? { ...one, superseded: true } : one))
}

import type { Observation, TraceRecord } from '@cold-thread/contract'
import type { FieldStore } from './fieldStore.ts'

/** An observation, or one that is still on its way to the server. */
export type LoggedObservation = Observation & { waiting?: boolean }

/** The log with what waits on this device behind it, in the order of entry. */
export async function withWaitingObservations(
  store: FieldStore,
  calloutId: string,
  log: readonly Observation[],
): Promise<LoggedObservation[]> {
  const known = new Set(log.map(({ id }) => id))
  const waiting = await entriesOf(store, calloutId)
  const own = waiting.flatMap((entry): LoggedObservation[] =>
    entry.kind === 'observation' && !known.has(entry.id)
      ? [
          {
            id: entry.id,
            calloutId,
            ...entry.observation,
            receivedAt: entry.enteredAt,
            by: entry.by,
            superseded: false,
            waiting: true,
          },
        ]
      : [],
  )
  const superseded = new Set(own.map(({ supersedes }) => supersedes))
  return [...log, ...own].map((one) => (superseded.has(one.id) ? { ...one, superseded: true } : one))
}

/** The traces with those that wait on this device. */
export async function withWaitingTraces(
  store: FieldStore,
  calloutId: string,
  traces: readonly TraceRecord[],
): Promise<TraceRecord[]> {
  const known = new Set(traces.map(({ id }) => id))
  const waiting = await entriesOf(store, calloutId)
  return [
    ...traces,
    ...waiting.flatMap((entry) => (entry.kind === 'trace' && !known.has(entry.id) ? [entry.record] : [])),
  ]
}

async function entriesOf(store: FieldStore, calloutId: string) {
  const entries = await store.outbox.where('calloutId').equals(calloutId).sortBy('seq')
  return entries.filter(({ refused }) => refused === null)
}

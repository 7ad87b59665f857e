import type { FieldStore } from './fieldStore.ts'

/** Room on this device as the browser tells it. */
export interface Room {
  /** Bytes in use and at most; null where the browser does not say. */
  used: number | null
  most: number | null
  /** The browser has promised not to clear it when the device gets full. */
  lasting: boolean
}

/** Source: Storage Standard, WHATWG. */
export async function readRoom(): Promise<Room> {
  const storage = globalThis.navigator?.storage
  const estimate = await storage?.estimate?.().catch(() => undefined)
  const lasting = (await storage?.persisted?.().catch(() => false)) ?? false
  return { used: estimate?.usage ?? null, most: estimate?.quota ?? null, lasting }
}

/** How full the store is, 0 to 1; null where the browser does not say. */
export function fullness({ used, most }: Pick<Room, 'used' | 'most'>): number | null {
  return used === null || most === null || most <= 0 ? null : used / most
}

/** Whether writing failed for want of room; the store's package tells an aborted transaction with the reason inside. */
export function isFull(error: unknown): boolean {
  if (typeof error !== 'object' || error === null) return false
  if ('name' in error && error.name === 'QuotaExceededError') return true
  return ('inner' in error && isFull(error.inner)) || ('cause' in error && isFull(error.cause))
}

/** Drops what was taken along; what was entered and is not on the server stays. */
export async function makeRoom(store: FieldStore): Promise<void> {
  await store.transaction('rw', store.files, store.answers, store.taken, () =>
    Promise.all([store.files.clear(), store.answers.clear(), store.taken.clear()]),
  )
}

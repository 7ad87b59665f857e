import type { TraceRecord } from '@cold-thread/contract'
import { fieldStore } from './fieldStore.ts'

const inMemory = new Map<string, Promise<ArrayBuffer>>()

/** A trace file by its hash: what is stored never changes, so that it is fetched once and kept on this device. */
export function fileOf(trace: Pick<TraceRecord, 'id' | 'sha256' | 'fileName'>): Promise<ArrayBuffer> {
  let file = inMemory.get(trace.sha256)
  if (!file) {
    file = readOrFetch(trace)
    file.catch(() => inMemory.delete(trace.sha256))
    inMemory.set(trace.sha256, file)
  }
  return file
}

async function readOrFetch({
  id,
  sha256,
  fileName,
}: Pick<TraceRecord, 'id' | 'sha256' | 'fileName'>): Promise<ArrayBuffer> {
  const kept = await fieldStore.files.get(sha256).catch(() => undefined)
  if (kept) return kept.bytes
  const response = await fetch(`/api/traces/${id}/file`)
  if (!response.ok) throw new Error(`${fileName} can't be fetched`)
  const bytes = await response.arrayBuffer()
  await keepFile(sha256, bytes)
  return bytes
}

/** Keeps a file; a full device only means that it is fetched again. */
export async function keepFile(sha256: string, bytes: ArrayBuffer): Promise<void> {
  await fieldStore.files.put({ sha256, bytes }).catch(() => undefined)
}

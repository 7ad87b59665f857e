import { CodedError } from '@cold-thread/core/errors'
import type { Attachment, TraceRecord } from '@cold-thread/contract'
import { fieldStore } from './fieldStore.ts'

/** A file of the server: by its hash, for what is stored never changes. */
interface StoredFile {
  sha256: string
  address: string
  fileName: string
}

const inMemory = new Map<string, Promise<ArrayBuffer>>()

/** A trace file: fetched once and kept on this device. */
export function fileOf(trace: Pick<TraceRecord, 'id' | 'sha256' | 'fileName'>): Promise<ArrayBuffer> {
  let file = inMemory.get(trace.sha256)
  if (!file) {
    file = readOrFetch({ ...trace, address: `/api/traces/${trace.id}/file` })
    file.catch(() => inMemory.delete(trace.sha256))
    inMemory.set(trace.sha256, file)
  }
  return file
}

/** A photo or file: fetched once and kept on this device, not in memory. */
export function attachmentFile(one: Pick<Attachment, 'id' | 'sha256' | 'fileName'>): Promise<ArrayBuffer> {
  return readOrFetch({ ...one, address: `/api/attachments/${one.id}/file` })
}

async function readOrFetch({ address, sha256, fileName }: StoredFile): Promise<ArrayBuffer> {
  const kept = await fieldStore.files.get(sha256).catch(() => undefined)
  if (kept) return kept.bytes
  const response = await fetch(address)
  if (!response.ok) throw new CodedError('not-fetched', `${fileName} can't be fetched`)
  const bytes = await response.arrayBuffer()
  await keepFile(sha256, bytes)
  return bytes
}

/** Keeps a file; a full device only means that it is fetched again. */
export async function keepFile(sha256: string, bytes: ArrayBuffer): Promise<void> {
  await fieldStore.files.put({ sha256, bytes }).catch(() => undefined)
}

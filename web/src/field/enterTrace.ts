import type { TraceRecord, TraceUpload } from '@cold-thread/contract'
import { sha256 } from '@noble/hashes/sha2.js'
import { bytesToHex } from '@noble/hashes/utils.js'
import { workers } from '../worker/workers.ts'
import { enter } from './enter.ts'
import type { FieldStore } from './fieldStore.ts'
import { keepFile } from './files.ts'
import type { Delivery, NewEntry } from './outbox.ts'
import type { Sender } from './sender.ts'

/** A trace file as it is entered on a callout. */
export interface EnteredTrace {
  calloutId: string
  linkId: string
  id: string
  facts: TraceUpload
  file: Blob
}

/**
 * Reads a trace on this device, keeps it and sends it: it can be placed at once, with or without network.
 * A file that is no trace is refused here and not kept.
 */
export async function enterTrace(
  store: FieldStore,
  sender: Sender,
  { calloutId, linkId, id, facts, file }: EnteredTrace,
  who: Pick<NewEntry, 'accountId' | 'by' | 'enteredAt'>,
): Promise<Delivery> {
  const bytes = await file.arrayBuffer()
  const read = await workers.core().inspect(bytes.slice(0))
  if ('problem' in read) return { outcome: 'refused', refusal: { code: 'trace-refused', message: read.problem } }
  const hash = bytesToHex(sha256(new Uint8Array(bytes)))
  const record: TraceRecord = {
    id,
    linkId,
    calloutId,
    role: facts.role,
    direction: facts.direction,
    launchCord: facts.launchCord ?? null,
    receiveCord: facts.receiveCord ?? null,
    fileName: facts.fileName,
    bytes: bytes.byteLength,
    sha256: hash,
    simulated: false,
    facts: read.facts,
    warnings: read.warnings,
    addedAt: who.enteredAt,
    addedBy: who.by,
    withdrawn: false,
  }
  await keepFile(hash, bytes)
  return enter(store, sender, { ...who, kind: 'trace', id, calloutId, facts, record, file: bytes })
}

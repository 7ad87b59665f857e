import type { Attachment, AttachmentUpload, NewObservation, TraceRecord, TraceUpload } from '@cold-thread/contract'
import Dexie, { type EntityTable } from 'dexie'

/** Something entered that is on its way to the server. */
export type OutboxEntry = {
  /** Order in which it was entered. */
  seq: number
  /** Made here: sent twice, it is one. */
  id: string
  calloutId: string
  /** Who entered it: only this account sends it. */
  accountId: string
  by: string
  enteredAt: string
  attempts: number
  state: 'waits' | 'refused'
  /** Why the server took it not; null while it waits. */
  refused: { code: string; message: string; place?: string | undefined } | null
} & (
  | { kind: 'observation'; observation: NewObservation }
  | { kind: 'trace'; facts: TraceUpload; record: TraceRecord }
  | { kind: 'attachment'; facts: AttachmentUpload; record: Attachment }
)

/** The file of an entry, apart from it: what waits is counted and listed without reading files. */
export interface OutboxFile {
  id: string
  bytes: ArrayBuffer
}

/** An answer of the server as it was last read. */
export interface KeptAnswer {
  path: string
  body: unknown
  at: string
}

/** A trace, photo or other file by its hash. */
export interface KeptFile {
  sha256: string
  bytes: ArrayBuffer
}

/** A callout that is readable without the network. */
export interface TakenCallout {
  calloutId: string
  at: string
  bytes: number
}

/** Changes of something shared that are not saved yet. */
export interface Draft {
  key: string
  draft: unknown
}

/** What this device keeps. */
export class FieldStore extends Dexie {
  declare outbox: EntityTable<OutboxEntry, 'seq'>
  declare outboxFiles: EntityTable<OutboxFile, 'id'>
  declare answers: EntityTable<KeptAnswer, 'path'>
  declare files: EntityTable<KeptFile, 'sha256'>
  declare taken: EntityTable<TakenCallout, 'calloutId'>
  declare drafts: EntityTable<Draft, 'key'>

  constructor(name = 'cold-thread') {
    // Written to the disk before it counts as kept: a phone may die in the next moment.
    super(name, { chromeTransactionDurability: 'strict' })
    this.version(1).stores({ outbox: '++seq, &id, calloutId', answers: 'path', files: 'sha256', taken: 'calloutId' })
    this.version(2)
      .stores({ outbox: '++seq, &id, calloutId, state', outboxFiles: 'id' })
      .upgrade(async (transaction) => {
        const entries = (await transaction.table('outbox').toArray()) as (OutboxEntry & { file?: ArrayBuffer })[]
        for (const { file, ...entry } of entries) {
          if (file) await transaction.table('outboxFiles').put({ id: entry.id, bytes: file })
          await transaction.table('outbox').put({ ...entry, state: entry.refused ? 'refused' : 'waits' })
        }
      })
    this.version(3).stores({ drafts: 'key' })
  }

  /** Forgets everything that was taken along or waits. */
  async wipe(): Promise<void> {
    await this.transaction('rw', this.tables, () => Promise.all(this.tables.map((table) => table.clear())))
  }
}

export const fieldStore = new FieldStore()

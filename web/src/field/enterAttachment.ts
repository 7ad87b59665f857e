import { MAX_ATTACHMENT_BYTES, type Attachment } from '@cold-thread/contract'
import { sha256 } from '@noble/hashes/sha2.js'
import { bytesToHex } from '@noble/hashes/utils.js'
import { enter } from './enter.ts'
import type { FieldStore } from './fieldStore.ts'
import { keepFile } from './files.ts'
import type { Delivery, NewEntry } from './outbox.ts'
import type { Sender } from './sender.ts'

/** A photo or file as it is entered on a callout. */
export interface EnteredAttachment {
  calloutId: string
  id: string
  caption: string
  file: File
}

/** Photos larger than this are made smaller before they wait for a thin network: longest side, pixels, and bytes. */
const LONGEST_SIDE = 2560
const LARGE = 1_500_000

/** A photo small enough for a phone network; what can't be made smaller stays as it is. */
async function handy(file: File): Promise<Blob> {
  if (!file.type.startsWith('image/') || file.size <= LARGE) return file
  try {
    const { default: compress } = await import('browser-image-compression')
    return await compress(file, {
      maxWidthOrHeight: LONGEST_SIDE,
      maxSizeMB: LARGE / 1e6,
      // Its worker would load code from elsewhere.
      useWebWorker: false,
      fileType: 'image/jpeg',
    })
  } catch {
    return file
  }
}

/** Keeps a photo or file on this device and sends it; one over the limit is refused here and not kept. */
export async function enterAttachment(
  store: FieldStore,
  sender: Sender,
  { calloutId, id, caption, file }: EnteredAttachment,
  who: Pick<NewEntry, 'accountId' | 'by' | 'enteredAt'>,
): Promise<Delivery> {
  const blob = await handy(file)
  if (blob.size > MAX_ATTACHMENT_BYTES) {
    const message = `${file.name} has ${(blob.size / 1e6).toFixed(0)} MB; ${MAX_ATTACHMENT_BYTES / 1e6} MB are the most.`
    return { outcome: 'refused', refusal: { code: 'too-large', message } }
  }
  const bytes = await blob.arrayBuffer()
  const facts = {
    fileName: file.name,
    caption,
    takenAt: who.enteredAt,
    sha256: bytesToHex(sha256(new Uint8Array(bytes))),
  }
  const record: Attachment = {
    ...facts,
    id,
    calloutId,
    mediaType: blob.type || 'application/octet-stream',
    bytes: bytes.byteLength,
    addedAt: who.enteredAt,
    addedBy: who.by,
    withdrawn: false,
  }
  await keepFile(facts.sha256, bytes)
  return enter(store, sender, { ...who, kind: 'attachment', id, calloutId, facts, record, file: bytes })
}

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
  /** Where a photo was taken stays in it; else it is taken out. */
  keepPosition?: boolean
}

/** Photos larger than this are made smaller before they wait for a thin network: longest side, pixels, and bytes. */
const LONGEST_SIDE = 2560
const LARGE = 1_500_000

/** A JPEG without the position that its camera wrote into it (Exif 2.3, GPS IFD); anything else as it is. */
export async function withoutPosition(file: Blob): Promise<Blob> {
  if (file.type !== 'image/jpeg') return file
  try {
    const { default: piexif } = await import('piexifjs')
    const binary = binaryOf(new Uint8Array(await file.arrayBuffer()))
    const exif = piexif.load(binary)
    if (Object.keys(exif.GPS ?? {}).length === 0) return file
    const cleaned = piexif.insert(piexif.dump({ ...exif, GPS: {} }), binary)
    return new Blob([Uint8Array.from(cleaned, (character) => character.charCodeAt(0))], { type: file.type })
  } catch {
    // No Exif that can be read: what can't be shown to be free of a position is drawn anew.
    return redrawn(file)
  }
}

/** One character a byte, as the Exif package wants it. */
function binaryOf(bytes: Uint8Array): string {
  let out = ''
  for (let at = 0; at < bytes.length; at += 0x8000) out += String.fromCharCode(...bytes.subarray(at, at + 0x8000))
  return out
}

/** The picture alone, without anything that was written beside it. */
async function redrawn(file: Blob): Promise<Blob> {
  const { default: compress } = await import('browser-image-compression')
  return compress(file as File, { useWebWorker: false, fileType: 'image/jpeg', alwaysKeepResolution: true }).catch(
    () => file,
  )
}

/** A photo small enough for a phone network; what can't be made smaller stays as it is. */
async function handy(file: File, keepPosition: boolean): Promise<Blob> {
  if (!file.type.startsWith('image/') || file.size <= LARGE) return file
  try {
    const { default: compress } = await import('browser-image-compression')
    return await compress(file, {
      maxWidthOrHeight: LONGEST_SIDE,
      maxSizeMB: LARGE / 1e6,
      // Its worker would load code from elsewhere.
      useWebWorker: false,
      fileType: 'image/jpeg',
      preserveExif: keepPosition,
    })
  } catch {
    return file
  }
}

/** Keeps a photo or file on this device and sends it; one over the limit is refused here and not kept. */
export async function enterAttachment(
  store: FieldStore,
  sender: Sender,
  { calloutId, id, caption, file, keepPosition = false }: EnteredAttachment,
  who: Pick<NewEntry, 'accountId' | 'by' | 'enteredAt'>,
): Promise<Delivery> {
  const small = await handy(file, keepPosition)
  const blob = keepPosition ? small : await withoutPosition(small)
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

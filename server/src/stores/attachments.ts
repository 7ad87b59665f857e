import type { Attachment, AttachmentUpload } from '@cold-thread/contract'
import { fileTypeFromBuffer } from 'file-type'
import { createHash } from 'node:crypto'
import { AttachmentRow } from '../db/models.ts'
import { AppError } from '../errors.ts'
import { requireOpen } from './callouts.ts'
import { createOnce } from './idempotent.ts'

const WITHOUT_CONTENT = { exclude: ['content'] }
/** Pictures that every browser shows; nothing else is ever shown, whatever it says of itself. */
const SHOWN = new Set(['image/jpeg', 'image/png', 'image/webp'])

function toAttachment(row: AttachmentRow): Attachment {
  return {
    id: row.id,
    calloutId: row.calloutId,
    fileName: row.fileName,
    caption: row.caption,
    takenAt: row.takenAt.toISOString(),
    sha256: row.sha256,
    mediaType: row.mediaType,
    bytes: row.byteCount,
    addedAt: row.addedAt.toISOString(),
    addedBy: row.addedBy,
    withdrawn: row.withdrawnBy !== null,
  }
}

/** Photos and files of a callout in the order in which they were taken, withdrawn ones too. */
export async function listAttachments(calloutId: string): Promise<Attachment[]> {
  const order: [string, string][] = [
    ['takenAt', 'ASC'],
    ['id', 'ASC'],
  ]
  return (await AttachmentRow.findAll({ where: { calloutId }, attributes: WITHOUT_CONTENT, order })).map(toAttachment)
}

/**
 * Keeps a photo or file as it came. Sent twice, it is one.
 * @throws AppError `half-sent` when what came is not the file that was announced
 */
export async function addAttachment(
  calloutId: string,
  id: string,
  { fileName, caption, takenAt, sha256 }: AttachmentUpload,
  content: Buffer,
  by: string,
  now: Date,
): Promise<Attachment> {
  if (createHash('sha256').update(content).digest('hex') !== sha256) throw new AppError('half-sent', undefined, 'body')
  const mime = (await fileTypeFromBuffer(content))?.mime
  const row = await createOnce(
    () => AttachmentRow.findByPk(id, { attributes: WITHOUT_CONTENT }),
    (existing) => existing.calloutId === calloutId && existing.sha256 === sha256 && existing.caption === caption,
    async () => {
      await requireOpen(calloutId)
      return AttachmentRow.create({
        id,
        calloutId,
        fileName,
        caption,
        takenAt: new Date(takenAt),
        sha256,
        mediaType: mime !== undefined && SHOWN.has(mime) ? mime : 'application/octet-stream',
        byteCount: content.length,
        content,
        addedAt: now,
        addedBy: by,
        withdrawnBy: null,
      })
    },
  )
  return toAttachment(row)
}

export async function attachmentContent(id: string): Promise<AttachmentRow> {
  const row = await AttachmentRow.findByPk(id)
  if (!row) throw new AppError('not-found', 'there is no such photo or file')
  return row
}

/** Takes a photo or file out. Doing it twice is doing it once. */
export async function withdrawAttachment(id: string, by: string): Promise<Attachment> {
  const row = await AttachmentRow.findByPk(id, { attributes: WITHOUT_CONTENT })
  if (!row) throw new AppError('not-found', 'there is no such photo or file')
  if (row.withdrawnBy === null) {
    await requireOpen(row.calloutId)
    await row.update({ withdrawnBy: by })
  }
  return toAttachment(row)
}

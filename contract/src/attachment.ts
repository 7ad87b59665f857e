import { z } from 'zod'
import { id, instant } from './common.ts'

/** What goes with a photo or file; the body is the file itself. */
export const attachmentUpload = z.object({
  fileName: z.string().min(1).max(255),
  caption: z.string().trim().max(500),
  takenAt: instant,
  /** SHA-256 of the whole file: what arrives in part is not taken. */
  sha256: z.string().regex(/^[0-9a-f]{64}$/),
})
export type AttachmentUpload = z.infer<typeof attachmentUpload>

/** A photo or file of a callout: an observation, never edited. */
export const attachment = attachmentUpload
  .extend({
    id,
    calloutId: id,
    /** Of a picture that browsers show; `application/octet-stream` for everything else. */
    mediaType: z.string(),
    bytes: z.number().int(),
    addedAt: instant,
    addedBy: z.string(),
    /** Taken out, by whom is kept; the file is too. */
    withdrawn: z.boolean(),
  })
  .meta({ id: 'Attachment' })
export type Attachment = z.infer<typeof attachment>

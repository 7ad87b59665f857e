import { attachment, attachmentUpload, id, MAX_ATTACHMENT_BYTES } from '@cold-thread/contract'
import { z } from 'zod'
import { accountOf, EVERYBODY, FIELD } from '../plugins/access.ts'
import { addAttachment, attachmentContent, listAttachments, withdrawAttachment } from '../stores/attachments.ts'
import { requireCallout } from '../stores/callouts.ts'
import { bodyOf, sendFile } from './body.ts'
import { answers, type App } from './schema.ts'

/** Photos and files of a callout. */
export function attachmentRoutes(app: App): void {
  app.get(
    '/api/callouts/:id/attachments',
    {
      config: { access: EVERYBODY },
      schema: { params: z.object({ id }), response: answers(z.array(attachment)) },
    },
    async (request) => listAttachments((await requireCallout(request.params.id)).id),
  )

  app.put(
    '/api/callouts/:id/attachments/:attachmentId',
    {
      config: { access: FIELD },
      bodyLimit: MAX_ATTACHMENT_BYTES,
      schema: {
        params: z.object({ id, attachmentId: id }),
        querystring: attachmentUpload,
        response: answers(attachment),
      },
    },
    async (request) => {
      const { id: calloutId, attachmentId } = request.params
      await requireCallout(calloutId)
      const by = accountOf(request).displayName
      return addAttachment(calloutId, attachmentId, request.query, bodyOf(request.body), by, new Date())
    },
  )

  app.get(
    '/api/attachments/:attachmentId/file',
    { config: { access: EVERYBODY }, schema: { params: z.object({ attachmentId: id }) } },
    async (request, reply) => {
      const { content, fileName, mediaType } = await attachmentContent(request.params.attachmentId)
      return sendFile(reply, content, fileName, mediaType)
    },
  )

  app.delete(
    '/api/attachments/:attachmentId',
    {
      config: { access: FIELD },
      schema: { params: z.object({ attachmentId: id }), response: answers(attachment) },
    },
    async (request) => {
      const taken = await withdrawAttachment(request.params.attachmentId, accountOf(request).displayName)
      request.changed = { calloutId: taken.calloutId, change: 'attachments' }
      return taken
    },
  )
}

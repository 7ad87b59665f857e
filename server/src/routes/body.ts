import type { FastifyReply } from 'fastify'
import { AppError } from '../errors.ts'

/** The file that a request carries as its body. @throws AppError when it carries something else */
export function bodyOf(body: unknown): Buffer {
  if (!Buffer.isBuffer(body))
    throw new AppError('invalid-request', 'send the file itself as application/octet-stream', 'body')
  return body
}

/** A stored file, to be kept by browsers for good: what is stored never changes. A picture is shown, all else saved. */
export function sendFile(reply: FastifyReply, content: Buffer, fileName: string, mediaType: string): FastifyReply {
  const name = fileName.replaceAll(/[^\w.-]/g, '_')
  const how = mediaType.startsWith('image/') ? 'inline' : 'attachment'
  return reply
    .header('content-type', mediaType)
    .header('content-disposition', `${how}; filename="${name}"`)
    .header('cache-control', 'private, max-age=31536000, immutable')
    .send(content)
}

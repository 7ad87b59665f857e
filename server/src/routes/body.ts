import { AppError } from '../errors.ts'

/** The file that a request carries as its body. @throws AppError when it carries something else */
export function bodyOf(body: unknown): Buffer {
  if (!Buffer.isBuffer(body))
    throw new AppError('invalid-request', 'send the trace file itself as application/octet-stream', 'body')
  return body
}

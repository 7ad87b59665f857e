import { ERRORS, type ErrorBody } from '@cold-thread/contract'
import type { FastifyError } from 'fastify'
import plugin from 'fastify-plugin'
import { hasZodFastifySchemaValidationErrors } from 'fastify-type-provider-zod'
import { toAppError } from '../errors.ts'

/** One kind of error reply, with a stable code; what is unexpected is logged and says nothing about the inside. */
export const errorReplies = plugin(
  async (app) => {
    app.setErrorHandler((error: FastifyError, request, reply) => {
      const expected = isFrameworks(error) ? null : toAppError(error)
      if (expected) return reply.code(expected.status).send(expected.body())
      const body = frameworkError(error)
      if (body.code === 'internal') request.log.error(error)
      return reply.code(ERRORS[body.code].status).send(body)
    })
    app.setNotFoundHandler((_request, reply) => {
      void reply.code(404).send({ code: 'not-found', message: ERRORS['not-found'].message } satisfies ErrorBody)
    })
  },
  { name: 'error-replies' },
)

function isFrameworks(error: { code?: string }): boolean {
  return error.code?.startsWith('FST_') === true
}

function frameworkError(error: FastifyError): ErrorBody {
  if (hasZodFastifySchemaValidationErrors(error)) {
    const issue = error.validation[0]
    const place = `${error.validationContext ?? 'request'}${(issue?.instancePath ?? '').replaceAll('/', '.')}`
    return { code: 'invalid-request', message: `${place}: ${issue?.message ?? 'does not fit'}`, place }
  }
  if (error.code === 'FST_ERR_CTP_BODY_TOO_LARGE')
    return { code: 'too-large', message: ERRORS['too-large'].message, place: 'body' }
  if (error.statusCode === 429) return { code: 'too-many-attempts', message: ERRORS['too-many-attempts'].message }
  if (error.statusCode !== undefined && error.statusCode >= 400 && error.statusCode < 500)
    return { code: 'invalid-request', message: error.message, place: 'body' }
  return { code: 'internal', message: ERRORS.internal.message }
}

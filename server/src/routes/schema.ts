import { errorBody } from '@cold-thread/contract'
import type {
  FastifyInstance,
  FastifyBaseLogger,
  RawReplyDefaultExpression,
  RawRequestDefaultExpression,
  RawServerDefault,
} from 'fastify'
import type { ZodTypeProvider } from 'fastify-type-provider-zod'
import type { z } from 'zod'

/** The application with routes typed by their schemas. */
export type App = FastifyInstance<
  RawServerDefault,
  RawRequestDefaultExpression,
  RawReplyDefaultExpression,
  FastifyBaseLogger,
  ZodTypeProvider
>

const ERROR_STATUSES = [400, 401, 403, 404, 409, 413, 422, 429, 500, 503] as const

/** Response schemas of a route: its own answer, and the error body for all that can go wrong. */
export function answers<S extends z.ZodType>(
  ok: S,
): { 200: S } & Record<(typeof ERROR_STATUSES)[number], typeof errorBody> {
  return {
    200: ok,
    ...(Object.fromEntries(ERROR_STATUSES.map((status) => [status, errorBody])) as Record<
      (typeof ERROR_STATUSES)[number],
      typeof errorBody
    >),
  }
}

import { watchedAttempts } from '@cold-thread/contract'
import { z } from 'zod'
import { EVERYBODY } from '../plugins/access.ts'
import { usualOfSplicer } from '../stores/splicers.ts'
import { answers, type App } from './schema.ts'

export function joinRoutes(app: App): void {
  app.get(
    '/api/splicers/:item/usual',
    {
      config: { access: EVERYBODY },
      schema: {
        params: z.object({ item: z.string().min(1).max(200) }),
        querystring: z.object({ cleaver: z.string().min(1).max(200).optional() }),
        response: answers(watchedAttempts),
      },
    },
    (request) => usualOfSplicer(request.params.item, request.query.cleaver ?? null),
  )
}

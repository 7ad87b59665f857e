import { kit, kitRecord, version } from '@cold-thread/contract'
import { z } from 'zod'
import { accountOf, EVERYBODY, FIELD } from '../plugins/access.ts'
import { currentKit, saveKit } from '../stores/kits.ts'
import { answers, type App } from './schema.ts'

export function kitRoutes(app: App): void {
  app.get('/api/kit', { config: { access: EVERYBODY }, schema: { response: answers(kitRecord) } }, () => currentKit())

  app.put(
    '/api/kit',
    { config: { access: FIELD }, schema: { body: z.object({ kit, version }), response: answers(kitRecord) } },
    (request) => saveKit(request.body.kit, request.body.version, accountOf(request).displayName, new Date()),
  )
}

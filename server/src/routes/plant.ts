import { corrections, newCorrection, plantRecord, plantWrite, recordFindings } from '@cold-thread/contract'
import { accountOf, EVERYBODY, RECORDS } from '../plugins/access.ts'
import { correctRecord, listCorrections, openFindings } from '../stores/corrections.ts'
import { currentPlant, savePlant } from '../stores/plants.ts'
import { answers, type App } from './schema.ts'

const MOST_PLANT_BYTES = 32 * 1024 * 1024

export function plantRoutes(app: App): void {
  app.get('/api/plant', { config: { access: EVERYBODY }, schema: { response: answers(plantRecord) } }, () =>
    currentPlant(),
  )

  app.put(
    '/api/plant',
    {
      config: { access: RECORDS },
      bodyLimit: MOST_PLANT_BYTES,
      schema: { body: plantWrite, response: answers(plantRecord) },
    },
    (request) => savePlant(request.body.bundle, request.body.version, accountOf(request).displayName, new Date()),
  )

  app.get(
    '/api/plant/corrections',
    { config: { access: EVERYBODY }, schema: { response: answers(corrections) } },
    listCorrections,
  )

  app.post(
    '/api/plant/corrections',
    { config: { access: RECORDS }, schema: { body: newCorrection, response: answers(plantRecord) } },
    (request) => correctRecord(request.body, accountOf(request).displayName, new Date()),
  )

  app.get(
    '/api/plant/findings',
    { config: { access: EVERYBODY }, schema: { response: answers(recordFindings) } },
    openFindings,
  )
}

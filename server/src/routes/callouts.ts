import {
  batchOutcome,
  callout,
  calloutEdit,
  id,
  newCallout,
  newObservation,
  observation,
  observationBatch,
} from '@cold-thread/contract'
import { z } from 'zod'
import { checkEntry, checkOwner, checkSheetEntry } from '../checkEntry.ts'
import { toAppError } from '../errors.ts'
import { accountOf, EVERYBODY, FIELD } from '../plugins/access.ts'
import { addCallout, editCallout, findCallout, listCallouts, requireCallout } from '../stores/callouts.ts'
import { addObservation, listObservations } from '../stores/observations.ts'
import { requirePlant } from '../stores/plants.ts'
import { practiceFor } from '../practice.ts'
import { answers, type App } from './schema.ts'

const ofCallout = z.object({ id })

export function calloutRoutes(app: App): void {
  app.get('/api/callouts', { config: { access: EVERYBODY }, schema: { response: answers(z.array(callout)) } }, () =>
    listCallouts(),
  )

  app.get(
    '/api/callouts/:id',
    { config: { access: EVERYBODY }, schema: { params: ofCallout, response: answers(callout) } },
    (request) => findCallout(request.params.id),
  )

  app.put(
    '/api/callouts/:id',
    { config: { access: FIELD }, schema: { params: ofCallout, body: newCallout, response: answers(callout) } },
    async (request) => {
      const practice = practiceFor(await requirePlant(), request.body)
      return addCallout(request.params.id, request.body, practice, accountOf(request).displayName, new Date())
    },
  )

  app.patch(
    '/api/callouts/:id',
    { config: { access: FIELD }, schema: { params: ofCallout, body: calloutEdit, response: answers(callout) } },
    (request) => editCallout(request.params.id, request.body),
  )

  app.get(
    '/api/callouts/:id/observations',
    { config: { access: EVERYBODY }, schema: { params: ofCallout, response: answers(z.array(observation)) } },
    async (request) => listObservations((await requireCallout(request.params.id)).id),
  )

  app.put(
    '/api/callouts/:id/observations',
    {
      config: { access: FIELD },
      schema: { params: z.object({ id }), body: observationBatch, response: answers(batchOutcome) },
    },
    async (request) => {
      const calloutId = request.params.id
      const [{ linkId }, plant] = await Promise.all([requireCallout(calloutId), requirePlant()])
      const account = accountOf(request)
      const outcomes: z.infer<typeof batchOutcome> = []
      for (const { id: observationId, ...entry } of request.body) {
        try {
          checkEntry(plant, linkId, entry.entry)
          await checkSheetEntry(calloutId, entry.entry, account)
          await checkOwner(calloutId, entry.entry)
          await addObservation(calloutId, observationId, entry, account.displayName, new Date())
          outcomes.push({ id: observationId, refused: null })
        } catch (error) {
          // What is refused is told beside what is taken; anything else is nobody's fault, and all are sent again.
          const known = toAppError(error)
          if (!known || known.status >= 500) throw error
          outcomes.push({ id: observationId, refused: known.body() })
        }
      }
      if (request.body.some(({ entry }) => entry.kind === 'session-end'))
        request.changed = { calloutId, change: 'session-end' }
      return outcomes
    },
  )

  app.put(
    '/api/callouts/:id/observations/:observationId',
    {
      config: { access: FIELD },
      schema: { params: z.object({ id, observationId: id }), body: newObservation, response: answers(observation) },
    },
    async (request) => {
      const { id: calloutId, observationId } = request.params
      const [{ linkId }, plant] = await Promise.all([requireCallout(calloutId), requirePlant()])
      const account = accountOf(request)
      checkEntry(plant, linkId, request.body.entry)
      await checkSheetEntry(calloutId, request.body.entry, account)
      await checkOwner(calloutId, request.body.entry)
      if (request.body.entry.kind === 'session-end') request.changed = { calloutId, change: 'session-end' }
      return addObservation(calloutId, observationId, request.body, account.displayName, new Date())
    },
  )
}

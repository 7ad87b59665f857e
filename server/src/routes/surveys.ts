import { cableProofRecord, cableSurvey, id, surveyReading, surveyRole, surveyUpload } from '@cold-thread/contract'
import { isCableStep, type Link, type PlantBundle } from '@cold-thread/core/plant'
import { linkOfFiber } from '@cold-thread/core/prove'
import { MAX_FILE_BYTES } from '@cold-thread/core/trace'
import { createHash } from 'node:crypto'
import { z } from 'zod'
import type { CableProofs } from '../cableProofs.ts'
import { AppError } from '../errors.ts'
import type { JobPool } from '../jobs/pool.ts'
import { accountOf, EVERYBODY, FIELD } from '../plugins/access.ts'
import { requireCallout, requireOpen } from '../stores/callouts.ts'
import { requirePlant } from '../stores/plants.ts'
import { addSurveyTrace, surveyReadings, withdrawSurvey } from '../stores/surveys.ts'
import { storedBaselines } from '../stores/traces.ts'
import { bodyOf } from './body.ts'
import { answers, type App } from './schema.ts'

const ofCallout = z.object({ id })

/** Cable surveys: the traces of many fibers of the cable in which a callout's link begins. */
export function surveyRoutes(app: App, jobs: JobPool, proofs: CableProofs): void {
  app.get(
    '/api/callouts/:id/survey',
    { config: { access: EVERYBODY }, schema: { params: ofCallout, response: answers(cableSurvey.nullable()) } },
    async (request) => {
      const { linkId } = await requireCallout(request.params.id)
      const readings = await surveyReadings(request.params.id)
      if (readings.length === 0) return null
      const plant = await requirePlant()
      return jobs.run('survey', {
        plant,
        linkId,
        cableId: firstCable(plant, linkId),
        readings: readings.map(({ reading }) => reading),
        baselines: await storedBaselines(linkId),
      })
    },
  )

  app.put(
    '/api/callouts/:id/survey/:traceId',
    {
      config: { access: FIELD },
      bodyLimit: MAX_FILE_BYTES,
      schema: { params: z.object({ id, traceId: id }), querystring: surveyUpload, response: answers(surveyReading) },
    },
    async (request) => {
      const { id: calloutId, traceId } = request.params
      const { linkId } = await requireOpen(calloutId)
      const { fileName, fiber, direction, role, launchCord, receiveCord } = request.query
      const content = bodyOf(request.body)
      const plant = await requirePlant()
      const cable = plant.cables.find((candidate) => candidate.id === firstCable(plant, linkId))!
      if (fiber > cable.fiberCount)
        throw new AppError(
          'invalid-request',
          `cable ${cable.id} has ${cable.fiberCount} fibers, none ${fiber}`,
          'fiber',
        )
      const own = linkOfFiber(plant, linkById(plant, linkId), fiber)
      const reading = await jobs.run('readFiber', {
        plant,
        linkId,
        fiber,
        present: { name: fileName, direction, launch: launchCord ?? null, receive: receiveCord ?? null, content },
        baselines: own.recorded && role === 'present' ? await storedBaselines(own.link.id) : [],
      })
      return addSurveyTrace({
        id: traceId,
        calloutId,
        role,
        fiber,
        launchCord: launchCord ?? null,
        receiveCord: receiveCord ?? null,
        direction,
        fileName,
        sha256: createHash('sha256').update(content).digest('hex'),
        content,
        reading,
        addedAt: new Date(),
        addedBy: accountOf(request).displayName,
      })
    },
  )

  app.get(
    '/api/callouts/:id/cable-proof',
    { config: { access: EVERYBODY }, schema: { params: ofCallout, response: answers(cableProofRecord.nullable()) } },
    (request) => proofs(request.params.id),
  )

  app.delete(
    '/api/callouts/:id/survey',
    {
      config: { access: FIELD },
      schema: { params: ofCallout, querystring: z.object({ role: surveyRole }), response: answers(z.null()) },
    },
    async (request) => {
      await withdrawSurvey(request.params.id, request.query.role, accountOf(request).displayName, new Date())
      return null
    },
  )
}

function cablesOf(link: Link): string[] {
  return link.path.filter(isCableStep).map((step) => step.cable)
}

function linkById(plant: PlantBundle, linkId: string): Link {
  const link = plant.links.find((candidate) => candidate.id === linkId)
  if (!link) throw new AppError('not-found', `there is no link "${linkId}"`)
  return link
}

function firstCable(plant: PlantBundle, linkId: string): string {
  return cablesOf(linkById(plant, linkId))[0]!
}

import {
  id,
  shotStages,
  simulatedShot,
  traceRecord,
  traceUpload,
  watchedShot,
  type WatchedShot,
} from '@cold-thread/contract'
import { MAX_FILE_BYTES } from '@cold-thread/core/trace'
import { createHash } from 'node:crypto'
import { z } from 'zod'
import { AppError } from '../errors.ts'
import type { JobPool } from '../jobs/pool.ts'
import type { SimulateTask } from '../jobs/tasks.ts'
import { accountOf, EVERYBODY, FIELD, FIELD_AND_RECORDS, RECORDS } from '../plugins/access.ts'
import { requireCallout, requireOpen } from '../stores/callouts.ts'
import { requirePlant } from '../stores/plants.ts'
import { closedAtOf } from '../stores/signOffs.ts'
import { addTrace, baselinesOf, traceContent, tracesOf, withdrawTrace, type NewTrace } from '../stores/traces.ts'
import { bodyOf, sendFile } from './body.ts'
import { answers, type App } from './schema.ts'

const ofCallout = z.object({ id })

export function traceRoutes(app: App, jobs: JobPool): void {
  const keep = async (
    content: Uint8Array,
    facts: Omit<NewTrace, 'content' | 'sha256' | 'byteCount' | 'facts' | 'warnings'>,
  ) => {
    const inspected = await jobs.run('inspect', content)
    const sha256 = createHash('sha256').update(content).digest('hex')
    return addTrace({ ...facts, ...inspected, sha256, byteCount: content.length, content: Buffer.from(content) })
  }

  app.get(
    '/api/callouts/:id/traces',
    { config: { access: EVERYBODY }, schema: { params: ofCallout, response: answers(z.array(traceRecord)) } },
    async (request) => {
      const callout = await requireCallout(request.params.id)
      return tracesOf(callout.id, callout.linkId, await closedAtOf(callout.id))
    },
  )

  app.put(
    '/api/callouts/:id/traces/:traceId',
    {
      config: { access: FIELD },
      bodyLimit: MAX_FILE_BYTES,
      schema: { params: z.object({ id, traceId: id }), querystring: traceUpload, response: answers(traceRecord) },
    },
    async (request) => {
      const { linkId } = await requireCallout(request.params.id)
      const { fileName, role, direction, launchCord, receiveCord } = request.query
      if (role === 'baseline')
        throw new AppError('invalid-request', 'a baseline is added to its link, not to a callout', 'role')
      return keep(bodyOf(request.body), {
        id: request.params.traceId,
        calloutId: request.params.id,
        linkId,
        fileName,
        role,
        direction,
        launchCord: launchCord ?? null,
        receiveCord: receiveCord ?? null,
        simulated: false,
        addedAt: new Date(),
        addedBy: accountOf(request).displayName,
      })
    },
  )

  app.get(
    '/api/links/:linkId/baselines',
    {
      config: { access: EVERYBODY },
      schema: { params: z.object({ linkId: z.string() }), response: answers(z.array(traceRecord)) },
    },
    (request) => baselinesOf(request.params.linkId),
  )

  app.put(
    '/api/links/:linkId/baselines/:traceId',
    {
      config: { access: RECORDS },
      bodyLimit: MAX_FILE_BYTES,
      schema: {
        params: z.object({ linkId: z.string(), traceId: id }),
        querystring: traceUpload,
        response: answers(traceRecord),
      },
    },
    async (request) => {
      const { linkId, traceId } = request.params
      const plant = await requirePlant()
      if (!plant.links.some((link) => link.id === linkId))
        throw new AppError('not-found', `there is no link "${linkId}"`, 'linkId')
      const { fileName, direction, launchCord, receiveCord } = request.query
      return keep(bodyOf(request.body), {
        id: traceId,
        calloutId: null,
        linkId,
        fileName,
        role: 'baseline',
        direction,
        launchCord: launchCord ?? null,
        receiveCord: receiveCord ?? null,
        simulated: false,
        addedAt: new Date(),
        addedBy: accountOf(request).displayName,
      })
    },
  )

  /** A shot of a practice callout's link; its noise comes from its id, so that watching and keeping show the same. */
  const shotOf = async (calloutId: string, traceId: string, shot: WatchedShot, now: Date) => {
    const { linkId, practice } = await requireOpen(calloutId)
    if (!practice) throw new AppError('cannot-compute', 'only a practice callout has a simulated link to shoot')
    const { role, direction, wavelength, pulseWidth, minutes } = shot
    const task: SimulateTask = {
      plant: await requirePlant(),
      linkId,
      damages: practice.damages,
      role,
      direction,
      wavelength,
      pulseWidth,
      minutes,
      takenAt: now.toISOString(),
      shotSeed: Number.parseInt(traceId.slice(-8), 16) | 0,
    }
    return { linkId, task }
  }

  app.get(
    '/api/callouts/:id/shots/:traceId',
    {
      config: { access: FIELD },
      schema: { params: z.object({ id, traceId: id }), querystring: watchedShot, response: answers(shotStages) },
    },
    async (request) => {
      const { task } = await shotOf(request.params.id, request.params.traceId, request.query, new Date())
      return jobs.run('watch', task)
    },
  )

  app.put(
    '/api/callouts/:id/shots/:traceId',
    {
      config: { access: FIELD },
      schema: { params: z.object({ id, traceId: id }), body: simulatedShot, response: answers(traceRecord) },
    },
    async (request) => {
      const { id: calloutId, traceId } = request.params
      const { role, direction, wavelength, stopAt } = request.body
      const now = new Date()
      const { linkId, task } = await shotOf(calloutId, traceId, request.body, now)
      const { content, launch, receive } = await jobs.run('simulate', { ...task, stopAt })
      return keep(content, {
        id: traceId,
        calloutId,
        linkId,
        fileName: `${linkId}-${role}-${direction}-${wavelength}.sor`,
        role,
        direction,
        launchCord: launch,
        receiveCord: receive,
        simulated: true,
        addedAt: now,
        addedBy: accountOf(request).displayName,
      })
    },
  )

  app.get(
    '/api/traces/:traceId/file',
    { config: { access: EVERYBODY }, schema: { params: z.object({ traceId: id }) } },
    async (request, reply) => {
      const { content, fileName } = await traceContent(request.params.traceId)
      return sendFile(reply, content, fileName, 'application/octet-stream')
    },
  )

  app.delete(
    '/api/traces/:traceId',
    {
      config: { access: FIELD_AND_RECORDS },
      schema: { params: z.object({ traceId: id }), response: answers(traceRecord) },
    },
    async (request) => {
      const trace = await withdrawTrace(request.params.traceId, accountOf(request).displayName, new Date())
      if (trace.calloutId !== null) request.changed = { calloutId: trace.calloutId, change: 'traces' }
      return trace
    },
  )
}

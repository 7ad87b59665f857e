import { receivedPowersOf, trunkTestsOf } from '@cold-thread/core/prove'
import {
  asBuiltChanges,
  callout,
  id,
  lossBaseline,
  madeCheck,
  MAX_CALLOUT_BYTES,
  newSignOff,
  signOff,
  verdictRecord,
} from '@cold-thread/contract'
import { asRepaired } from '@cold-thread/core/trace'
import { zipSync } from 'fflate'
import Papa from 'papaparse'
import { z } from 'zod'
import { closeCallout, closingChanges, promotable, recordedChanges } from '../close.ts'
import { AppError } from '../errors.ts'
import type { JobPool } from '../jobs/pool.ts'
import { accountOf, EVERYBODY, LEADS, RECORDS } from '../plugins/access.ts'
import { evidenceOn, lossesOf, verdictOn } from '../proof.ts'
import { readingsTable } from '../readings.ts'
import { PAPERS } from '../report/calloutReport.ts'
import { gatherEvidence } from '../report/evidence.ts'
import { readCallout, writeCallout } from '../calloutZip.ts'
import { findCallout, requireOpen } from '../stores/callouts.ts'
import { listObservations } from '../stores/observations.ts'
import { requirePlant } from '../stores/plants.ts'
import { lossBaselinesFor } from '../stores/lossBaselines.ts'
import { signOffOf } from '../stores/signOffs.ts'
import { sourceChecksElsewhere } from '../stores/sourceChecks.ts'
import { bodyOf } from './body.ts'
import { answers, type App } from './schema.ts'

const ofCallout = z.object({ id })
const rulesQuery = z.object({ rules: z.string().max(60).optional() })

export function proofRoutes(app: App, jobs: JobPool): void {
  app.get(
    '/api/callouts/:id/verdict',
    {
      config: { access: EVERYBODY },
      schema: { params: ofCallout, querystring: rulesQuery, response: answers(verdictRecord) },
    },
    (request) => verdictOn(request.params.id, jobs, request.query.rules),
  )

  app.get(
    '/api/callouts/:id/loss-baselines',
    { config: { access: EVERYBODY }, schema: { params: ofCallout, response: answers(z.array(lossBaseline)) } },
    (request) => lossBaselinesFor(request.params.id),
  )

  app.get(
    '/api/callouts/:id/source-checks',
    { config: { access: EVERYBODY }, schema: { params: ofCallout, response: answers(z.array(madeCheck)) } },
    (request) => sourceChecksElsewhere(request.params.id),
  )

  app.get(
    '/api/callouts/:id/sign-off',
    { config: { access: EVERYBODY }, schema: { params: ofCallout, response: answers(signOff.nullable()) } },
    (request) => signOffOf(request.params.id),
  )

  app.put(
    '/api/callouts/:id/sign-off/:signOffId',
    {
      config: { access: LEADS },
      schema: { params: z.object({ id, signOffId: id }), body: newSignOff, response: answers(signOff) },
    },
    async (request) => {
      const { id: calloutId, signOffId } = request.params
      const existing = await signOffOf(calloutId)
      if (existing?.id === signOffId) return existing
      await requireOpen(calloutId)
      const others = await promotable(calloutId, jobs)
      const { proof, evidence } = await verdictOn(calloutId, jobs, request.body.rules)
      if (evidence !== request.body.evidence) throw new AppError('evidence-changed')
      if (proof.verdict !== 'restored' && proof.verdict !== 'restored-with-remarks')
        throw new AppError('not-proved', `the verdict is "${proof.verdict}": ${proof.reasons[0] ?? ''}`)
      const { remark, cause } = request.body
      return closeCallout(
        { id: signOffId, calloutId, by: accountOf(request).displayName, evidence, remark, cause, proof },
        new Date(),
        others,
      )
    },
  )

  app.get(
    '/api/callouts/:id/as-built',
    { config: { access: EVERYBODY }, schema: { params: ofCallout, response: answers(asBuiltChanges) } },
    async (request) => {
      const signOff = await signOffOf(request.params.id)
      if (signOff) return recordedChanges(signOff)
      const { proof } = await verdictOn(request.params.id, jobs)
      return closingChanges(request.params.id, proof.added)
    },
  )

  app.get(
    '/api/callouts/:id/report.pdf',
    {
      config: { access: EVERYBODY },
      schema: {
        params: ofCallout,
        querystring: z.object({ paper: z.enum(PAPERS).default('A4'), as: z.enum(['file', 'page']).default('file') }),
      },
    },
    async (request, reply) => {
      const evidence = await gatherEvidence(request.params.id, jobs)
      return reply
        .header('content-type', 'application/pdf')
        .header(
          'content-disposition',
          `${request.query.as === 'page' ? 'inline' : 'attachment'}; filename="report-${request.params.id}.pdf"`,
        )
        .send(Buffer.from(await jobs.run('report', { evidence, paper: request.query.paper })))
    },
  )

  app.get(
    '/api/callouts/:id/callout.zip',
    { config: { access: EVERYBODY }, schema: { params: ofCallout } },
    async (request, reply) =>
      reply
        .header('content-type', 'application/zip')
        .header('content-disposition', `attachment; filename="callout-${request.params.id}.zip"`)
        .send(Buffer.from(await writeCallout(request.params.id))),
  )

  app.get(
    '/api/callouts/:id/repaired.zip',
    { config: { access: EVERYBODY }, schema: { params: ofCallout } },
    async (request, reply) => {
      const { after } = await evidenceOn(request.params.id)
      if (after.length === 0) throw new AppError('not-found', 'no trace was taken after the repair')
      const files = Object.fromEntries(after.map(({ fileName, content }) => [fileName, asRepaired(content)]))
      return reply
        .header('content-type', 'application/zip')
        .header('content-disposition', `attachment; filename="repaired-${request.params.id}.zip"`)
        .send(Buffer.from(zipSync(files)))
    },
  )

  app.post(
    '/api/callouts',
    {
      config: { access: RECORDS },
      bodyLimit: MAX_CALLOUT_BYTES,
      schema: { response: answers(callout) },
    },
    async (request) => findCallout(await readCallout(bodyOf(request.body), accountOf(request).displayName, new Date())),
  )

  app.get(
    '/api/callouts/:id/readings.csv',
    { config: { access: EVERYBODY }, schema: { params: ofCallout, querystring: rulesQuery } },
    async (request, reply) => {
      const { id: calloutId } = request.params
      const { linkId } = await findCallout(calloutId)
      const { proof } = (await signOffOf(calloutId)) ?? (await verdictOn(calloutId, jobs, request.query.rules))
      const [plant, log, baselines] = await Promise.all([
        requirePlant(),
        listObservations(calloutId),
        lossBaselinesFor(calloutId),
      ])
      const table = readingsTable({
        proof,
        losses: lossesOf(plant, linkId, log, baselines),
        trunks: trunkTestsOf(log),
        received: receivedPowersOf(log),
        plant,
      })
      return reply
        .header('content-type', 'text/csv; charset=utf-8')
        .header('content-disposition', `attachment; filename="readings-${calloutId}.csv"`)
        .send(Papa.unparse(table) + '\r\n')
    },
  )
}

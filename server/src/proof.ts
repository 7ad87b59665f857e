import type { Observation, VerdictRecord } from '@cold-thread/contract'
import type { PlantBundle } from '@cold-thread/core/plant'
import {
  continuitiesOf,
  judgeLosses,
  lossTestsOf,
  newJointsIn,
  receivedPowersOf,
  trunkTestsOf,
  workOn,
  type LossBaseline,
  type LossFigure,
} from '@cold-thread/core/prove'
import { createHash } from 'node:crypto'
import { fibersBeside } from './cableProofs.ts'
import { AppError } from './errors.ts'
import { TraceRow, WithdrawalRow } from './db/models.ts'
import type { JobPool } from './jobs/pool.ts'
import { lossBaselinesFor } from './stores/lossBaselines.ts'
import { findCallout } from './stores/callouts.ts'
import { listObservations } from './stores/observations.ts'
import { requirePlant } from './stores/plants.ts'
import { latest, toStoredShot } from './stores/traces.ts'

/**
 * The verdict on a callout, computed by the server from what is stored, with a hash over all evidence it rests on:
 * plant version aside, every trace's hash and every log entry.
 */
export async function verdictOn(calloutId: string, jobs: JobPool, rules?: string): Promise<VerdictRecord> {
  const { plant, link, baseline, after, present, observations } = await evidenceOn(calloutId)
  const [beside, lossBaselines] = await Promise.all([fibersBeside(calloutId), lossBaselinesFor(calloutId)])
  const proof = await jobs.run('prove', {
    plant,
    linkId: link.id,
    baseline: baseline.map(toStoredShot),
    after: after.map(toStoredShot),
    present: latest(present).map(toStoredShot),
    work: workOn(link, observations),
    losses: lossesOf(plant, link.id, observations, lossBaselines),
    received: receivedPowersOf(observations),
    continuity: continuitiesOf(observations),
    trunks: trunkTestsOf(observations),
    fibers: beside?.fibers ?? null,
    rules,
  })
  const hash = createHash('sha256')
  for (const row of [...baseline, ...present, ...after]) hash.update(`trace ${row.id} ${row.sha256}\n`)
  if (beside) hash.update(`fibers ${beside.hash}\n`)
  if (lossBaselines.length > 0) hash.update(`loss baselines ${JSON.stringify(lossBaselines)}\n`)
  // A signature is over what is there, not over itself.
  for (const entry of observations.filter(({ entry: { kind } }) => kind !== 'provisional-sign-off'))
    hash.update(`entry ${entry.id} ${JSON.stringify(entry.entry)}\n`)
  hash.update(`verdict ${proof.verdict} by ${proof.rules.name} ${proof.rules.version}\n`)
  return { proof, evidence: hash.digest('hex') }
}

/** What is stored of a callout that its verdict rests on: the traces that stand, the log, the record. */
export async function evidenceOn(calloutId: string) {
  const callout = await findCallout(calloutId)
  const [plant, traces, withdrawn, observations] = await Promise.all([
    requirePlant(),
    TraceRow.findAll({
      where: { linkId: callout.linkId },
      order: [
        ['addedAt', 'ASC'],
        ['id', 'ASC'],
      ],
    }),
    WithdrawalRow.findAll(),
    listObservations(calloutId),
  ])
  const link = plant.links.find(({ id }) => id === callout.linkId)
  if (!link) throw new AppError('cannot-compute', `the plant record has no link “${callout.linkId}” any more`, 'linkId')
  const gone = new Set(withdrawn.map((row) => row.traceId))
  const standing = traces.filter((row) => !gone.has(row.id))
  const own = standing.filter((row) => row.calloutId === calloutId)
  const ownBaselines = own.filter((row) => row.role === 'baseline')
  const baselines = standing.filter(
    (row) =>
      row.role === 'baseline' &&
      row.calloutId === null &&
      (callout.closedAt === null || row.addedAt < new Date(callout.closedAt)),
  )
  return {
    plant,
    link,
    callout,
    observations,
    baseline: latest(ownBaselines.length > 0 ? ownBaselines : baselines),
    after: latest(own.filter((row) => row.role === 'after')),
    present: own.filter((row) => row.role === 'present'),
  }
}

/** What the loss tests of a callout's log come to; a repair's new joints count in its link's budget. */
export function lossesOf(
  plant: PlantBundle,
  linkId: string,
  log: readonly Observation[],
  baselines: readonly LossBaseline[],
): LossFigure[] {
  return judgeLosses(plant, lossTestsOf(log).readings, { [linkId]: newJointsIn(log).length }, baselines)
}

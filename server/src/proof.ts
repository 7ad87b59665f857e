import type { Observation, VerdictRecord } from '@cold-thread/contract'
import type { PlantBundle } from '@cold-thread/core/plant'
import {
  judgeLosses,
  lossTestsOf,
  newJointsIn,
  receivedPowersOf,
  trunkTestsOf,
  workOn,
  type LossFigure,
} from '@cold-thread/core/prove'
import { createHash } from 'node:crypto'
import { TraceRow, WithdrawalRow } from './db/models.ts'
import type { JobPool } from './jobs/pool.ts'
import { findCallout } from './stores/callouts.ts'
import { listObservations } from './stores/observations.ts'
import { requirePlant } from './stores/plants.ts'
import { toStoredShot } from './stores/traces.ts'

/**
 * The verdict on a callout, computed by the server from what is stored, with a hash over all evidence it rests on:
 * plant version aside, every trace's hash and every log entry.
 */
export async function verdictOn(calloutId: string, jobs: JobPool, rules?: string): Promise<VerdictRecord> {
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
  const gone = new Set(withdrawn.map((row) => row.traceId))
  const standing = traces.filter((row) => !gone.has(row.id))
  const baselines = standing.filter((row) => row.role === 'baseline')
  const ownBaselines = baselines.filter((row) => row.calloutId === calloutId)
  const baseline = latest(ownBaselines.length > 0 ? ownBaselines : baselines.filter((row) => row.calloutId === null))
  const after = latest(standing.filter((row) => row.role === 'after' && row.calloutId === calloutId))
  const present = standing.filter((row) => row.role === 'present' && row.calloutId === calloutId)
  const link = plant.links.find(({ id }) => id === callout.linkId)!
  const proof = await jobs.run('prove', {
    plant,
    linkId: callout.linkId,
    baseline: baseline.map(toStoredShot),
    after: after.map(toStoredShot),
    work: workOn(link, observations),
    present: latest(present).map(toStoredShot),
    losses: lossesOf(plant, callout.linkId, observations),
    received: receivedPowersOf(observations),
    trunks: trunkTestsOf(observations),
    rules,
  })
  const hash = createHash('sha256')
  for (const row of [...baseline, ...present, ...after]) hash.update(`trace ${row.id} ${row.sha256}\n`)
  for (const entry of observations) hash.update(`entry ${entry.id} ${JSON.stringify(entry.entry)}\n`)
  hash.update(`verdict ${proof.verdict} by ${proof.rules.name} ${proof.rules.version}\n`)
  return { proof, evidence: hash.digest('hex') }
}

/** What the loss tests of a callout's log come to; a repair's new joints count in its link's budget. */
export function lossesOf(plant: PlantBundle, linkId: string, log: readonly Observation[]): LossFigure[] {
  return judgeLosses(plant, lossTestsOf(log).readings, { [linkId]: newJointsIn(log).length })
}

/** A later trace of the same direction and wavelength replaces an earlier one. */
function latest(rows: readonly TraceRow[]): TraceRow[] {
  return [...new Map(rows.map((row) => [`${row.direction} ${row.facts.wavelength}`, row])).values()]
}

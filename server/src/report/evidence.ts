import type { TraceRecord } from '@cold-thread/contract'
import {
  followUps,
  lossTestsOf,
  receivedPowersOf,
  ruleBook,
  sourceChecksOf,
  trunkTestsOf,
  turnedReadingsOf,
} from '@cold-thread/core/prove'
import { provedFibers } from '../cableProofs.ts'
import type { JobPool } from '../jobs/pool.ts'
import { evidenceOn, lossesOf, verdictOn } from '../proof.ts'
import { findCallout } from '../stores/callouts.ts'
import { currentKit } from '../stores/kits.ts'
import { listObservations } from '../stores/observations.ts'
import { lossBaselinesFor } from '../stores/lossBaselines.ts'
import { sourceChecksElsewhere } from '../stores/sourceChecks.ts'
import { listPlans } from '../stores/plans.ts'
import { plantBefore, requirePlant } from '../stores/plants.ts'
import { signOffOf } from '../stores/signOffs.ts'
import { latest, toStoredShot, traceContent, tracesOf } from '../stores/traces.ts'
import type { ReportEvidence, ReportTrace } from './reportEvidence.ts'

/**
 * Gathers what is stored about a callout; the verdict is the signed one, or the server's own of now.
 * @throws AppError for a callout that there is not
 */
export async function gatherEvidence(calloutId: string, jobs: JobPool): Promise<ReportEvidence> {
  const callout = await findCallout(calloutId)
  const [plant, signOff, observations, records, kit, plans] = await Promise.all([
    requirePlant(),
    signOffOf(calloutId),
    listObservations(calloutId),
    tracesOf(calloutId, callout.linkId, callout.closedAt),
    currentKit(),
    listPlans(calloutId),
  ])
  const { proof, evidence } = signOff ?? (await verdictOn(calloutId, jobs))
  const log = observations.filter(({ superseded }) => !superseded)
  const { references } = lossTestsOf(observations)
  const kept = latestOfRole(records.filter(({ withdrawn, role }) => !withdrawn && role !== 'present'))
  const traces: ReportTrace[] = []
  for (const record of kept) {
    const { content } = await traceContent(record.id)
    traces.push({ record, points: await jobs.run('outline', { content }) })
  }
  const used = new Set(
    log.flatMap(({ entry }) =>
      entry.kind === 'splice-session'
        ? [entry.setup.splicer, entry.setup.cleaver]
        : entry.kind === 'loss-reference'
          ? [entry.source, entry.meter]
          : entry.kind === 'source-check'
            ? [entry.check.source, entry.check.meter]
            : [],
    ),
  )
  return {
    callout,
    plant,
    link: plant.links.find(({ id }) => id === callout.linkId)!,
    proof,
    evidence,
    signOff,
    log,
    located: await locatedBy(calloutId, callout.closedAt, jobs),
    traces,
    checks: sourceChecksOf(observations, await sourceChecksElsewhere(calloutId)).filter(({ own }) => own),
    received: receivedPowersOf(observations).filter((power) => power.link === callout.linkId),
    trunks: trunkTestsOf(observations),
    references,
    turned: turnedReadingsOf(observations),
    losses: lossesOf(plant, callout.linkId, observations, await lossBaselinesFor(calloutId)),
    fibers: await provedFibers(calloutId),
    left: followUps({
      proof,
      log: observations,
      optionIds: plans[0]?.content.optionIds ?? [],
      kit: kit.kit,
      now: signOff?.at ?? new Date().toISOString(),
    }),
    instruments: kit.kit.items.filter(({ id }) => used.has(id)),
    rules: ruleBook(proof.rules.name),
  }
}

/** A later trace of the same role, direction and wavelength replaces an earlier one; a callout's own baseline the plant's. */
function latestOfRole(records: readonly TraceRecord[]): TraceRecord[] {
  const order = [...records].sort((a, b) => Number(a.calloutId !== null) - Number(b.calloutId !== null))
  return [...new Map(order.map((one) => [`${one.role} ${one.direction} ${one.facts.wavelength}`, one])).values()]
}

/** The fault's place by its own traces and what people saw, on the record as it was then. */
async function locatedBy(calloutId: string, closedAt: string | null, jobs: JobPool): Promise<string | null> {
  const { link, baseline, present, observations } = await evidenceOn(calloutId)
  if (present.length === 0) return null
  const evidence = observations.flatMap(({ entry, superseded }) =>
    entry.kind === 'evidence' && !superseded ? [entry.evidence] : [],
  )
  return jobs.run('located', {
    plant: await plantBefore(closedAt),
    linkId: link.id,
    baseline: baseline.map(toStoredShot),
    present: latest(present).map(toStoredShot),
    evidence,
  })
}

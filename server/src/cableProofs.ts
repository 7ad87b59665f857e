import type { CableProofRecord } from '@cold-thread/contract'
import { isCableStep, type Link, type PlantBundle } from '@cold-thread/core/plant'
import {
  linkOfFiber,
  proveCable,
  recordedLinks,
  workOn,
  type CableProof,
  type FiberProof,
  type OtherFibers,
  type Verdict,
} from '@cold-thread/core/prove'
import { createHash } from 'node:crypto'
import { Op } from 'sequelize'
import { CableProofRow, SurveyRow, TraceRow, WithdrawalRow } from './db/models.ts'
import { AppError } from './errors.ts'
import type { JobPool } from './jobs/pool.ts'
import { findCallout } from './stores/callouts.ts'
import { listObservations } from './stores/observations.ts'
import { requirePlant } from './stores/plants.ts'
import { surveyRows } from './stores/surveys.ts'
import { latest, toStoredShot } from './stores/traces.ts'

/** Fibers that are on their way to the pool at a time: other work comes between them. */
const IN_FLIGHT = 3
/** Callouts whose unfinished judging is kept. */
const KEPT = 4

/**
 * Verdicts on every fiber of a cable, as far as they are judged in the background; asking begins it or goes on with it.
 * Null where no fiber was shot after the repair.
 */
export type CableProofs = (calloutId: string) => Promise<CableProofRecord | null>

/** Judging that is under way. */
interface Run {
  evidence: string
  of: number
  fibers: FiberProof[]
  error: unknown
  stopped: boolean
}

/** What stands of a callout's fibers after the repair. */
interface Evidence {
  plant: PlantBundle
  link: Link
  cable: PlantBundle['cables'][number]
  /** Files of each fiber. */
  files: Map<number, string[]>
  /** Baselines of each recorded link. */
  baselines: Map<string, string[]>
  log: Awaited<ReturnType<typeof listObservations>>
  hash: string
  closed: boolean
}

export function createCableProofs(jobs: JobPool): CableProofs {
  const runs = new Map<string, Run>()

  const begin = (calloutId: string, evidence: Evidence): Run => {
    const known = runs.get(calloutId)
    if (known) known.stopped = true
    const run: Run = {
      evidence: evidence.hash,
      of: evidence.files.size,
      fibers: [],
      error: null,
      stopped: false,
    }
    runs.delete(calloutId)
    runs.set(calloutId, run)
    for (const [id, one] of [...runs].slice(0, Math.max(0, runs.size - KEPT))) {
      one.stopped = true
      runs.delete(id)
    }
    judgeAll(run, evidence, jobs)
      .then(async () => {
        if (run.stopped) return
        await CableProofRow.upsert({
          calloutId,
          evidence: run.evidence,
          proof: proveCable(evidence.cable, run.fibers),
        })
        runs.delete(calloutId)
      })
      .catch((error: unknown) => {
        run.error = error
      })
    return run
  }

  return async (calloutId) => {
    const evidence = await fibersAfter(calloutId)
    if (!evidence) return null
    const kept = await keptProof(calloutId, evidence)
    if (kept) return { done: kept.fibers.length, of: kept.fibers.length, proof: kept }
    const known = runs.get(calloutId)
    const run = known?.evidence === evidence.hash ? known : begin(calloutId, evidence)
    if (run.error !== null) {
      // Told once: asked again, it begins anew.
      runs.delete(calloutId)
      throw run.error
    }
    // All are judged when their proof is kept, and not a moment sooner: the link's own verdict reads what is kept.
    const done = Math.min(run.fibers.length, run.of - 1)
    return { done, of: run.of, proof: proveCable(evidence.cable, run.fibers) }
  }
}

/** The proof of what is stored now, if all of it is judged; a closed callout keeps the one that it was closed with. */
async function keptProof(calloutId: string, { hash, closed }: Evidence): Promise<CableProof | null> {
  const kept = await CableProofRow.findByPk(calloutId)
  return kept && (closed || kept.evidence === hash) ? kept.proof : null
}

/** Every fiber of a callout's cable for its report: how many were shot, and the proof once all of them are judged. */
export async function provedFibers(
  calloutId: string,
): Promise<{ cable: string; shot: number; proof: CableProof | null } | null> {
  const evidence = await fibersAfter(calloutId)
  if (!evidence) return null
  return { cable: evidence.cable.id, shot: evidence.files.size, proof: await keptProof(calloutId, evidence) }
}

/** What closing a callout makes the baseline of another link: the files that its fiber was shot with after the repair. */
export interface ProvedLink {
  link: Link
  /** Ids of survey files. */
  files: string[]
}

/** Other links on record whose fibers were shot and judged as restored; none while not all fibers are judged. */
export async function otherLinksProved(calloutId: string): Promise<ProvedLink[]> {
  const evidence = await fibersAfter(calloutId)
  const proof = evidence && (await keptProof(calloutId, evidence))
  if (!proof) return []
  const { plant, link, files } = evidence
  const restored = proof.fibers.flatMap(({ fiber, verdict }) =>
    verdict === 'restored' || verdict === 'restored-with-remarks' ? [fiber] : [],
  )
  return [...recordedLinks(plant, link, restored)].flatMap(([fiber, own]) =>
    own.id === link.id ? [] : [{ link: own, files: files.get(fiber) ?? [] }],
  )
}

/** The fibers of the cable as a callout's verdict takes them: judged, or shot and not judged yet. */
export async function fibersBeside(calloutId: string): Promise<{ fibers: OtherFibers; hash: string } | null> {
  const evidence = await fibersAfter(calloutId)
  if (!evidence) return null
  const judged = (await keptProof(calloutId, evidence))?.fibers
  const said = (word: Verdict) => judged?.flatMap(({ fiber, verdict }) => (verdict === word ? [fiber] : [])) ?? []
  return {
    hash: evidence.hash,
    fibers: {
      cable: evidence.cable.id,
      shot: evidence.files.size,
      judged: judged !== undefined,
      notRestored: said('not-restored'),
      cannotTell: said('cannot-tell'),
    },
  }
}

/** Judges each fiber in the pool, a few at a time, until all are or the run is stopped. */
async function judgeAll(run: Run, { plant, link, files, baselines, log }: Evidence, jobs: JobPool): Promise<void> {
  const open = [...files]
  const judge = async () => {
    for (let next = open.shift(); next && !run.stopped; next = open.shift()) {
      const [fiber, ids] = next
      const own = linkOfFiber(plant, link, fiber)
      const [after, before] = await Promise.all([
        SurveyRow.findAll({ where: { id: ids } }),
        TraceRow.findAll({ where: { id: baselines.get(own.link.id) ?? [] } }),
      ])
      run.fibers.push(
        await jobs.run('proveFiber', {
          plant,
          linkId: link.id,
          fiber,
          baseline: before.map(toStoredShot),
          after: after.map(toStoredShot),
          work: workOn(own.link, log),
        }),
      )
    }
  }
  await Promise.all(Array.from({ length: IN_FLIGHT }, judge))
}

/** What every fiber's verdict rests on, without the files' content; null where none was shot after the repair. */
async function fibersAfter(calloutId: string): Promise<Evidence | null> {
  const rows = await surveyRows(calloutId, 'after')
  if (rows.length === 0) return null
  const [callout, plant, log] = await Promise.all([findCallout(calloutId), requirePlant(), listObservations(calloutId)])
  const link = plant.links.find(({ id }) => id === callout.linkId)
  const first = link?.path.find(isCableStep)?.cable
  const cable = plant.cables.find(({ id }) => id === first)
  if (!link || !cable)
    throw new AppError('cannot-compute', `the plant record has no link “${callout.linkId}” any more`, 'linkId')
  const files = new Map<number, string[]>()
  for (const { fiber, id } of rows) files.set(fiber, [...(files.get(fiber) ?? []), id])
  const carried = [...recordedLinks(plant, link, files.keys()).values()].map(({ id }) => id)
  const baselines = await baselinesOf(carried, callout.closedAt)
  const joints = log.filter(({ entry, superseded }) => !superseded && ['splice', 'cleaning'].includes(entry.kind))
  const hash = createHash('sha256')
  hash.update(JSON.stringify([link, cable, plant.links.filter(({ id }) => carried.includes(id))]))
  hash.update(JSON.stringify([rows.map(({ id, sha256 }) => [id, sha256]), [...baselines]]))
  hash.update(JSON.stringify(joints.map(({ id, entry }) => [id, entry])))
  return { plant, link, cable, files, baselines, log, hash: hash.digest('hex'), closed: callout.closedAt !== null }
}

/** Baselines in force of many links. @param closedAt of a callout that keeps what it was held against */
async function baselinesOf(linkIds: readonly string[], closedAt: string | null): Promise<Map<string, string[]>> {
  const rows = await TraceRow.findAll({
    where: {
      linkId: [...linkIds],
      role: 'baseline',
      calloutId: null,
      ...(closedAt === null ? {} : { addedAt: { [Op.lt]: new Date(closedAt) } }),
    },
    attributes: { exclude: ['content'] },
    order: [
      ['addedAt', 'ASC'],
      ['id', 'ASC'],
    ],
  })
  const gone = new Set(
    (await WithdrawalRow.findAll({ where: { traceId: rows.map(({ id }) => id) } })).map(({ traceId }) => traceId),
  )
  const standing = rows.filter(({ id }) => !gone.has(id))
  return new Map(
    [...new Set(linkIds)].map((linkId) => [
      linkId,
      latest(standing.filter((row) => row.linkId === linkId)).map(({ id }) => id),
    ]),
  )
}

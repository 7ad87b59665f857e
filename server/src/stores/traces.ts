import type { TraceRecord } from '@cold-thread/contract'
import { Op, type InferCreationAttributes, type Transaction, type WhereOptions } from 'sequelize'
import { v7 as uuidv7 } from 'uuid'
import { TraceRow, WithdrawalRow, type SurveyRow } from '../db/models.ts'
import { AppError } from '../errors.ts'
import type { StoredShot } from '../jobs/data.ts'
import { requireOpen } from './callouts.ts'
import { createOnce } from './idempotent.ts'

const WITHOUT_CONTENT = { exclude: ['content'] }

async function toRecords(rows: readonly TraceRow[]): Promise<TraceRecord[]> {
  const withdrawn = await WithdrawalRow.findAll({ where: { traceId: rows.map((row) => row.id) } })
  const gone = new Set(withdrawn.map((row) => row.traceId))
  return rows.map((row) => ({
    id: row.id,
    linkId: row.linkId,
    calloutId: row.calloutId,
    role: row.role,
    direction: row.direction,
    launchCord: row.launchCord,
    receiveCord: row.receiveCord,
    fileName: row.fileName,
    bytes: row.byteCount,
    sha256: row.sha256,
    simulated: row.simulated,
    facts: row.facts,
    warnings: row.warnings,
    addedAt: row.addedAt.toISOString(),
    addedBy: row.addedBy,
    withdrawn: gone.has(row.id),
  }))
}

async function findRecords(where: WhereOptions): Promise<TraceRecord[]> {
  return toRecords(
    await TraceRow.findAll({
      where,
      attributes: WITHOUT_CONTENT,
      order: [
        ['addedAt', 'ASC'],
        ['id', 'ASC'],
      ],
    }),
  )
}

export function baselinesOf(linkId: string): Promise<TraceRecord[]> {
  return findRecords({ linkId, role: 'baseline', calloutId: null })
}

/**
 * The callout's own traces and its link's baselines.
 * @param closedAt null while it is open; a closed one keeps the baselines that it was held against
 */
export function tracesOf(calloutId: string, linkId: string, closedAt: string | null): Promise<TraceRecord[]> {
  const baselines = { linkId, role: 'baseline', calloutId: null }
  const then = closedAt === null ? {} : { addedAt: { [Op.lt]: new Date(closedAt) } }
  return findRecords({ [Op.or]: [{ calloutId }, { ...baselines, ...then }] })
}

/** A later trace of the same direction and wavelength replaces an earlier one; rows come in order of time. */
export function latest<T extends Pick<TraceRecord, 'direction' | 'facts'>>(rows: readonly T[]): T[] {
  return [...new Map(rows.map((row) => [`${row.direction} ${row.facts.wavelength}`, row])).values()]
}

/** A stored trace as the jobs take it. */
export function toStoredShot(
  row: Pick<TraceRow, 'fileName' | 'direction' | 'launchCord' | 'receiveCord' | 'content'>,
): StoredShot {
  return {
    name: row.fileName,
    direction: row.direction,
    launch: row.launchCord,
    receive: row.receiveCord,
    content: row.content,
  }
}

/** Files of the baselines in force of a link: of each direction and wavelength the last that stands. */
export async function storedBaselines(linkId: string): Promise<StoredShot[]> {
  const standing = (await baselinesOf(linkId)).filter((record) => !record.withdrawn)
  return (await TraceRow.findAll({ where: { id: latest(standing).map((record) => record.id) } })).map(toStoredShot)
}

export type NewTrace = InferCreationAttributes<TraceRow>

/** Keeps a trace file as it came. Sent twice, it is one trace. */
export async function addTrace(row: NewTrace): Promise<TraceRecord> {
  const saved = await createOnce(
    () => TraceRow.findByPk(row.id, { attributes: WITHOUT_CONTENT }),
    (existing) => existing.sha256 === row.sha256 && existing.calloutId === row.calloutId && existing.role === row.role,
    async () => {
      if (row.calloutId !== null) await requireOpen(row.calloutId)
      return TraceRow.create({ ...row })
    },
  )
  return (await toRecords([saved]))[0]!
}

export async function traceContent(id: string): Promise<TraceRow> {
  const row = await TraceRow.findByPk(id)
  if (!row) throw new AppError('not-found', 'there is no such trace')
  return row
}

/** The traces after a repair become their link's baseline, as they are; the ones before them are kept. */
export async function promote(
  rows: readonly TraceRow[],
  by: string,
  now: Date,
  transaction: Transaction,
): Promise<void> {
  for (const row of rows) {
    const copy = { ...row.get(), id: uuidv7(), calloutId: null, role: 'baseline' as const, addedAt: now, addedBy: by }
    await TraceRow.create(copy, { transaction })
  }
}

/** A file of a survey becomes the baseline of the link that its fiber carries. */
export async function promoteSurvey(
  { fileName, direction, launchCord, receiveCord, sha256, content }: SurveyRow,
  linkId: string,
  { facts, warnings }: Pick<TraceRow, 'facts' | 'warnings'>,
  by: string,
  now: Date,
  transaction: Transaction,
): Promise<void> {
  const own = { id: uuidv7(), linkId, calloutId: null, role: 'baseline' as const, addedAt: now, addedBy: by }
  const file = { fileName, direction, launchCord, receiveCord, sha256, content, byteCount: content.length }
  await TraceRow.create({ ...own, ...file, facts, warnings, simulated: false }, { transaction })
}

/** Takes a trace out of the evidence. Doing it twice is doing it once. */
export async function withdrawTrace(id: string, by: string, now: Date): Promise<TraceRecord> {
  const row = await TraceRow.findByPk(id, { attributes: WITHOUT_CONTENT })
  if (!row) throw new AppError('not-found', 'there is no such trace')
  await createOnce(
    () => WithdrawalRow.findByPk(id),
    () => true,
    async () => {
      if (row.calloutId !== null) await requireOpen(row.calloutId)
      return WithdrawalRow.create({ traceId: id, at: now, by })
    },
  )
  return (await toRecords([row]))[0]!
}

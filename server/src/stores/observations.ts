import type { NewObservation, Observation } from '@cold-thread/contract'
import { isDeepStrictEqual } from 'node:util'
import { ObservationRow } from '../db/models.ts'
import { AppError } from '../errors.ts'
import { requireOpen } from './callouts.ts'
import { createOnce } from './idempotent.ts'

export async function listObservations(calloutId: string): Promise<Observation[]> {
  const rows = await ObservationRow.findAll({
    where: { calloutId },
    order: [
      ['receivedAt', 'ASC'],
      ['id', 'ASC'],
    ],
  })
  const superseded = new Set(rows.map((row) => row.supersedes))
  return rows.map((row) => toObservation(row, superseded.has(row.id)))
}

function toObservation(row: ObservationRow, superseded: boolean): Observation {
  return {
    id: row.id,
    calloutId: row.calloutId,
    entry: row.entry,
    observedAt: row.observedAt.toISOString(),
    receivedAt: row.receivedAt.toISOString(),
    by: row.by,
    supersedes: row.supersedes,
    superseded,
  }
}

/** Adds an entry. Entries are never changed: a correction supersedes an earlier one of the same callout. */
export async function addObservation(
  calloutId: string,
  id: string,
  entry: NewObservation,
  by: string,
  now: Date,
): Promise<Observation> {
  if (entry.supersedes !== null) {
    const earlier = await ObservationRow.findByPk(entry.supersedes)
    if (earlier?.calloutId !== calloutId)
      throw new AppError('not-found', 'the entry to supersede does not exist', 'supersedes')
  }
  const row = await createOnce(
    () => ObservationRow.findByPk(id),
    (existing) => existing.calloutId === calloutId && isDeepStrictEqual(existing.entry, entry.entry),
    async () => {
      await requireOpen(calloutId)
      return ObservationRow.create({
        id,
        calloutId,
        entry: entry.entry,
        observedAt: new Date(entry.observedAt),
        receivedAt: now,
        by,
        supersedes: entry.supersedes,
      })
    },
  )
  return toObservation(row, false)
}

import type { LogEntry, NewObservation, Observation } from '@cold-thread/contract'
import { sessionsOf, usesOf } from '@cold-thread/core/join'
import { KIT_KINDS, type Use } from '@cold-thread/core/kit'
import { matingsOf } from '@cold-thread/core/prove'
import { isDeepStrictEqual } from 'node:util'
import { ObservationRow } from '../db/models.ts'
import { AppError } from '../errors.ts'
import { requireOpen } from './callouts.ts'
import { createOnce } from './idempotent.ts'
import { countUse, currentKit } from './kits.ts'

/** What is plugged in a loss test, by its kind. */
const CORDS = ['adapter', ...KIT_KINDS.flatMap(({ kind, group }) => (group === 'cord' ? [kind] : []))]

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
      const kept = {
        id,
        calloutId,
        entry: entry.entry,
        observedAt: new Date(entry.observedAt),
        receivedAt: now,
        by,
        supersedes: entry.supersedes,
      }
      const uses =
        entry.entry.kind === 'session-end'
          ? await usesOfSession(calloutId, entry.entry.sessionId)
          : await usesOfCords(calloutId, entry.entry)
      if (uses.length === 0) return ObservationRow.create(kept)
      // An entry and what it used up are kept together, or neither is.
      return ObservationRow.sequelize!.transaction(async (transaction) => {
        await countUse(uses, by, now, transaction)
        return ObservationRow.create(kept, { transaction })
      })
    },
  )
  return toObservation(row, false)
}

/** Entries that tell of cords that were plugged. */
const PLUGGED = ['source-check', 'loss-reference', 'reference-look']

/** Matings of the kit's cords that an entry brings. */
async function usesOfCords(calloutId: string, entry: LogEntry): Promise<Use[]> {
  if (!PLUGGED.includes(entry.kind)) return []
  const matings = matingsOf(entry, await listObservations(calloutId))
  const { items } = (await currentKit()).kit
  return matings.flatMap(({ cord, count }) => {
    const item = items.find(({ name, kind }) => name === cord && CORDS.includes(kind))
    return item ? [{ item: item.id, count, anew: false }] : []
  })
}

/** What a session used up so far; nothing where it was ended before. */
async function usesOfSession(calloutId: string, sessionId: string): Promise<Use[]> {
  const session = sessionsOf(await listObservations(calloutId)).find(({ id }) => id === sessionId)
  return session && !session.ended ? usesOf(session) : []
}

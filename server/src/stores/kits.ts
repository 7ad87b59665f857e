import type { KitRecord } from '@cold-thread/contract'
import { checkKit, EMPTY_KIT, withUse, type Kit, type Use } from '@cold-thread/core/kit'
import { UniqueConstraintError, type Transaction } from 'sequelize'
import { isDeepStrictEqual } from 'node:util'
import { KitRow } from '../db/models.ts'
import { AppError } from '../errors.ts'

export async function currentKit(): Promise<KitRecord> {
  const row = await KitRow.findOne({ order: [['version', 'DESC']] })
  return row ? { kit: row.kit, version: row.version } : { kit: EMPTY_KIT, version: 0 }
}

/**
 * Saves a new version of the kit; all earlier ones are kept.
 * @param readVersion the version that the change was made on
 */
export async function saveKit(kit: Kit, readVersion: number, by: string, now: Date): Promise<KitRecord> {
  checkKit(kit)
  const current = await currentKit()
  const stale = `the kit is at version ${current.version}, this change was made on ${readVersion}`
  if (current.version !== readVersion) throw new AppError('stale-edit', stale, 'version')
  try {
    await KitRow.create({ version: readVersion + 1, kit, savedAt: now, savedBy: by })
  } catch (error) {
    if (error instanceof UniqueConstraintError) throw new AppError('stale-edit', undefined, 'version')
    throw error
  }
  return { kit, version: readVersion + 1 }
}

/** Counts use on the newest kit, as a version of its own; nothing where nothing of it is in the kit. */
export async function countUse(uses: readonly Use[], by: string, now: Date, transaction: Transaction): Promise<void> {
  const row = await KitRow.findOne({ order: [['version', 'DESC']], transaction, lock: transaction.LOCK.UPDATE })
  if (!row) return
  const kit = withUse(row.kit, uses)
  if (isDeepStrictEqual(kit, row.kit)) return
  await KitRow.create({ version: row.version + 1, kit, savedAt: now, savedBy: by }, { transaction })
}

import type { PlantRecord } from '@cold-thread/contract'
import { checkPlant, type PlantBundle } from '@cold-thread/core/plant'
import { Op, UniqueConstraintError, type Transaction } from 'sequelize'
import { PlantRow } from '../db/models.ts'
import { AppError } from '../errors.ts'

/** The newest plant as it was read last: a plant is large, and read with almost every request. */
let read: { version: number; savedAt: number; bundle: PlantBundle } | null = null

export async function currentPlant(): Promise<PlantRecord> {
  const newest = await PlantRow.findOne({ attributes: ['version', 'savedAt'], order: [['version', 'DESC']] })
  if (!newest) return { bundle: null, version: 0 }
  const [version, savedAt] = [newest.version, newest.savedAt.getTime()]
  if (read?.version !== version || read.savedAt !== savedAt) {
    const row = await PlantRow.findByPk(version)
    read = { version, savedAt, bundle: row!.bundle }
  }
  return { bundle: read.bundle, version }
}

/** @throws AppError when no plant was imported yet */
export async function requirePlant(): Promise<PlantBundle> {
  const { bundle } = await currentPlant()
  if (!bundle) throw new AppError('cannot-compute', 'no plant was imported yet')
  return bundle
}

/** The plant as it was when a callout was closed, before closing it changed the record; the newest where none is older. */
export async function plantBefore(closedAt: string | null): Promise<PlantBundle> {
  const then =
    closedAt === null
      ? null
      : await PlantRow.findOne({ where: { savedAt: { [Op.lt]: new Date(closedAt) } }, order: [['version', 'DESC']] })
  return then?.bundle ?? requirePlant()
}

/**
 * Saves a new version of the plant; all earlier ones are kept.
 * @param readVersion the version that the change was made on
 */
export async function savePlant(
  bundle: PlantBundle,
  readVersion: number,
  by: string,
  now: Date,
  transaction: Transaction | null = null,
): Promise<PlantRecord> {
  checkPlant(bundle)
  const current = await currentPlant()
  if (current.version !== readVersion)
    throw new AppError(
      'stale-edit',
      `the plant is at version ${current.version}, this change was made on ${readVersion}`,
      'version',
    )
  try {
    await PlantRow.create({ version: readVersion + 1, bundle, savedAt: now, savedBy: by }, { transaction })
  } catch (error) {
    if (error instanceof UniqueConstraintError) throw new AppError('stale-edit', undefined, 'version')
    throw error
  }
  return { bundle, version: readVersion + 1 }
}

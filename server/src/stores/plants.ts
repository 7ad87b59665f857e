import type { PlantRecord } from '@cold-thread/contract'
import { checkPlant, type PlantBundle } from '@cold-thread/core/plant'
import { UniqueConstraintError } from 'sequelize'
import { PlantRow } from '../db/models.ts'
import { AppError } from '../errors.ts'

export async function currentPlant(): Promise<PlantRecord> {
  const row = await PlantRow.findOne({ order: [['version', 'DESC']] })
  return row ? { bundle: row.bundle, version: row.version } : { bundle: null, version: 0 }
}

/** @throws AppError when no plant was imported yet */
export async function requirePlant(): Promise<PlantBundle> {
  const { bundle } = await currentPlant()
  if (!bundle) throw new AppError('cannot-compute', 'no plant was imported yet')
  return bundle
}

/**
 * Saves a new version of the plant; all earlier ones are kept.
 * @param readVersion the version that the change was made on
 */
export async function savePlant(bundle: PlantBundle, readVersion: number, by: string, now: Date): Promise<PlantRecord> {
  checkPlant(bundle)
  const current = await currentPlant()
  if (current.version !== readVersion)
    throw new AppError(
      'stale-edit',
      `the plant is at version ${current.version}, this change was made on ${readVersion}`,
      'version',
    )
  try {
    await PlantRow.create({ version: readVersion + 1, bundle, savedAt: now, savedBy: by })
  } catch (error) {
    if (error instanceof UniqueConstraintError) throw new AppError('stale-edit', undefined, 'version')
    throw error
  }
  return { bundle, version: readVersion + 1 }
}

import { checksMade, type MadeCheck } from '@cold-thread/core/prove'
import { literal, Op } from 'sequelize'
import { ObservationRow } from '../db/models.ts'
import { findCallout } from './callouts.ts'
import { listObservations } from './observations.ts'

/**
 * Checks of sources and cords that were made in other callouts: what a source showed when it was good is known wherever it is
 * used next.
 */
export async function sourceChecksElsewhere(calloutId: string): Promise<MadeCheck[]> {
  await findCallout(calloutId)
  const checked = await ObservationRow.findAll({
    where: {
      calloutId: { [Op.ne]: calloutId },
      [Op.and]: literal(`JSON_VALUE(entry, '$.kind') = 'source-check'`),
    },
    attributes: ['calloutId'],
    group: ['calloutId'],
  })
  const logs = await Promise.all(checked.map((row) => listObservations(row.calloutId)))
  return logs.flatMap(checksMade).sort((a, b) => a.at.localeCompare(b.at))
}

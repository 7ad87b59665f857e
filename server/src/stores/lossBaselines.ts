import { lossBaselinesOf, type LossBaseline } from '@cold-thread/core/prove'
import { literal, Op } from 'sequelize'
import { ObservationRow, SignOffRow } from '../db/models.ts'
import { findCallout } from './callouts.ts'
import { listObservations } from './observations.ts'

/** Losses by source and meter with which earlier callouts were closed: what a callout's readings are held against. */
export async function lossBaselinesFor(calloutId: string): Promise<LossBaseline[]> {
  const { openedAt } = await findCallout(calloutId)
  const signed = await SignOffRow.findAll({
    where: { calloutId: { [Op.ne]: calloutId }, at: { [Op.lt]: new Date(openedAt) } },
    attributes: ['calloutId'],
  })
  const tested = await ObservationRow.findAll({
    where: {
      calloutId: signed.map((row) => row.calloutId),
      [Op.and]: literal(`JSON_VALUE(entry, '$.kind') = 'loss-reading'`),
    },
    attributes: ['calloutId'],
    group: ['calloutId'],
  })
  const logs = await Promise.all(tested.map((row) => listObservations(row.calloutId)))
  return logs.flatMap((log) => lossBaselinesOf(log)).sort((a, b) => a.at.localeCompare(b.at))
}

import type { LogEntry } from '@cold-thread/contract'
import { buildThread, fiberAtChainage, type PlantBundle } from '@cold-thread/core/plant'
import { AppError } from './errors.ts'

/**
 * Refuses a log entry that can't be of this link, while the person can still mend it.
 * @throws AppError naming the field
 */
export function checkEntry(plant: PlantBundle, linkId: string, entry: LogEntry): void {
  if (entry.kind === 'note') return
  const thread = buildThread(plant, linkId)
  if (entry.node !== null && !thread.nodes.some((node) => node.id === entry.node))
    throw new AppError('invalid-request', `the link does not pass node "${entry.node}"`, 'entry.node')
  if (entry.kind !== 'splice') return
  try {
    fiberAtChainage(thread, entry.chainage)
  } catch {
    throw new AppError('invalid-request', `the link does not pass chainage ${entry.chainage} m`, 'entry.chainage')
  }
}

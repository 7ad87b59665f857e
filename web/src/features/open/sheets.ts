import type { RunSheet, SheetEvent } from '@cold-thread/core/open'
import { progressOf, sheetEvents, type Progress } from '@cold-thread/core/open'
import type { LoggedObservation } from '../../field/waitingEntries.ts'

/** A sheet that was begun on a callout, with what happened to it. */
export interface BegunSheet {
  id: string
  sheet: RunSheet
  begunBy: string
  begunAt: string
  events: SheetEvent[]
  progress: Progress
  /** Entries that wait on this device. */
  waiting: ReadonlySet<string>
}

/** Sheets of a callout's log, newest first. */
export function begunSheets(log: readonly LoggedObservation[]): BegunSheet[] {
  const waiting = new Set(log.flatMap(({ id, waiting: waits }) => (waits ? [id] : [])))
  return log
    .flatMap(({ id, entry, by, observedAt, superseded }) => {
      if (entry.kind !== 'sheet' || superseded) return []
      const events = sheetEvents(id, log)
      const { sheet } = entry
      return [{ id, sheet, begunBy: by, begunAt: observedAt, events, progress: progressOf(sheet, events), waiting }]
    })
    .reverse()
}

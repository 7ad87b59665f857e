import {
  progressOf,
  sheetEvents,
  type Progress,
  type RunSheet,
  type SheetEvent,
  type StepState,
} from '@cold-thread/core/open'
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

/** What was measured in a step. */
export function valuesInWords({ step, by }: Pick<StepState, 'step' | 'by'>): string {
  if (!by) return ''
  const values = step.fields.flatMap(({ id, label, unit }) => {
    const value = by.entry.values[id]
    return value === undefined ? [] : [`${label.toLowerCase()} ${value}${unit === '' ? '' : ` ${unit}`}`]
  })
  const { watch, pressure } = by.entry
  if (watch) values.push(`${watch.added.toFixed(2)} ± ${watch.sigma.toFixed(2)} dB added`)
  if (pressure)
    values.push(
      `${(pressure.startGauge / 1000).toFixed(1)} kPa at ${pressure.startTemperature} °C, ${(pressure.endGauge / 1000).toFixed(1)} kPa at ${pressure.endTemperature} °C after ${pressure.minutes} min`,
    )
  if (by.entry.photos.length > 0)
    values.push(by.entry.photos.length === 1 ? '1 photo' : `${by.entry.photos.length} photos`)
  return values.length === 0 ? '' : `, ${values.join(', ')}`
}

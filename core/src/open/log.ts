import type { SheetEvent, StepOutcome } from './progress.ts'

/** An entry of a callout's log, as far as sheets care. */
export interface LoggedEntry {
  id: string
  by: string
  observedAt: string
  supersedes: string | null
  superseded: boolean
  entry: { kind: string }
}

type StepEntry = StepOutcome & { kind: 'sheet-step'; sheetId: string }
interface ReleaseEntry {
  kind: 'sheet-release'
  sheetId: string
  step: string
  remark: string
}

/**
 * What happened to a sheet, from the log in the order in which the server took it. A corrected entry stands in the place
 * of the one it corrects; one that was taken back is gone.
 */
export function sheetEvents(sheetId: string, log: readonly LoggedEntry[]): SheetEvent[] {
  const places = new Map(log.map(({ id }, i) => [id, i]))
  const byId = new Map(log.map((one) => [one.id, one]))
  const placeOf = (one: LoggedEntry): number => {
    const earlier = one.supersedes === null ? undefined : byId.get(one.supersedes)
    // Only a correction of the same step takes its place.
    return earlier && sameStep(earlier.entry, one.entry) ? placeOf(earlier) : places.get(one.id)!
  }
  return log
    .filter(({ superseded, entry }) => {
      const { kind, sheetId: of } = entry as { kind: string; sheetId?: string }
      return !superseded && of === sheetId && (kind === 'sheet-step' || kind === 'sheet-release')
    })
    .map((one) => ({ place: placeOf(one), one }))
    .sort((a, b) => a.place - b.place)
    .map(({ one: { id, by, observedAt: at, entry } }): SheetEvent => {
      if (entry.kind === 'sheet-release') {
        const { step, remark } = entry as ReleaseEntry
        return { kind: 'release', id, by, at, step, remark }
      }
      const { kind: _kind, sheetId: _sheetId, ...outcome } = entry as StepEntry
      return { kind: 'step', id, by, at, entry: outcome }
    })
}

function sameStep(a: LoggedEntry['entry'], b: LoggedEntry['entry']): boolean {
  const [x, y] = [a, b] as [Partial<StepEntry>, Partial<StepEntry>]
  return x.kind === y.kind && x.sheetId === y.sheetId && x.step === y.step
}

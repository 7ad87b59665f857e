import { standing, type LoggedEntry } from '../../log/standing.ts'
import type { SheetEvent, StepOutcome } from './progress.ts'

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
  // Only a correction of the same step takes its place.
  return standing(log, sameStep)
    .filter(({ entry }) => {
      const { kind, sheetId: of } = entry as { kind: string; sheetId?: string }
      return of === sheetId && (kind === 'sheet-step' || kind === 'sheet-release')
    })
    .map(({ id, by, observedAt: at, entry }): SheetEvent => {
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

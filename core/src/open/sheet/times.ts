import type { StepKind } from '../../plan/planRules.ts'
import type { RunSheet, SheetStep } from './compile.ts'
import { progressOf, type SheetEvent } from './progress.ts'

/** Steps of the plan that a sheet's parts are. */
function kindOf({ part, test }: SheetStep): StepKind | null {
  if (test === 'pressure') return 'pressure-test'
  switch (part) {
    case 'identify':
      return 'identify'
    case 'open':
      return 'open'
    case 'prepare':
      return 'prepare-end'
    case 'close':
      return 'close'
    default:
      return null
  }
}

/** Quicker than this a step was not done but entered afterwards, minutes (judgement). */
const LEAST_A_STEP = 0.1

/** Minutes that a part of a sheet took, as the plan counts its steps: of parts that were timed in every step done. */
export function sheetTimes(sheet: RunSheet, events: readonly SheetEvent[]): { kind: StepKind; minutes: number }[] {
  const times = new Map<StepKind, { minutes: number; whole: boolean; steps: number }>()
  for (const { step, state, by, others } of progressOf(sheet, events).steps) {
    const kind = kindOf(step)
    if (kind === null || state === 'skipped') continue
    const time = times.get(kind) ?? { minutes: 0, whole: true, steps: 0 }
    const own = by?.entry.minutes ?? null
    // A try that failed took its time too.
    const tries = others.reduce((sum, { entry }) => sum + (entry.outcome === 'failed' ? (entry.minutes ?? 0) : 0), 0)
    times.set(kind, {
      minutes: time.minutes + (own ?? 0) + tries,
      whole: time.whole && state === 'done' && own !== null,
      steps: time.steps + 1,
    })
  }
  return [...times].flatMap(([kind, { minutes, whole, steps }]) =>
    whole && minutes >= LEAST_A_STEP * steps ? [{ kind, minutes }] : [],
  )
}

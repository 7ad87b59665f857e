import type { RunSheet } from './compile.ts'
import { progressOf, titleOf, type Progress, type SheetEvent } from './progress.ts'
import type { Exposure } from '../procedures/procedure.ts'

/** What whoever comes next must know. */
export interface HandOver {
  done: number
  all: number
  /** What lies open. */
  exposed: Exposure[]
  /** What comes next, and what stands against it. */
  next: { step: string; title: string; obstacles: string[] } | null
  /** Steps passed over on the way: open, while a later one is done. */
  passedOver: string[]
  /** Tests and steps that failed and were not yet done again. */
  failed: { title: string; why: string; by: string }[]
  /** Left out, with the reasons. */
  leftOut: { title: string; why: string; by: string }[]
  /** Where the record turned out wrong. */
  differences: string[]
}

/** What was counted otherwise than the record has it, with the reason: for whoever keeps the record. */
export function recordDifferences({ steps }: Progress): string[] {
  return steps.flatMap(({ step, state, by }) =>
    state !== 'done' || !by
      ? []
      : step.fields.flatMap(({ id, label, kind, least }) => {
          const counted = by.entry.values[id]
          return kind === 'count' && least !== null && counted !== undefined && counted !== least
            ? [`${label}: ${counted} counted twice, ${least} on record: ${by.entry.reason} (${by.by})`]
            : []
        }),
  )
}

/** What was thrown away, by kind of kit: of each try that failed where that costs one. */
export function scrapOf({ steps }: Progress): { kind: string; count: number }[] {
  const counts = new Map<string, number>()
  for (const { step, others } of steps) {
    const failed = others.filter(({ entry }) => entry.outcome === 'failed').length
    if (step.wastes !== undefined && failed > 0) counts.set(step.wastes, (counts.get(step.wastes) ?? 0) + failed)
  }
  return [...counts].map(([kind, count]) => ({ kind, count }))
}

/** The state of a sheet for the next shift. */
export function handOver(
  sheet: RunSheet,
  events: readonly SheetEvent[],
  progress: Progress = progressOf(sheet, events),
): HandOver {
  const { steps, next, exposed, done } = progress
  const lastDone = steps.findLastIndex(({ state }) => state === 'done')
  const open = steps.filter(({ state }) => state === 'open')
  return {
    done,
    all: steps.length,
    exposed,
    next: next && { step: next.step.id, title: titleOf(sheet, next.step.id), obstacles: next.obstacles },
    passedOver: steps
      .slice(0, Math.max(0, lastDone))
      .flatMap(({ step, state }) => (state === 'open' ? [titleOf(sheet, step.id)] : [])),
    failed: open.flatMap(({ step, others }) => {
      const last = others.at(-1)
      return last ? [{ title: titleOf(sheet, step.id), why: last.why, by: last.by }] : []
    }),
    leftOut: steps.flatMap(({ step, state, by }) =>
      state === 'skipped' && by ? [{ title: titleOf(sheet, step.id), why: by.entry.reason, by: by.by }] : [],
    ),
    differences: recordDifferences(progress),
  }
}

import { inOrder } from './network.ts'
import type { Step } from './steps.ts'

/** A person's change to the order of work. */
export type PlanEdit =
  /** One line of the order before another. */
  | { kind: 'before'; line: string; other: string }
  /** A line not before so many minutes from the begin. */
  | { kind: 'pin'; line: string; minutes: number }

const OF_A_TUBE: ReadonlySet<Step['kind']> = new Set(['open-tube', 'splice', 'mechanical-splice'])

/** Steps that stand as one line in the order of work: each by itself, a tube's opening and splices at a place together. */
export function lineOf(step: Step, tubeSize: number): string {
  if (!OF_A_TUBE.has(step.kind)) return step.id
  const [, site] = step.id.split('@')
  return `tube@${site}@${tubeOf(step, tubeSize)}`
}

/** The tube that a step on a tube or its fibers works on. */
export function tubeOf(step: Step, tubeSize: number): number {
  return step.kind === 'open-tube' ? Number(step.id.split('@')[2]) : Math.ceil((step.fibers?.[0] ?? 1) / tubeSize)
}

/**
 * The steps with a person's changes: those of a line wait for those of the line that was put before it, splices step by
 * step, so that the next fiber is still prepared while the oven shrinks the last.
 * @throws PlanError naming the steps that wait for each other, when a change turns the order in a circle
 */
export function withEdits(steps: readonly Step[], edits: readonly PlanEdit[], tubeSize: number): Step[] {
  let out = [...steps]
  const linesOf = new Map(steps.map((step) => [step.id, lineOf(step, tubeSize)]))
  for (const edit of edits) {
    if (edit.kind === 'pin') {
      out = out.map((step) => (linesOf.get(step.id) === edit.line ? { ...step, notBefore: edit.minutes } : step))
      continue
    }
    const first = out.filter((step) => linesOf.get(step.id) === edit.line)
    out = out.map((step) => {
      if (linesOf.get(step.id) !== edit.other) return step
      const alike = first.filter((other) => partOf(other) === partOf(step))
      const waits = (alike.length > 0 ? alike : first).map(({ id }) => id)
      return { ...step, after: [...new Set([...step.after, ...waits])] }
    })
  }
  inOrder(out)
  return out
}

/** `prepare` of `splice@closure@7/prepare`. */
function partOf({ id }: Step): string {
  return id.split('/')[1] ?? ''
}

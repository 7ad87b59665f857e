import type { Random } from '../../math/random.ts'
import type { Schedule } from './schedule.ts'
import { drawFrom } from './threePoint.ts'

/** When each task was done in many runs of a schedule. */
export interface Outcomes {
  /** Ends by task, minutes from the begin, one for each run, in order of size. */
  ends: Map<string, Float64Array>
  /** End of the whole, in order of size. */
  whole: Float64Array
  /** Part of the runs in which a task lay on the chain that decided the end. */
  critical: Map<string, number>
  /** From the first start of the watched begins to the last of the watched ends, in order of size; empty when nothing is watched. */
  span: Float64Array
}

/** A stretch of the work whose length is wanted. */
export interface Watched {
  begins: ReadonlySet<string>
  ends: ReadonlySet<string>
}

/**
 * Runs a schedule many times with durations drawn from their estimates: every unit keeps its tasks and their order, and
 * each task begins as soon as what it waits for is done and its units are free.
 * @param onRun told after each run; false stops, and what was run counts
 */
export function simulateSchedule(
  { tasks }: Schedule,
  runs: number,
  random: Random,
  onRun?: (done: number) => boolean,
  watched?: Watched,
): Outcomes {
  const byStart = tasks.toSorted((a, b) => a.start - b.start || a.end - b.end)
  const index = new Map(byStart.map(({ task }, k) => [task.id, k]))
  const lastOf = new Map<string, number>()
  const waitsFor = byStart.map(({ task, units }, k) => {
    const before = new Set(task.after.map((id) => index.get(id)!))
    for (const unit of units) {
      const last = lastOf.get(unit)
      if (last !== undefined) before.add(last)
      lastOf.set(unit, k)
    }
    return [...before]
  })
  const ends = byStart.map(() => new Float64Array(runs))
  const whole = new Float64Array(runs)
  const decided = new Int32Array(byStart.length)
  const end = new Float64Array(byStart.length)
  const decider = new Int32Array(byStart.length)
  const begins = byStart.map(({ task }) => watched?.begins.has(task.id) ?? false)
  const finishes = byStart.map(({ task }) => watched?.ends.has(task.id) ?? false)
  const watching = begins.includes(true) && finishes.includes(true)
  const span = new Float64Array(watching ? runs : 0)
  let done = 0
  while (done < runs) {
    let last = -1
    let [from, to] = [Infinity, 0]
    for (let k = 0; k < byStart.length; k++) {
      let start = byStart[k]!.task.notBefore ?? 0
      decider[k] = -1
      for (const before of waitsFor[k]!)
        if (end[before]! > start) {
          start = end[before]!
          decider[k] = before
        }
      end[k] = start + drawFrom(byStart[k]!.task.minutes, random)
      ends[k]![done] = end[k]!
      if (begins[k] && start < from) from = start
      if (finishes[k] && end[k]! > to) to = end[k]!
      if (last < 0 || end[k]! > end[last]!) last = k
    }
    whole[done] = last < 0 ? 0 : end[last]!
    if (watching) span[done] = Math.max(0, to - from)
    for (let k = last; k >= 0; k = decider[k]!) decided[k]!++
    done++
    if (onRun && !onRun(done)) break
  }
  return {
    ends: new Map(byStart.map(({ task }, k) => [task.id, ends[k]!.subarray(0, done).sort()])),
    whole: whole.subarray(0, done).sort(),
    critical: new Map(byStart.map(({ task }, k) => [task.id, decided[k]! / done])),
    span: span.subarray(0, watching ? done : 0).sort(),
  }
}

/** The value below which a part of sorted values lies, between neighbours by proportion. */
export function percentile(sorted: Float64Array, part: number): number {
  if (sorted.length === 0) return NaN
  const at = part * (sorted.length - 1)
  const k = Math.floor(at)
  const [low, high] = [sorted[k]!, sorted[Math.min(k + 1, sorted.length - 1)]!]
  return low + (at - k) * (high - low)
}

import { assign, type Choice } from './assign.ts'
import { inOrder, type Task } from './network.ts'
import type { Unit } from './unit.ts'
import { momentsOf } from './threePoint.ts'

/**
 * Tasks by the time at which they begin when nobody waits: at each moment all that can begin do, the first of the order
 * given first (parallel schedule generation). A next fiber is prepared while the oven shrinks the last.
 * Source: R. Kolisch, Serial and parallel resource-constrained project scheduling methods revisited, European Journal of
 * Operational Research 90, 1996 (from memory).
 * @returns the order given, where some task can never begin: placing it then says why
 * @throws PlanError when tasks wait for each other
 */
export function inDispatchOrder(tasks: readonly Task[], units: readonly Unit[]): Task[] {
  const ordered = inOrder(tasks)
  const waiting = ordered.map(({ after }) => after.length)
  const indexOf = new Map(ordered.map(({ id }, k) => [id, k]))
  const next = ordered.map((): number[] => [])
  ordered.forEach(({ after }, k) => after.forEach((id) => next[indexOf.get(id)!]!.push(k)))
  const able = new Map<string, Unit[]>()
  for (const need of new Set(ordered.flatMap(({ needs }) => needs)))
    able.set(
      need,
      units.filter(({ can }) => can.includes(need)),
    )
  const needsOf = new Map(units.map((unit) => [unit.id, [...able.keys()].filter((need) => unit.can.includes(need))]))
  const freeFor = new Map([...able].map(([need, some]) => [need, some.length]))
  const busy = new Set<string>()
  const mark = (id: string, by: 1 | -1) => {
    if (by < 0) busy.add(id)
    else busy.delete(id)
    for (const need of needsOf.get(id)!) freeFor.set(need, freeFor.get(need)! + by)
  }
  /** Indices of those that wait for nothing but units, in order. */
  const ready: number[] = ordered.flatMap((_, k) => (waiting[k] === 0 ? [k] : []))
  const running: { k: number; end: number; units: string[] }[] = []
  const out: Task[] = []
  let time = 0
  while (out.length < ordered.length || running.length > 0) {
    for (let r = 0; r < ready.length; r++) {
      const k = ready[r]!
      const task = ordered[k]!
      if ((task.notBefore ?? 0) > time || task.needs.some((need) => freeFor.get(need)! <= 0)) continue
      const choices = task.needs.map((need, at): Choice => ({ k: at, units: able.get(need)! }))
      const taken = assign(choices, ({ id }) => !busy.has(id))
      if (!taken) continue
      taken.forEach((id) => mark(id, -1))
      running.push({ k, end: time + momentsOf(task.minutes).mean, units: taken })
      out.push(task)
      ready.splice(r--, 1)
    }
    const pinned = ready.map((k) => ordered[k]!.notBefore ?? 0).filter((at) => at > time)
    const then = Math.min(...running.map(({ end }) => end), ...pinned)
    if (!Number.isFinite(then)) return ordered
    time = then
    for (let r = running.length - 1; r >= 0; r--) {
      const { k, end, units: taken } = running[r]!
      if (end > time) continue
      running.splice(r, 1)
      taken.forEach((id) => mark(id, 1))
      for (const later of next[k]!) if (--waiting[later]! === 0) insert(ready, later)
    }
  }
  return out
}

/** Into sorted numbers, in its place. */
function insert(sorted: number[], value: number): void {
  let low = 0
  let high = sorted.length
  while (low < high) {
    const half = (low + high) >> 1
    if (sorted[half]! < value) low = half + 1
    else high = half
  }
  sorted.splice(low, 0, value)
}

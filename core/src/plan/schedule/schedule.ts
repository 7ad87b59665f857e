import { assign } from './assign.ts'
import { inDispatchOrder } from './dispatch.ts'
import type { Random } from '../../math/random.ts'
import { criticalPath, inOrder, PlanError, type Task } from './network.ts'
import { momentsOf } from './threePoint.ts'
import type { Unit } from './unit.ts'

export interface ScheduledTask {
  task: Task
  /** Minutes from the begin. */
  start: number
  end: number
  /** Ids of the units, one for each need in their order. */
  units: string[]
}

export interface Schedule {
  /** In the order in which they were placed. */
  tasks: ScheduledTask[]
  /** When the last one is done, minutes from the begin. */
  end: number
}

/** What a schedule is worth: less is better. */
export type Objective = (schedule: Schedule) => number

const WHOLE: Objective = (schedule) => schedule.end

/**
 * Places tasks by serial schedule generation: in the order given, each as early as what it waits for and what it needs
 * allow, in gaps where it fits. A task that waits for a later one of the order is placed behind it.
 * Source: R. Kolisch, Serial and parallel resource-constrained project scheduling methods revisited, European Journal of
 * Operational Research 90, 1996 (from memory).
 * @throws PlanError when tasks wait for each other, or nobody can do what one needs
 */
export function placeInOrder(tasks: readonly Task[], units: readonly Unit[]): Schedule {
  const free = new Map(units.map((unit) => [unit.id, new FreeTime()]))
  const able = (need: string) => units.filter((unit) => unit.can.includes(need))
  const done = new Map<string, ScheduledTask>()
  const shortest = Math.min(...tasks.map((task) => momentsOf(task.minutes).mean).filter((minutes) => minutes > 0))
  let end = 0
  for (const task of inOrder(tasks)) {
    const minutes = momentsOf(task.minutes).mean
    const ready = Math.max(task.notBefore ?? 0, ...task.after.map((id) => done.get(id)!.end))
    // The fewest can do it: chosen first. Whoever can do little else is taken before whoever can do much.
    const choices = task.needs.map((need, k) => ({
      k,
      need,
      units: able(need).sort((a, b) => a.can.length - b.can.length),
    }))
    for (const { need, units: some } of choices)
      if (some.length === 0)
        throw new PlanError('nobody-can', `"${task.name}" needs ${need}, and nothing at hand is that`)
    choices.sort((a, b) => a.units.length - b.units.length)
    const begins = [
      ready,
      ...choices.flatMap(({ units: some }) => some.flatMap((unit) => free.get(unit.id)!.beginsAfter(ready))),
    ]
    let placed: ScheduledTask | null = null
    for (const start of [...new Set(begins)].sort((a, b) => a - b)) {
      const chosen = assign(choices, (unit) => free.get(unit.id)!.has(start, start + minutes))
      if (!chosen) continue
      placed = { task, start, end: start + minutes, units: chosen }
      break
    }
    if (!placed) throw new PlanError('nobody-can', `"${task.name}" needs more units at a time than there are`)
    for (const id of placed.units) free.get(id)!.take(placed.start, placed.end, shortest)
    done.set(task.id, placed)
    end = Math.max(end, placed.end)
  }
  return { tasks: [...done.values()], end }
}

/** When a unit is free: gaps in order, the last one without end. */
class FreeTime {
  readonly #from: number[] = [0]
  readonly #to: number[] = [Infinity]

  has(from: number, to: number): boolean {
    if (to <= from) return true
    const k = this.#gapAt(from)
    return k >= 0 && to <= this.#to[k]!
  }

  /** Begins of the gaps that come after a time. */
  beginsAfter(time: number): number[] {
    return this.#from.slice(this.#gapAt(time) + 1)
  }

  /** Takes a stretch out of a gap; what is left of it is kept when a task may still fit. */
  take(from: number, to: number, shortest: number): void {
    if (to <= from) return
    const k = this.#gapAt(from)
    const [a, b] = [this.#from[k]!, this.#to[k]!]
    const left = [
      [a, from],
      [to, b],
    ].filter(([p, q]) => q! - p! >= shortest)
    this.#from.splice(k, 1, ...left.map(([p]) => p!))
    this.#to.splice(k, 1, ...left.map(([, q]) => q!))
  }

  /** The last gap that begins at or before a time; −1 when none does. */
  #gapAt(time: number): number {
    let low = 0
    let high = this.#from.length
    while (low < high) {
      const half = (low + high) >> 1
      if (this.#from[half]! <= time) low = half + 1
      else high = half
    }
    return low - 1
  }
}

/**
 * A good schedule: first as it goes when nobody waits, the order given deciding who goes first; then by the latest starts
 * of the critical path where that is better, then bettered by moving one task at a time to another place in the order, as
 * long as the tries last. The same seed gives the same schedule.
 * @param tries how many changed orders are looked at
 * @param objective what is made small; the end of the whole unless given
 * @throws PlanError as {@link placeInOrder}
 */
export function findSchedule(
  tasks: readonly Task[],
  units: readonly Unit[],
  random: Random,
  tries: number,
  objective: Objective = WHOLE,
): Schedule {
  let order = inDispatchOrder(tasks, units)
  let best = placeInOrder(order, units)
  if (tries <= 0) return best
  let worth = objective(best)
  const { times } = criticalPath(tasks)
  const latestFirst = tasks.toSorted((a, b) => times.get(a.id)!.latest - times.get(b.id)!.latest)
  const other = placeInOrder(latestFirst, units)
  if (objective(other) < worth) [order, best, worth] = [latestFirst, other, objective(other)]
  const least = lowerBound(tasks, units)
  for (let k = 1; k < tries && order.length > 1; k++) {
    if (objective === WHOLE && best.end <= least + 1e-9) break
    const changed = [...order]
    const [moved] = changed.splice(Math.floor(random.uniform() * changed.length), 1)
    changed.splice(Math.floor(random.uniform() * (changed.length + 1)), 0, moved!)
    const other = placeInOrder(changed, units)
    const value = objective(other)
    // As good is taken too: a plateau is crossed in steps.
    if (value > worth) continue
    ;[order, best, worth] = [changed, other, value]
  }
  return best
}

/**
 * No schedule ends before this, minutes: the longest chain; and for each group of units, of the tasks that only they can
 * do, the earliest begin, their load shared evenly, and the shortest rest behind them. Of every such group those tasks
 * count that begin latest, as many as make the bound largest.
 * Source: bounds by critical path and by resource load with heads and tails, as in R. Kolisch and A. Sprecher's survey of
 * resource-constrained scheduling (from memory).
 */
export function lowerBound(tasks: readonly Task[], units: readonly Unit[]): number {
  const { minutes, times } = criticalPath(tasks)
  const able = new Map<string, Set<string>>()
  for (const need of new Set(tasks.flatMap((task) => task.needs)))
    able.set(need, new Set(units.flatMap((unit) => (unit.can.includes(need) ? [unit.id] : []))))
  let bound = minutes
  for (const group of able.values()) {
    const within = new Set([...able].flatMap(([need, some]) => ([...some].every((id) => group.has(id)) ? [need] : [])))
    const loads = tasks
      .map((task) => {
        const mean = momentsOf(task.minutes).mean
        const { earliest, latest } = times.get(task.id)!
        const load = mean * task.needs.filter((need) => within.has(need)).length
        return { head: earliest, load, tail: minutes - latest - mean }
      })
      .filter(({ load }) => load > 0)
      .sort((a, b) => b.head - a.head)
    let sum = 0
    let tail = Infinity
    for (const one of loads) {
      sum += one.load
      tail = Math.min(tail, one.tail)
      bound = Math.max(bound, one.head + sum / group.size + tail)
    }
  }
  return bound
}

import { CodedError } from '../../errors/index.ts'
import { momentsOf, type ThreePoint } from './threePoint.ts'

/** One step of a repair, with what must be done before and what it takes. */
export interface Task {
  id: string
  name: string
  minutes: ThreePoint
  /** Ids of the tasks that must be done before. */
  after: readonly string[]
  /** Who and what is needed from beginning to end: one unit that can do each. */
  needs: readonly string[]
  /** Pinned: begins no earlier, minutes from the begin. */
  notBefore?: number
}

/** A plan that can't be carried out, with what is wrong in it. */
export class PlanError extends CodedError<'unknown-task' | 'cycle' | 'nobody-can'> {}

/** When a task may be done without delaying the whole, minutes from the begin; nobody and nothing being scarce. */
export interface TaskTimes {
  earliest: number
  latest: number
  /** `latest − earliest`: 0 on the critical path. */
  slack: number
}

export interface CriticalPath {
  /** Mean length of the longest chain, minutes, and the variance of the durations along it. */
  minutes: number
  variance: number
  /** Ids along the longest chain, in order. */
  path: string[]
  times: Map<string, TaskTimes>
}

/**
 * Tasks in an order in which each stands behind all it waits for; of those that may come next, the first given.
 * @throws PlanError naming the tasks of a cycle, or a task that is waited for and does not exist
 */
export function inOrder(tasks: readonly Task[]): Task[] {
  const byId = new Map(tasks.map((task) => [task.id, task]))
  const state = new Map<string, 'open' | 'done'>()
  const out: Task[] = []
  const chain: Task[] = []
  const visit = (task: Task) => {
    if (state.get(task.id) === 'done') return
    if (state.get(task.id) === 'open') {
      const cycle = chain.slice(chain.indexOf(task))
      throw new PlanError(
        'cycle',
        `each waits for the one before: ${[...cycle, task].map(({ name }) => name).join(', ')}`,
      )
    }
    state.set(task.id, 'open')
    chain.push(task)
    for (const id of task.after) {
      const before = byId.get(id)
      if (!before) throw new PlanError('unknown-task', `"${task.name}" waits for "${id}", which is no task of the plan`)
      visit(before)
    }
    chain.pop()
    state.set(task.id, 'done')
    out.push(task)
  }
  for (const task of tasks) visit(task)
  return out
}

/**
 * Critical path with mean durations.
 * Source: J. E. Kelley, M. R. Walker, Critical-path planning and scheduling, 1959 (from memory).
 * @throws PlanError as {@link inOrder}
 */
export function criticalPath(tasks: readonly Task[]): CriticalPath {
  const ordered = inOrder(tasks)
  const mean = new Map(ordered.map((task) => [task.id, momentsOf(task.minutes).mean]))
  const finish = new Map<string, number>()
  const earliest = new Map<string, number>()
  for (const task of ordered) {
    const start = Math.max(task.notBefore ?? 0, ...task.after.map((id) => finish.get(id)!))
    earliest.set(task.id, start)
    finish.set(task.id, start + mean.get(task.id)!)
  }
  const minutes = Math.max(0, ...finish.values())
  const latest = new Map(ordered.map((task) => [task.id, minutes - mean.get(task.id)!]))
  for (const task of ordered.toReversed())
    for (const id of task.after) latest.set(id, Math.min(latest.get(id)!, latest.get(task.id)! - mean.get(id)!))
  const path: Task[] = []
  let last = ordered.findLast((task) => finish.get(task.id) === minutes)
  while (last) {
    path.unshift(last)
    const start = earliest.get(last.id)!
    const before = last.after.find((id) => finish.get(id) === start)
    last = before === undefined ? undefined : ordered.find((task) => task.id === before)
  }
  return {
    minutes,
    variance: path.reduce((sum, task) => sum + momentsOf(task.minutes).variance, 0),
    path: path.map(({ id }) => id),
    times: new Map(
      ordered.map(({ id }) => {
        const [early, late] = [earliest.get(id)!, latest.get(id)!]
        return [id, { earliest: early, latest: late, slack: late - early }]
      }),
    ),
  }
}

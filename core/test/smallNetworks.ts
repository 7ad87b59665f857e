import fc from 'fast-check'
import type { Task } from '../src/plan/schedule/network.ts'
import type { Unit } from '../src/plan/schedule/unit.ts'

const exactly = (minutes: number) => ({ best: minutes, likely: minutes, worst: minutes })
/** A task that takes just so long. */
export const task = (id: string, minutes: number, after: string[] = [], needs: string[] = []): Task => ({
  id,
  name: `task ${id}`,
  minutes: exactly(minutes),
  after,
  needs,
})

export const UNITS: Unit[] = [
  { id: 'p1', can: ['hand', 'splice'] },
  { id: 'p2', can: ['hand'] },
  { id: 's1', can: ['splicer'] },
]
const NEEDS = [['hand'], ['splice', 'splicer'], ['hand', 'splice'], ['splicer'], []]

/** Networks of a few tasks; each may wait for some before it. */
export const instances = (most: number) =>
  fc
    .array(
      fc.record({
        minutes: fc.integer({ min: 1, max: 6 }),
        needs: fc.integer({ min: 0, max: NEEDS.length - 1 }),
        after: fc.array(fc.nat(7), { maxLength: 2 }),
      }),
      { minLength: 2, maxLength: most },
    )
    .map((drawn) =>
      drawn.map(({ minutes, needs, after }, k) =>
        task(String(k), minutes, [...new Set(after.filter((one) => one < k).map(String))], NEEDS[needs]),
      ),
    )

/** The shortest schedule, by trying at each moment every set of tasks that may begin: nothing of the scheduler's own. */
export function shortest(tasks: readonly Task[]): number {
  const minutes = tasks.map((one) => one.minutes.likely)
  const demand = tasks.map(({ needs }) => ({
    splice: Number(needs.includes('splice')),
    hands: needs.filter((need) => need !== 'splicer').length,
    splicer: Number(needs.includes('splicer')),
  }))
  let best = minutes.reduce((a, b) => a + b, 0) + 1
  const starts = new Array<number>(tasks.length).fill(-1)
  const step = (time: number) => {
    const left = tasks.map((_, k) => k).filter((k) => starts[k]! < 0)
    const end = Math.max(0, ...tasks.map((_, k) => (starts[k]! < 0 ? 0 : starts[k]! + minutes[k]!)))
    if (left.length === 0) {
      best = Math.min(best, end)
      return
    }
    if (Math.max(time + 1, end) >= best) return
    const running = tasks.map((_, k) => k).filter((k) => starts[k]! >= 0 && starts[k]! + minutes[k]! > time)
    const ready = left.filter((k) =>
      tasks[k]!.after.every((id) => starts[Number(id)]! >= 0 && starts[Number(id)]! + minutes[Number(id)]! <= time),
    )
    for (let set = 2 ** ready.length - 1; set >= 0; set--) {
      const begun = ready.filter((_, k) => (set >> k) & 1)
      const now = [...running, ...begun].map((k) => demand[k]!)
      const sum = (of: 'splice' | 'hands' | 'splicer') => now.reduce((a, one) => a + one[of], 0)
      // One person splices, two have hands, there is one splicer.
      if (sum('splice') > 1 || sum('hands') > 2 || sum('splicer') > 1) continue
      for (const k of begun) starts[k] = time
      const ends = tasks.map((_, k) => (starts[k]! < 0 ? Infinity : starts[k]! + minutes[k]!)).filter((at) => at > time)
      const next = Math.min(...ends)
      if (next < Infinity) step(next)
      for (const k of begun) starts[k] = -1
    }
  }
  step(0)
  return best
}

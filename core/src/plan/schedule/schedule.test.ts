import fc from 'fast-check'
import { mean, quantile, variance } from 'simple-statistics'
import { describe, expect, it } from 'vitest'
import { instances, shortest, task, UNITS } from '../../../test/smallNetworks.ts'
import { seededRandom } from '../../math/random.ts'
import { criticalPath, inOrder, type Task } from './network.ts'
import { inDispatchOrder } from './dispatch.ts'
import { findSchedule, lowerBound, placeInOrder, type Schedule } from './schedule.ts'
import { percentile, simulateSchedule } from './simulate.ts'
import { spliceTasks, storedId, type SpliceToMake } from './splicing.ts'
import { drawFrom, momentsOf } from './threePoint.ts'
import type { Unit } from './unit.ts'

/**
 * The worked network of a plant's construction, weeks: best, likely and worst of each activity and what it waits for.
 * Source: F. S. Hillier, G. J. Lieberman, Introduction to Operations Research, chapter on PERT/CPM (from memory).
 */
const WORKED: [id: string, best: number, likely: number, worst: number, after: string][] = [
  ['A', 1, 2, 3, ''],
  ['B', 2, 3.5, 8, 'A'],
  ['C', 6, 9, 18, 'B'],
  ['D', 4, 5.5, 10, 'C'],
  ['E', 1, 4.5, 5, 'C'],
  ['F', 4, 4, 10, 'E'],
  ['G', 5, 6.5, 11, 'D'],
  ['H', 5, 8, 17, 'EG'],
  ['I', 3, 7.5, 9, 'C'],
  ['J', 3, 9, 9, 'FI'],
  ['K', 4, 4, 4, 'J'],
  ['L', 1, 5.5, 7, 'J'],
  ['M', 1, 2, 3, 'H'],
  ['N', 5, 5.5, 9, 'KL'],
]
const worked = WORKED.map(([id, best, likely, worst, after]): Task => ({
  id,
  name: id,
  minutes: { best, likely, worst },
  after: [...after],
  needs: [],
}))

describe('three-point estimates', () => {
  it('have the book’s means and variances', () => {
    expect(worked.map(({ minutes }) => momentsOf(minutes).mean)).toEqual([2, 4, 10, 6, 4, 5, 7, 9, 7, 8, 4, 5, 2, 6])
    expect(momentsOf({ best: 2, likely: 3.5, worst: 8 }).variance).toBe(1)
  })

  it('are drawn with their mean, near their variance and inside their bounds', () => {
    const random = seededRandom(3)
    for (const { minutes } of worked) {
      const drawn = Array.from({ length: 4000 }, () => drawFrom(minutes, random))
      const { mean: expected, variance: about } = momentsOf(minutes)
      expect(Math.abs(mean(drawn) - expected)).toBeLessThan(4 * Math.sqrt(about / 4000) + 1e-9)
      // ((b − a)/6)² is the beta distribution's variance but for a factor of 5/7 to 9/7 or so.
      if (about > 0) expect(variance(drawn) / about).toBeGreaterThan(0.6)
      if (about > 0) expect(variance(drawn) / about).toBeLessThan(1.45)
      expect(Math.min(...drawn)).toBeGreaterThanOrEqual(minutes.best)
      expect(Math.max(...drawn)).toBeLessThanOrEqual(minutes.worst)
    }
  })
})

describe('the critical path', () => {
  it('of the worked network is 44 weeks with a variance of 9', () => {
    const { minutes, variance: spread, path, times } = criticalPath(worked)
    expect(minutes).toBe(44)
    expect(spread).toBeCloseTo(9, 12)
    expect(path.join('')).toBe('ABCEFJLN')
    // Slack as the book's table has it: D, G, H and M 4, I 2, K 1.
    const slack = Object.fromEntries([...times].map(([id, time]) => [id, time.slack]))
    expect(slack).toEqual({ A: 0, B: 0, C: 0, D: 4, E: 0, F: 0, G: 4, H: 4, I: 2, J: 0, K: 1, L: 0, M: 4, N: 0 })
  })

  it('names the tasks of a cycle, and one that does not exist', () => {
    expect(() => inOrder([task('a', 1, ['c']), task('b', 1, ['a']), task('c', 1, ['b'])])).toThrow(
      /each waits for the one before: task a, task c, task b, task a/,
    )
    expect(() => inOrder([task('a', 1, ['x'])])).toThrow(/"task a" waits for "x"/)
  })
})

/** Every rule that a schedule must keep, checked by itself. */
function expectSound({ tasks, end }: Schedule, wanted: readonly Task[], units: readonly Unit[]): void {
  expect(tasks.map((one) => one.task.id).toSorted()).toEqual(wanted.map(({ id }) => id).toSorted())
  const byId = new Map(tasks.map((one) => [one.task.id, one]))
  for (const one of tasks) {
    for (const id of one.task.after) expect(byId.get(id)!.end).toBeLessThanOrEqual(one.start + 1e-9)
    expect(new Set(one.units).size).toBe(one.task.needs.length)
    one.task.needs.forEach((need, k) => expect(units.find(({ id }) => id === one.units[k])!.can).toContain(need))
  }
  for (const unit of units) {
    const own = tasks
      .filter((one) => one.units.includes(unit.id) && one.end > one.start)
      .toSorted((a, b) => a.start - b.start)
    for (let k = 1; k < own.length; k++) expect(own[k - 1]!.end).toBeLessThanOrEqual(own[k]!.start + 1e-9)
  }
  expect(end).toBe(Math.max(0, ...tasks.map((one) => one.end)))
}

describe('a schedule', () => {
  it('breaks no order and uses nobody twice at a time', () => {
    fc.assert(
      fc.property(instances(8), fc.integer(), (tasks, seed) => {
        const order = seededRandom(seed)
        const shuffled = tasks.toSorted(() => order.uniform() - 0.5)
        expectSound(placeInOrder(shuffled, UNITS), tasks, UNITS)
        expectSound(findSchedule(tasks, UNITS, seededRandom(seed), 30), tasks, UNITS)
      }),
      { numRuns: 150, endOnFailure: true },
    )
  })

  it('of up to 8 tasks is the shortest in at least 95 of 100 cases, and never under the bound', () => {
    const cases = fc.sample(instances(8), { numRuns: 120, seed: 11 })
    const gaps = cases.map((tasks) => {
      const found = findSchedule(tasks, UNITS, seededRandom(1), 400).end
      expect(found).toBeGreaterThanOrEqual(lowerBound(tasks, UNITS) - 1e-9)
      return found / shortest(tasks) - 1
    })
    expect(Math.min(...gaps)).toBeGreaterThan(-1e-9)
    expect(gaps.filter((gap) => gap < 1e-9).length / gaps.length).toBeGreaterThanOrEqual(0.95)
  })

  it('says what nobody at hand can do', () => {
    expect(() => placeInOrder([task('a', 1, [], ['ribbon splicer'])], UNITS)).toThrow(/"task a" needs ribbon splicer/)
    expect(() => placeInOrder([task('a', 1, [], ['splice', 'splice'])], UNITS)).toThrow(/more units at a time/)
  })
})

describe('many runs of a schedule', () => {
  it('give the worked network’s end near its mean and 0.84 of them within 47 weeks or fewer', () => {
    const schedule = placeInOrder(worked, [])
    const { whole } = simulateSchedule(schedule, 4000, seededRandom(5))
    // The book's bound takes one path alone; other paths can only make it later.
    const within = whole.filter((weeks) => weeks <= 47).length / whole.length
    expect(within).toBeLessThan(0.86)
    expect(within).toBeGreaterThan(0.66)
    expect(mean([...whole])).toBeGreaterThan(44)
    expect(mean([...whole])).toBeLessThan(46.5)
  })

  it('have percentiles as a statistics package computes them', () => {
    const { whole } = simulateSchedule(placeInOrder(worked, []), 501, seededRandom(6))
    for (const part of [0.5, 0.9]) {
      const theirs = quantile([...whole], part)
      expect(Math.abs(percentile(whole, part) - theirs)).toBeLessThan(0.05)
    }
  })

  it('stop when they are told to, and count what was run', () => {
    const { whole } = simulateSchedule(placeInOrder(worked, []), 1000, seededRandom(7), (done) => done < 10)
    expect(whole).toHaveLength(10)
  })
})

describe('24 fibers onto pigtails', () => {
  const one = (kind: string, k: number): Unit => ({ id: `${kind} ${k}`, can: [kind] })
  const atHand = (hands: number, splicers: number, ovens: number) =>
    [...Array(3).keys()].flatMap((k) => [
      ...(k < hands ? [one('splicing', k)] : []),
      ...(k < splicers ? [one('splicer', k)] : []),
      ...(k < ovens ? [one('oven', k)] : []),
      one('cleaver', k),
      one('thermal stripper', k),
    ])
  const splices = (count: number, ribbon: boolean): SpliceToMake[] =>
    Array.from({ length: count }, (_, k) => ({ id: `f${k + 1}`, name: `fiber ${k + 1}`, ribbon, after: [] }))
  const minutes = (count: number, ribbon: boolean, units: Unit[]) =>
    findSchedule(spliceTasks(splices(count, ribbon)), units, seededRandom(1), 40).end

  // Common practice, no published source: 45 minutes one by one, 12 as two ribbons.
  it('take about 45 minutes one by one and about 12 as two ribbons', () => {
    expect(Math.abs(minutes(24, false, atHand(1, 1, 1)) - 45)).toBeLessThan(2)
    expect(Math.abs(minutes(2, true, atHand(1, 1, 1)) - 12)).toBeLessThan(1.5)
  })

  it('hardly gain by a second oven or splicer while two hands do all, and much by a second pair', () => {
    const alone = minutes(24, false, atHand(1, 1, 1))
    expect(minutes(24, false, atHand(1, 1, 2))).toBeGreaterThan(alone - 1)
    expect(minutes(24, false, atHand(1, 2, 2))).toBeGreaterThan(alone - 1)
    const pair = minutes(24, false, atHand(2, 1, 1))
    expect(pair).toBeLessThan(0.6 * alone)
    expect(pair).toBeGreaterThan(0.5 * alone)
    expect(minutes(24, false, atHand(2, 2, 2))).toBeLessThanOrEqual(pair)
  })

  it('as ribbons wait for the one thermal stripper, whoever else is there', () => {
    const units = atHand(2, 2, 2)
    const few = units.filter(({ id }) => !/^thermal stripper [12]/.test(id))
    const strips = findSchedule(spliceTasks(splices(4, true)), few, seededRandom(1), 40).tasks.filter(({ task }) =>
      task.id.endsWith('/prepare'),
    )
    const inTurn = strips.toSorted((a, b) => a.start - b.start)
    inTurn.slice(1).forEach((strip, k) => expect(strip.start).toBeGreaterThanOrEqual(inTurn[k]!.end))
    expect(minutes(4, true, few)).toBeGreaterThan(minutes(4, true, units))
  })

  it('are never stored before the oven has let them go', () => {
    const schedule = findSchedule(spliceTasks(splices(24, false)), atHand(2, 1, 1), seededRandom(1), 20)
    const at = new Map(schedule.tasks.map((placed) => [placed.task.id, placed]))
    for (const splice of splices(24, false))
      expect(at.get(storedId(splice))!.start).toBeGreaterThanOrEqual(at.get(`${splice.id}/oven`)!.end)
  })
})

describe('who goes when nobody waits', () => {
  it('takes the first of the order given at each moment, and lets others into its gaps', () => {
    const tasks = [
      task('a', 2, [], ['hand']),
      task('shrink', 5, ['a'], ['oven']),
      task('store', 1, ['shrink'], ['hand']),
      task('b', 3, [], ['hand']),
    ]
    const units: Unit[] = [
      { id: 'p', can: ['hand'] },
      { id: 'o', can: ['oven'] },
    ]
    // b is done while the oven shrinks, though it stands last.
    expect(inDispatchOrder(tasks, units).map(({ id }) => id)).toEqual(['a', 'shrink', 'b', 'store'])
    expect(findSchedule(tasks, units, seededRandom(1), 0).end).toBe(8)
  })

  it('waits for what is pinned, and leaves what nobody can do to be refused by name', () => {
    const pinned = [{ ...task('a', 1, [], ['hand']), notBefore: 10 }, task('b', 1, [], ['hand'])]
    const one: Unit[] = [{ id: 'p', can: ['hand'] }]
    expect(inDispatchOrder(pinned, one).map(({ id }) => id)).toEqual(['b', 'a'])
    expect(placeInOrder(pinned, one).tasks.find(({ task: { id } }) => id === 'a')!.start).toBe(10)
    expect(() => findSchedule([task('a', 1, [], ['crane'])], one, seededRandom(1), 5)).toThrow(/"task a" needs crane/)
  })

  it('bounds a plan from below by what lies before and behind the busiest', () => {
    // Travel 10, three tasks of 5 for one hand, test 7: 10 + 15 + 7, where the longest chain is 22.
    const chain = [
      task('travel', 10),
      ...['a', 'b', 'c'].map((id) => task(id, 5, ['travel'], ['hand'])),
      task('test', 7, ['a', 'b', 'c']),
    ]
    const one: Unit[] = [{ id: 'p', can: ['hand', 'splice'] }]
    expect(criticalPath(chain).minutes).toBe(22)
    expect(lowerBound(chain, one)).toBe(32)
    expect(findSchedule(chain, one, seededRandom(1), 0).end).toBe(32)
  })
})

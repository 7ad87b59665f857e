import { describe, expect, it } from 'vitest'
import { testPlant } from '../../test/openFacts.ts'
import type { PlantBundle } from '../plant/types.ts'
import { expectedBack, paceOf, queueOf, spliceQueue, type QueueEvent } from './index.ts'

const PRIORITY: Record<number, number> = { 3: 2, 14: 1, 20: 3 }

function plant(fibers: readonly number[] = [3, 14, 20]): PlantBundle {
  return testPlant(
    fibers.map((fiber) => ({
      fiber,
      state: 'live',
      circuits: fiber in PRIORITY ? [{ name: `circuit ${fiber}`, priority: PRIORITY[fiber]! }] : [],
    })),
  )
}

const at = (minute: number) => new Date(Date.UTC(2026, 0, 1, 3, minute)).toISOString()
const ids = (fibers: readonly number[]) => fibers.map((fiber) => `a/${fiber}-b/${fiber}`)
const accepted = (fiber: number, minute: number): QueueEvent => ({
  kind: 'attempt',
  splice: `a/${fiber}-b/${fiber}`,
  outcome: 'accepted',
  at: at(minute),
})

describe('the queue of a closure', () => {
  it('has the record’s splices, the most important circuits first', () => {
    const queue = spliceQueue(plant(), { node: 'c' }, false)
    expect(queue.map(({ id }) => id)).toEqual(ids([14, 3, 20]))
    expect(queue[0]).toMatchObject({ priority: 1, circuits: [{ name: 'circuit 14' }] })
    expect(() => spliceQueue(plant(), { node: 'x' }, false)).toThrow(/no node “x”/)
  })

  it('takes the fibers of one ribbon at once, with the most important of their circuits', () => {
    const queue = spliceQueue(plant([1, 3, 5, 14]), { node: 'c' }, true)
    expect(queue.map(({ pairs }) => pairs.map(({ a }) => a.fiber))).toEqual([[14], [1, 3, 5]])
  })

  it('in a run has every fiber of the cable, those that carry something first; or those that the plan names', () => {
    const run = (fibers: readonly number[] | null) => spliceQueue(plant(), { cable: 'a', chainage: 400, fibers }, false)
    expect(run(null)).toHaveLength(48)
    expect(
      run(null)
        .slice(0, 4)
        .map(({ pairs }) => pairs[0]!.a.fiber),
    ).toEqual([14, 3, 20, 1])
    expect(run([7, 20]).map(({ pairs }) => pairs[0]!.a.fiber)).toEqual([20, 7])
    expect(spliceQueue(plant(), { cable: 'a', chainage: 400, fibers: null }, true)).toHaveLength(4)
  })
})

describe('where the queue stands', () => {
  const splices = spliceQueue(plant(), { node: 'c' }, false)
  it('goes on with the next; a redo stays where it is, a stop waits for its cause', () => {
    expect(queueOf(splices, []).current!.splice.id).toBe(ids([14])[0])
    const redo: QueueEvent = { kind: 'attempt', splice: ids([14])[0]!, outcome: 'redo', at: at(1) }
    expect(queueOf(splices, [redo]).current).toMatchObject({
      state: 'begun',
      attempts: 1,
      splice: { id: ids([14])[0] },
    })
    const stopped: QueueEvent = { ...redo, outcome: 'stopped' }
    expect(queueOf(splices, [stopped]).current!.splice.id).toBe(ids([3])[0])
  })

  it('what is put off comes at the end with its reason; what is asked for comes now', () => {
    const later: QueueEvent = { kind: 'skipped', splice: ids([14])[0]!, reason: 'tube not open yet' }
    const queue = queueOf(splices, [later])
    expect(queue.splices.map(({ splice }) => splice.id)).toEqual(ids([3, 20, 14]))
    expect(queue.splices.at(-1)).toMatchObject({ state: 'skipped', reason: 'tube not open yet' })
    expect(queueOf(splices, [later, accepted(3, 2), accepted(20, 4)]).current!.splice.id).toBe(ids([14])[0])
    expect(queueOf(splices, [{ kind: 'first', splice: ids([20])[0]! }]).current!.splice.id).toBe(ids([20])[0])
  })

  it('a link is joined when all of its splices here are; the others are expected in their order', () => {
    const queue = queueOf(splices, [accepted(14, 5)])
    expect(queue.restored).toMatchObject([{ link: { id: 'l14' }, at: at(5) }])
    expect(
      expectedBack(queue, { minutes: 2, source: 'splicing times' }).map(({ link, minutes }) => [link.id, minutes]),
    ).toEqual([
      ['l3', 2],
      ['l20', 4],
    ])
    const stopped: QueueEvent = { kind: 'attempt', splice: ids([3])[0]!, outcome: 'stopped', at: at(9) }
    expect(
      expectedBack(queueOf(splices, [accepted(14, 5), stopped]), { minutes: 2, source: 'splicing times' }),
    ).toHaveLength(1)
  })
})

// 24 fibers one by one 45 minutes, as two ribbons 12 minutes: common practice, no published source.
describe('pace', () => {
  it('is the book’s until the session tells its own', () => {
    expect(24 * paceOf([], false).minutes).toBeCloseTo(45, 0)
    expect(2 * paceOf([], true).minutes).toBeCloseTo(12, 0)
  })
  it('is the middle gap of what was accepted: a break does not count', () => {
    expect(paceOf([0, 3, 6, 46, 49].map(at), false)).toEqual({ minutes: 3, source: 'this session' })
  })
  it('is the book’s where splices were entered afterwards, one upon the other', () => {
    expect(paceOf([0, 0, 0, 0, 0].map(at), false).source).toBe('splicing times')
  })
})

import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { breakAt } from '../../../test/faults.ts'
import { fullKit } from '../../../test/kit.ts'
import { twoCablePlant } from '../../../test/plants.ts'
import type { Link } from '../../plant/types.ts'
import { seededRandom } from '../../math/random.ts'
import { FIRST_SCENARIO, unitsOf, type Scenario } from '../logistics/crews.ts'
import type { PlanEdit } from './edits.ts'
import { inRuns, orderOfWork } from './orderOfWork.ts'
import { SITE_DEFAULTS } from '../planRules.ts'
import { proposeRepairs } from '../propose.ts'
import { deskList, fiberRoll } from './fiberRoll.ts'
import { placeInOrder } from './schedule.ts'
import type { Step } from './steps.ts'

/** A cable of 48 fibers with links of given priorities on given fibers. */
function busyPlant(priorities: Record<number, number>) {
  const plant = twoCablePlant()
  plant.cables.forEach((cable) => (cable.fiberCount = 48))
  const model = plant.links[0]!
  plant.links = Object.entries(priorities).map(([fiber, priority]): Link => {
    const link = structuredClone(model)
    link.path = link.path.map((step) => ('cable' in step ? { ...step, fiber: Number(fiber) } : step))
    return { ...link, id: `l${fiber}`, name: `link ${fiber}`, circuits: [{ name: `circuit ${fiber}`, priority }] }
  })
  return plant
}

function planOf(
  priorities: Record<number, number>,
  scenario: Partial<Scenario> = {},
  edits: PlanEdit[] = [],
  far = false,
) {
  const plant = busyPlant(priorities)
  const kit = fullKit([], 2)
  const how = { ...FIRST_SCENARIO, ...scenario }
  const proposal = proposeRepairs({
    plant,
    linkId: plant.links[0]!.id,
    fault: breakAt('b', 2000),
    hit: null,
    kit,
    scenario: how,
    site: far ? { ...SITE_DEFAULTS, toBench: 50 } : { ...SITE_DEFAULTS, toBench: 1, preparation: 1, lost: 1 },
  })
  const input = {
    steps: proposal.lasting!.steps,
    units: unitsOf(kit, how),
    hit: proposal.hit,
    tubeSize: 12,
    edits,
    random: seededRandom(5),
    tries: 20,
    runs: 200,
  }
  return { plan: orderOfWork(input), proposal, input, plant }
}

describe('an order of work', () => {
  const { plan, plant, input } = planOf({ 5: 3, 30: 1, 31: 2 })

  it('brings important circuits back first, their tube before the others', () => {
    expect(plan.restored.map(({ linkId }) => linkId)).toEqual(['l30', 'l31', 'l5'])
    const tubes = plan.lines.filter(({ kind }) => kind === 'splice').map(({ name }) => name)
    expect(tubes[0]).toMatch(/^open tube 3, splice fibers 30, 31, /)
  })

  it('stands on a page: a line for a step or a tube’s splices, not one for each of hundreds of tasks', () => {
    expect(plan.steps).toBeGreaterThan(190)
    expect(plan.lines.length).toBeLessThan(25)
    expect(plan.lines[0]!.name).toMatch(/^travel/)
  })

  it('has its 50 and 90 % finish in order, and no less than its bound', () => {
    expect(plan.finish.p50).toBeLessThan(plan.finish.p90)
    expect(plan.finish.planned).toBeGreaterThanOrEqual(plan.bound - 1e-6)
    for (const { at } of plan.restored) expect(at.p50).toBeLessThan(at.p90)
    expect(plan.curve.map(({ links }) => links)).toEqual([1, 2, 3])
    for (const { early, median, late } of plan.curve)
      expect([early, median, late]).toEqual([early, median, late].sort((a, b) => a - b))
  })

  it('shows a chain from its first step to its last', () => {
    const chain = plan.lines.filter(({ onChain }) => onChain)
    expect(Math.min(...chain.map(({ start }) => start))).toBe(0)
    expect(Math.max(...chain.map(({ end }) => end.planned))).toBeCloseTo(plan.finish.planned, 6)
  })

  it('says when light may blink first: where the cable is cut and prepared, after travel and digging', () => {
    expect(plan.outage!.firstTouch).toMatch(/^prepare cable end/)
    expect(plan.outage!.touchAt).toBeGreaterThan(60)
    expect(plan.outage!.p50).toBeLessThan(plan.outage!.p90)
  })

  it('gives the desk what blinks and when, and the roll of fibers', () => {
    expect(deskList(plan, true).map(({ dark }) => dark)).toEqual([null, null, null])
    // The cut darkens all of them at once.
    expect(deskList(plan, false).map(({ dark }) => dark)).toEqual(Array(3).fill(plan.outage!.touchAt))
    const roll = fiberRoll(plant, plant.cables[1]!, 2000)
    expect(roll).toHaveLength(48)
    // TIA-598-D: fiber 30 is the sixth of the third tube: green, white.
    expect(roll[29]).toMatchObject({ tube: 3, linkId: 'l30', colors: 'tube 3 green, fiber 6 white' })
  })

  it('that moves circuits one by one tells the desk each one’s own time', () => {
    const steps = (fiber: number): Step[] => [
      {
        id: `patch@p@${fiber}`,
        kind: 'patch',
        name: `patch fiber ${fiber}`,
        site: 'panel',
        minutes: { best: 4, likely: 4, worst: 4 },
        after: [],
        needs: ['testing'],
        fibers: [fiber],
      },
      {
        id: `confirm@p@l${fiber}`,
        kind: 'confirm',
        name: 'desk confirms light',
        site: 'panel',
        minutes: { best: 1, likely: 1, worst: 1 },
        after: [`patch@p@${fiber}`],
        needs: [],
        restores: [`l${fiber}`],
      },
    ]
    const moved = orderOfWork({
      ...input,
      steps: [30, 31, 5].flatMap(steps),
      units: [{ id: 'person/1', can: ['testing'] }],
      random: seededRandom(5),
    })
    expect(deskList(moved, false).map(({ linkId, dark, back }) => [linkId, dark, back.p50])).toEqual([
      ['l30', 0, 5],
      ['l31', 4, 9],
      ['l5', 8, 13],
    ])
  })

  it('is the same again from the same seed', () => {
    expect(orderOfWork({ ...input, random: seededRandom(5) }).finish).toEqual(plan.finish)
  })
})

describe('what-ifs move the plan sensibly', () => {
  const priorities = { 5: 1, 17: 2, 30: 3 }
  const finish = (scenario: Partial<Scenario>, far = false) => planOf(priorities, scenario, [], far).plan.finish.planned
  it('ribbons and more hands are quicker, a second splicer only where hands wait for the first', () => {
    const one = finish({})
    // Two people: 112 s of hands a fiber shared by two are more than the splicer's 35 s.
    expect(Math.abs(finish({ splicers: 2 }) - one)).toBeLessThan(5)
    // Four people: 28 s of hands a fiber, less than the splicer's 35 s.
    expect(finish({ crews: 2, splicers: 2 })).toBeLessThan(finish({ crews: 2, splicers: 1 }) - 3)
    expect(finish({ crews: 2, splicers: 2 })).toBeLessThan(one - 15)
    expect(finish({ ribbon: true })).toBeLessThan(one - 15)
    const section = finish({}, true)
    expect(section).toBeGreaterThan(one)
    expect(finish({ crews: 2, splicers: 2 }, true)).toBeLessThan(section - 60)
    const both = finish({ crews: 2, splicers: 2, haulFromBothEnds: true }, true)
    expect(both).toBeLessThan(finish({ crews: 2, splicers: 2 }, true))
  })
})

describe('a person’s changes', () => {
  const priorities = { 5: 1, 17: 2, 30: 3 }
  const base = planOf(priorities)
  const tubes = base.plan.lines.filter(({ kind }) => kind === 'splice')

  it('put one line before another', () => {
    const [first, , third] = tubes
    const { plan } = planOf(priorities, {}, [{ kind: 'before', line: third!.id, other: first!.id }])
    expect(plan.restored[0]!.linkId).toBe('l30')
  })

  it('pin a line, and what follows moves with it', () => {
    const { plan } = planOf(priorities, {}, [{ kind: 'pin', line: tubes[0]!.id, minutes: 500 }])
    const pinned = plan.lines.find(({ id }) => id === tubes[0]!.id)!
    expect(pinned.start).toBeGreaterThanOrEqual(500)
    expect(pinned.pinned).toBe(true)
    expect(plan.finish.planned).toBeGreaterThan(base.plan.finish.planned)
  })

  it('that turn the order in a circle are refused with the steps named', () => {
    const [travel] = base.plan.lines
    const close = base.plan.lines.find(({ kind }) => kind === 'close')!
    expect(() => planOf(priorities, {}, [{ kind: 'before', line: close.id, other: travel!.id }])).toThrow(
      /each waits for the one before: .*travel/,
    )
  })

  it('never let a schedule break an order or use anybody twice', () => {
    const lines = tubes.map(({ id }) => id)
    fc.assert(
      fc.property(
        fc.shuffledSubarray(lines, { minLength: 2, maxLength: 2 }),
        fc.integer({ min: 1, max: 3 }),
        (pair, splicers) => {
          const { input } = planOf(priorities, { splicers }, [])
          const edits: PlanEdit[] = [{ kind: 'before', line: pair[0]!, other: pair[1]! }]
          const { plan } = planOf(priorities, { splicers }, edits)
          const start = (id: string) => plan.lines.find((line) => line.id === id)!.start
          expect(start(pair[0]!)).toBeLessThan(start(pair[1]!))
          const { tasks } = placeInOrder(input.steps, input.units)
          const ends = new Map(tasks.map(({ task, end }) => [task.id, end]))
          const early = tasks.filter(({ task, start: begin }) =>
            [...task.after].some((before) => !(begin >= ends.get(before)! - 1e-9)),
          )
          expect(early).toEqual([])
          const busy = new Map<string, [number, number][]>()
          const twice: string[] = []
          for (const { units, start: from, end } of tasks)
            for (const unit of units) {
              const times = busy.get(unit) ?? []
              if (times.some(([a, b]) => !(from >= b - 1e-9 || end <= a + 1e-9))) twice.push(unit)
              busy.set(unit, [...times, [from, end]])
            }
          expect(twice).toEqual([])
        },
      ),
      { numRuns: 12, endOnFailure: true },
    )
  })
})

describe('numbers in words', () => {
  it('are drawn together where they run on', () => {
    expect(inRuns([5, 7, 1, 2, 3, 4, 8])).toBe('5, 7, 1 to 4, 8')
    expect(inRuns([1, 2])).toBe('1, 2')
    expect(inRuns([])).toBe('')
  })
})

import fc from 'fast-check'
import { breakAt } from '../test/faults.ts'
import { fullKit } from '../test/kit.ts'
import { twoCablePlant } from '../test/plants.ts'
import { instances, shortest, UNITS } from '../test/smallNetworks.ts'
import {
  findSchedule,
  lowerBound,
  orderOfWork,
  proposeRepairs,
  simulateSchedule,
  SITE_DEFAULTS,
  unitsOf,
  type Scenario,
} from '../src/plan/index.ts'
import { seededRandom } from '../src/math/index.ts'

const SIZES = [144, 432, 864]
const RUNS = 1000
const SMALL = 300

/** How far schedules are from the best, and how long plans of whole cables take. */
export function benchPlan(): void {
  console.log('\nplans: small networks of up to 8 tasks against the shortest by trying everything')
  const gaps = fc.sample(instances(8), { numRuns: SMALL, seed: 20_261_126 }).map((tasks) => {
    const best = shortest(tasks)
    return findSchedule(tasks, UNITS, seededRandom(1), 400).end / best - 1
  })
  const exact = gaps.filter((gap) => gap < 1e-9).length
  console.log(
    `the shortest in ${((100 * exact) / SMALL).toFixed(1)} % of ${SMALL}, largest gap ${(100 * Math.max(...gaps)).toFixed(1)} %`,
  )
  console.log('\na cable cut, two crews, four splicers: one closure with every fiber spliced')
  console.log('fibers  tasks  proposal ms  first schedule ms  us a task  1,000 runs s  over the bound')
  for (const fibers of SIZES) console.log(rowOf(fibers))
}

function rowOf(fibers: number): string {
  const plant = twoCablePlant()
  plant.cables.forEach((cable) => (cable.fiberCount = fibers))
  const kit = fullKit([], 2)
  const scenario: Scenario = { crews: 2, splicers: 4, ribbon: false, haulFromBothEnds: false }
  const site = { ...SITE_DEFAULTS, toBench: 1, preparation: 1, lost: 1 }
  const input = { plant, linkId: plant.links[0]!.id, fault: breakAt('b', 2000), hit: null, kit, scenario, site }
  const begun = performance.now()
  const { lasting, hit } = proposeRepairs(input)
  const proposed = performance.now()
  const steps = lasting!.steps
  const units = unitsOf(kit, scenario)
  const before = performance.now()
  const schedule = findSchedule(steps, units, seededRandom(1), 0)
  const scheduled = performance.now()
  simulateSchedule(schedule, RUNS, seededRandom(1))
  const simulated = performance.now()
  const order = orderOfWork({ steps, units, hit, tubeSize: 12, edits: [], random: seededRandom(1), tries: 0, runs: 1 })
  const gap = order.finish.planned / lowerBound(steps, units) - 1
  return [
    String(fibers).padEnd(6),
    String(steps.length).padStart(6),
    (proposed - begun).toFixed(0).padStart(12),
    (scheduled - before).toFixed(0).padStart(18),
    ((1000 * (scheduled - before)) / steps.length).toFixed(0).padStart(10),
    ((simulated - scheduled) / 1000).toFixed(1).padStart(13),
    `${(100 * gap).toFixed(1)} %`.padStart(15),
  ].join(' ')
}

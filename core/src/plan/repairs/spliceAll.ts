import { inCircuitOrder, type HitFiber } from './hit.ts'
import type { RepairCase } from './repairs.ts'
import { spliceTasks, storedId } from '../schedule/splicing.ts'
import type { Site, StepList } from '../schedule/steps.ts'

/** Splices laid into a plan. */
export interface LaidSplices {
  count: number
  /** Ids of the last steps of all of them. */
  stored: string[]
  /** Of those that join some fibers. */
  storedOf(fibers: readonly number[]): string[]
}

/** Fibers that a ribbon holds (common practice). */
const RIBBON = 12

/**
 * Splices fibers in the order of their circuits: singly, or ribbon by ribbon.
 * @param afterTube what must be done before a tube's fibers are spliced
 */
export function spliceAll(
  list: StepList,
  repair: RepairCase,
  site: Site,
  fibers: readonly HitFiber[],
  afterTube: (tube: number) => readonly string[],
  ribbon = repair.scenario.ribbon,
): LaidSplices {
  const groups = inCircuitOrder(fibers, ribbon ? RIBBON : repair.cable.tubeSize)
  const units: number[][] = groups.flatMap(({ fibers: some }) =>
    ribbon ? [some.map(({ fiber }) => fiber)] : some.map(({ fiber }) => [fiber]),
  )
  // Dark fibers wait until all circuits are back.
  const lit = new Set(fibers.filter(({ link }) => link).map(({ fiber }) => fiber))
  const ordered = [
    ...units.filter((some) => some.some((fiber) => lit.has(fiber))),
    ...units.filter((some) => !some.some((fiber) => lit.has(fiber))),
  ]
  const splices = ordered.map((some) => {
    const splice = {
      id: `splice@${site.id}@${some[0]}`,
      name: ribbon ? `ribbon of fibers ${Math.min(...some)} to ${Math.max(...some)}` : `fiber ${some[0]}`,
      ribbon,
      // A tube is opened when its first splice comes.
      after: afterTube(Math.ceil(some[0]! / repair.cable.tubeSize)),
      fibers: some,
    }
    list.take(spliceTasks([splice], repair.rules.splicing), 'splice', site, () => some)
    return splice
  })
  return {
    count: splices.length,
    stored: splices.map(storedId),
    storedOf: (wanted) =>
      splices.filter((splice) => splice.fibers.some((fiber) => wanted.includes(fiber))).map(storedId),
  }
}

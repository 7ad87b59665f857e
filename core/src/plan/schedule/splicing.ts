import type { Task } from './network.ts'
import { spreadBy, type ThreePoint } from './threePoint.ts'

/** Times of fusion splicing, seconds. Data, so that an operator can keep a book of its own. */
export interface SplicingTimes {
  name: string
  version: number
  source: string
  /** Part by which a step may be shorter or longer. */
  spread: number
  single: SpliceSteps
  ribbon: SpliceSteps
}

/** One splice: hands for all but the oven, which shrinks the sleeve by itself. */
export interface SpliceSteps {
  /** Sleeve on, strip, clean and cleave both sides. */
  prepare: number
  /** Load, splice and proof, lift into the oven. */
  splice: number
  oven: number
  store: number
}

/**
 * Common practice: 24 fibers on pigtails 45 minutes one by one, 12 minutes as two ribbons of 12, the next one prepared
 * while the oven shrinks the last; steps made to fit that, and how a ribbon's six minutes divide is judgement.
 */
export const SPLICING_TIMES: SplicingTimes = {
  name: 'splicing times',
  version: 1,
  source: 'common practice, no published source',
  spread: 0.2,
  single: { prepare: 65, splice: 35, oven: 35, store: 12 },
  ribbon: { prepare: 240, splice: 60, oven: 40, store: 60 },
}

/** A splice to be made: a fiber, or a ribbon of fibers. */
export interface SpliceToMake {
  id: string
  name: string
  ribbon: boolean
  /** Ids of tasks that must be done before, such as the cable's preparation. */
  after: readonly string[]
}

/** What a splice needs: a person who can splice, and tools; ribbons are stripped hot. */
export const SPLICE_NEEDS = {
  hand: 'splicing',
  cleaver: 'cleaver',
  stripper: 'thermal stripper',
  splicer: 'splicer',
  oven: 'oven',
} as const

/** Id of the task with which a splice is done and stored. */
export function storedId(splice: Pick<SpliceToMake, 'id'>): string {
  return `${splice.id}/store`
}

/** The tasks of splices, each one's in their order: prepare, splice, oven, store. */
export function spliceTasks(splices: readonly SpliceToMake[], times: SplicingTimes = SPLICING_TIMES): Task[] {
  const { hand, cleaver, stripper, splicer, oven } = SPLICE_NEEDS
  return splices.flatMap((splice) => {
    const steps = splice.ribbon ? times.ribbon : times.single
    const minutes = (seconds: number): ThreePoint => spreadBy(seconds / 60, times.spread)
    const task = (step: string, seconds: number, needs: readonly string[], after: readonly string[]): Task => ({
      id: `${splice.id}/${step}`,
      name: `${step} ${splice.name}`,
      minutes: minutes(seconds),
      after,
      needs,
    })
    return [
      task('prepare', steps.prepare, [hand, cleaver, ...(splice.ribbon ? [stripper] : [])], splice.after),
      task('splice', steps.splice, [hand, splicer], [`${splice.id}/prepare`]),
      task('oven', steps.oven, [oven], [`${splice.id}/splice`]),
      task('store', steps.store, [hand], [`${splice.id}/oven`]),
    ]
  })
}

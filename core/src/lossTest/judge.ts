import type { Direction, PlantBundle } from '../plant/types.ts'
import { isCableStep } from '../plant/check.ts'
import { lossBudget, SPLICE_LIMIT, type LossBudget } from './budget.ts'
import { holdsAgainst } from '../ruleBook/rules.ts'
import { againstBaseline, type LossBaseline, type LossChange } from './baseline.ts'
import type { LoggedReading } from './log.ts'
import { amongNeighbours } from './neighbours.ts'
import { measuredLoss, type MeasuredLoss } from './reading.ts'

export type LossWord = 'within' | 'close' | 'over' | 'no proof' | 'no limit'

/** A loss by source and meter, held against the budget and against its neighbours. */
export interface LossFigure extends MeasuredLoss {
  reading: LoggedReading
  /** The link's name, and where the light comes from. */
  name: string
  from: string
  wavelength: number
  way: Direction
  budget: LossBudget
  word: LossWord
  /** In words, the most important first. */
  reasons: string[]
  /** What would settle it, or mend it; null where nothing is to be done. */
  next: string | null
}

const dB = (value: number) => `${value.toFixed(2)} dB`

/**
 * Judges every reading: as a measurement, against the budget that belongs to its reference, and against the other fibers of
 * its cable's tube that were read at the same wavelength and way.
 * @param moreSplices splices that the repair added, by link
 * @param baselines losses of the same links when they were last proved
 */
export function judgeLosses(
  plant: PlantBundle,
  readings: readonly LoggedReading[],
  moreSplices: Readonly<Record<string, number>> = {},
  baselines: readonly LossBaseline[] = [],
): LossFigure[] {
  const measured = readings.map((reading) => ({
    reading,
    measured: measuredLoss(reading.level, reading.at, reading.reference, reading.reference.means),
    tube: tubeOf(plant, reading.link),
  }))
  return measured.flatMap(({ reading, measured: one, tube }): LossFigure[] => {
    const link = plant.links.find(({ id }) => id === reading.link)
    if (!link) return []
    const { wavelength, method } = reading.reference
    const budget = lossBudget(plant, link, wavelength, method, moreSplices[link.id] ?? 0)
    const others = measured.filter(
      (other) =>
        other.reading !== reading &&
        other.tube === tube &&
        tube !== null &&
        other.reading.way === reading.way &&
        other.reading.reference.wavelength === wavelength &&
        other.reading.reference.method === method &&
        other.measured.against.length === 0,
    )
    const beside = amongNeighbours(
      one.loss,
      others.map((other) => other.measured.loss),
      one.sigma,
    )
    const splices = moreSplices[link.id] ?? 0
    const change = againstBaseline(one, reading, baselines, splices, SPLICE_LIMIT.value)
    const start = reading.way === 'ab' ? link.from : link.to
    const from = plant.nodes.find(({ id }) => id === start)?.name ?? start
    return [
      {
        ...one,
        reading,
        name: link.name,
        from,
        wavelength,
        way: reading.way,
        budget,
        ...withChange(wordOf(one, budget, beside), change),
      },
    ]
  })
}

function wordOf(
  { loss, sigma, against, remarks }: MeasuredLoss,
  { allowed, missing }: LossBudget,
  beside: ReturnType<typeof amongNeighbours>,
): Pick<LossFigure, 'word' | 'reasons' | 'next'> {
  const spread = `${dB(loss)} ± ${dB(2 * sigma)}`
  if (against.length > 0)
    return { word: 'no proof', reasons: [...against], next: 'set the reference again and read anew' }
  const stands = beside?.stands
    ? [
        `${dB(loss - beside.middle)} over the middle of its tube, ${dB(beside.middle)}: none of its neighbours is so high`,
      ]
    : []
  if (allowed === null)
    return {
      word: 'no limit',
      reasons: [`${spread}; ${missing ?? 'no limit is here'}`, ...stands, ...remarks],
      next: 'compare it with the baseline: no budget is here',
    }
  const holds = holdsAgainst(loss, sigma, allowed)
  if (holds === 'no')
    return {
      word: 'over',
      reasons: [`${spread}, over the ${dB(allowed)} of its budget`, ...stands, ...remarks],
      next: 'inspect and clean both end connections and read again; then look for it on the trace',
    }
  if (holds === 'close')
    return {
      word: 'close',
      reasons: [`${spread}, close to the ${dB(allowed)} of its budget`, ...stands, ...remarks],
      next: 'read it again with reference-grade cords and a reference just set',
    }
  const reasons = [`${spread}, within the ${dB(allowed)} of its budget`, ...stands, ...remarks]
  return stands.length > 0
    ? { word: 'close', reasons, next: 'within its budget, but look for a bend or a dirty connection' }
    : { word: 'within', reasons, next: null }
}

/** What the baseline says besides: more than the repair explains is over, whatever the budget leaves. */
function withChange(
  told: Pick<LossFigure, 'word' | 'reasons' | 'next'>,
  change: LossChange | null,
): Pick<LossFigure, 'word' | 'reasons' | 'next'> {
  if (!change || told.word === 'no proof') return told
  const { word, reasons, next } = told
  if (change.holds === 'no' && word !== 'over')
    return {
      word: 'over',
      reasons: [change.words, ...reasons],
      next: 'inspect and clean both end connections and read again; then look for it on the trace',
    }
  const both = [...reasons, change.words]
  if (change.holds === 'close' && word === 'within')
    return { word: 'close', reasons: both, next: 'read it again with reference-grade cords and a reference just set' }
  return { word, reasons: both, next }
}

/** Cable and tube of a link's first fiber: who its neighbours are. */
function tubeOf(plant: PlantBundle, linkId: string): string | null {
  const first = plant.links.find(({ id }) => id === linkId)?.path.find(isCableStep)
  const cable = plant.cables.find(({ id }) => id === first?.cable)
  if (!first || !cable) return null
  return `${cable.id} ${Math.ceil(first.fiber / Math.max(1, cable.tubeSize))}`
}

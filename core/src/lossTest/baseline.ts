import type { LoggedEntry } from '../log/standing.ts'
import type { Direction } from '../plant/types.ts'
import { PAIR_LIMIT } from './budget.ts'
import { lossTestsOf, type LoggedReading } from './log.ts'
import { measuredLoss } from './reading.ts'
import { convertLoss, type ReferenceMethod } from './reference.ts'

/** A loss by source and meter that a link is held against: read when it was last proved. */
export interface LossBaseline {
  link: string
  way: Direction
  /** nm */
  wavelength: number
  method: ReferenceMethod
  /** dB, with its standard uncertainty */
  loss: number
  sigma: number
  /** ISO */
  at: string
}

/**
 * A growth within so many combined standard uncertainties is none (JCGM 100, k = 2); beyond so many it is one, in between it is
 * close (judgement: a cable has many fibers, and each may be read wrong by chance).
 */
const SPREADS = { same: 2, grown: 3 }

/** Losses of a callout's log that may stand as a baseline. */
export function lossBaselinesOf(log: readonly LoggedEntry[]): LossBaseline[] {
  return lossTestsOf(log).readings.flatMap(({ level, at, reference, link, way }): LossBaseline[] => {
    const { loss, sigma, against } = measuredLoss(level, at, reference, reference.means)
    const { wavelength, method } = reference
    return against.length > 0 ? [] : [{ link, way, wavelength, method, loss, sigma, at }]
  })
}

/** What a reading is against its baseline. */
export interface LossChange {
  /** Whether it may be: `no` is more than the repair explains. */
  holds: 'yes' | 'close' | 'no' | 'refused'
  words: string
}

/**
 * Holds a loss against its baseline of the same wavelength and way. One that was read with another reference is converted, and
 * said to be; where both together could hide a mated pair the comparison is refused (judgement).
 * @param splices that the repair added, @param each what one of them may lose, dB
 * @returns null without a baseline
 */
export function againstBaseline(
  { loss, sigma }: { loss: number; sigma: number },
  { link, way, reference: { wavelength, method } }: Pick<LoggedReading, 'link' | 'way' | 'reference'>,
  baselines: readonly LossBaseline[],
  splices: number,
  each: number,
): LossChange | null {
  const own = baselines
    .filter((one) => one.link === link && one.way === way && one.wavelength === wavelength)
    .sort((a, b) => a.at.localeCompare(b.at))
    .at(-1)
  if (!own) return null
  const then = convertLoss(own, own.method, method)
  const change = loss - then.loss
  const spread = Math.hypot(sigma, then.sigma)
  const of = `baseline of ${own.at.slice(0, 10)}, ${own.loss.toFixed(2)} dB by ${own.method} reference`
  const converted =
    own.method === method
      ? ''
      : `, as ${method} ${then.loss.toFixed(2)} ± ${(2 * then.sigma).toFixed(2)} dB by typical pairs`
  if (2 * spread > PAIR_LIMIT.value)
    return {
      holds: 'refused',
      words: `not compared with the ${of}${converted}: ± ${(2 * spread).toFixed(2)} dB could hide a mated pair`,
    }
  const allowed = splices * each
  const grown = (change - allowed) / spread
  const holds = grown > SPREADS.grown ? 'no' : grown > SPREADS.same ? 'close' : 'yes'
  const told = `${Math.abs(change).toFixed(2)} ± ${(2 * spread).toFixed(2)} dB ${change < 0 ? 'less' : 'more'} than the ${of}${converted}`
  return { holds, words: holds === 'no' ? `${told}, of which the repair explains ${allowed.toFixed(2)} dB` : told }
}

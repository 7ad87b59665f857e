import { typicalFiber } from '../../fiber/backscatter.ts'
import { buildThread } from '../../plant/thread.ts'
import type { Link, PlantBundle } from '../../plant/types.ts'
import { lossBudget } from '../../lossTest/budget.ts'
import type { PlacedFault } from './placed.ts'

/** Typical joints, dB (judgement), for links without a baseline. */
export const TYPICAL = {
  pair: { loss: 0.3, sigma: 0.15 },
  splice: { loss: 0.05, sigma: 0.04 },
  perKilometreSigma: 0.02,
}

/** A loss with its standard uncertainty, dB. */
export interface Loss {
  loss: number
  sigma: number
}

/** Loss of a link end to end at one wavelength: as it was, as it is, as it will be. dB. */
export interface ProjectedLoss {
  link: Link
  wavelength: number
  /** `measured` where baselines from both ends or one are at hand, else estimated from the records. */
  before: Loss & { from: 'measured' | 'estimated' }
  /** null where no light passes, or the fault's loss on this link is not known. */
  now: number | null
  dark: boolean
  after: Loss
  /** What the budget allows with the joints there will be. */
  limit: number
  /** `limit − after`; its uncertainty is that of `after`. */
  margin: number
}

/** What a repair changes on a link: joints it adds, and a pair it renews. */
export interface LossChange {
  splices: number
  added: Loss
}

/** End-to-end loss of a link as measured before the fault, by link and wavelength, dB. */
export type MeasuredLosses = Record<string, Record<string, Loss>>

function countOf(plant: PlantBundle, link: Link): { kilometres: number; pairs: number; splices: number } {
  const thread = buildThread(plant, link.id)
  const pairs = thread.nodes.filter(({ joint }) => joint === 'connector').length
  const splices = thread.nodes.filter(({ joint }) => joint === 'splice' || joint === 'mechanical').length
  return { kilometres: thread.fiberLength / 1000, pairs, splices }
}

/** Loss as the records let expect it, dB, with what fibers and joints differ by. */
export function estimatedLoss(plant: PlantBundle, link: Link, wavelength: number): Loss {
  const { kilometres, pairs, splices } = countOf(plant, link)
  return {
    loss: kilometres * typicalFiber(wavelength).attenuation + pairs * TYPICAL.pair.loss + splices * TYPICAL.splice.loss,
    sigma: Math.hypot(
      kilometres * TYPICAL.perKilometreSigma,
      Math.sqrt(pairs) * TYPICAL.pair.sigma,
      Math.sqrt(splices) * TYPICAL.splice.sigma,
    ),
  }
}

/** Losses of a link before, now and after a repair that makes `change`, at the wavelengths that the budget has limits for. */
export function projectLoss(
  plant: PlantBundle,
  link: Link,
  fault: PlacedFault,
  change: LossChange,
  measured: MeasuredLosses,
  /** The link that the fault was measured on. */
  measuredOn: string = link.id,
): ProjectedLoss[] {
  const wavelengths = Object.keys(fault.loss).map(Number)
  return (wavelengths.length > 0 ? wavelengths : [1310, 1550]).flatMap((wavelength): ProjectedLoss[] => {
    const limit = lossBudget(plant, link, wavelength, 'one-cord', change.splices).allowed
    if (limit === null) return []
    const known = measured[link.id]?.[String(wavelength)]
    const before = known
      ? { ...known, from: 'measured' as const }
      : { ...estimatedLoss(plant, link, wavelength), from: 'estimated' as const }
    const fromFault = link.id === measuredOn ? (fault.loss[String(wavelength)] ?? null) : null
    const after = {
      loss: before.loss + change.added.loss,
      sigma: Math.hypot(before.sigma, change.added.sigma),
    }
    return [
      {
        link,
        wavelength,
        before,
        now: fault.breaks || fromFault === null ? null : before.loss + fromFault,
        dark: fault.breaks,
        after,
        limit,
        margin: limit - after.loss,
      },
    ]
  })
}

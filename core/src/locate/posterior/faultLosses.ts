import type { Calibration } from '../records/calibrate.ts'
import type { Candidate, Pairing } from './candidates.ts'
import { lossAtPlace } from './lossAtPlace.ts'

/** Instruments agree on a loss to about this, dB (common practice). */
const INSTRUMENTS_AGREE_DB = 0.02
/** Of a loss whose uncertainty is not known, dB (judgement). */
const UNKNOWN_SIGMA_DB = 0.05

/** Added loss of a fault at one wavelength, dB, with its standard uncertainty. */
export interface LossAt {
  wavelength: number
  loss: number
  sigma: number
}

/** Loss at the place of a fault in the pairs of traces that do not show it by themselves. */
export function quietLosses(
  calibrated: Calibration,
  pairings: readonly Pairing[],
  candidates: readonly Candidate[],
  measured: { fiber: number } | null,
): LossAt[] {
  // A loss spread over a stretch has no one place at which to measure it.
  if (!measured || candidates.some((candidate) => candidate.extent > 0)) return []
  const wavelengthOf = ({ present }: Pairing) => present.analysis.trace.wavelength
  return pairings
    .filter(
      (pairing) =>
        !candidates.some((c) => c.direction === pairing.present.direction && c.wavelength === wavelengthOf(pairing)),
    )
    .flatMap((pairing) => {
      const found = lossAtPlace(calibrated, pairing, measured.fiber)
      return found ? [{ wavelength: wavelengthOf(pairing), ...found }] : []
    })
}

/** Mean loss at each wavelength with its standard uncertainty, shortest wavelength first. */
export function lossesOf(candidates: readonly Candidate[], quiet: readonly LossAt[]): LossAt[] {
  const all = [
    ...candidates.flatMap((c) =>
      c.loss !== null && !c.breaks
        ? [{ wavelength: c.wavelength, loss: c.loss, sigma: c.lossSigma ?? UNKNOWN_SIGMA_DB }]
        : [],
    ),
    ...quiet,
  ]
  const wavelengths = [...new Set(all.map(({ wavelength }) => wavelength))].sort((a, b) => a - b)
  return wavelengths.map((wavelength) => {
    const own = all.filter((one) => one.wavelength === wavelength)
    const variance = own.reduce((sum, one) => sum + one.sigma ** 2, 0) / own.length ** 2
    return {
      wavelength,
      loss: own.reduce((sum, one) => sum + one.loss, 0) / own.length,
      sigma: Math.hypot(Math.sqrt(variance), INSTRUMENTS_AGREE_DB),
    }
  })
}

/** One figure of the losses by wavelength in nm; null at wavelengths that show the fault without a loss to measure. */
export function byWavelength(
  candidates: readonly Candidate[],
  losses: readonly LossAt[],
  of: 'loss' | 'sigma',
): Record<string, number | null> {
  const out: Record<string, number | null> = {}
  for (const { wavelength } of candidates) if (wavelength > 0) out[String(wavelength)] = null
  for (const one of losses) out[String(one.wavelength)] = one[of]
  return out
}

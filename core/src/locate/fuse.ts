import type { Calibration } from './calibrate.ts'
import type { Candidate } from './candidates.ts'
import { combine, covarianceOf } from './recordErrors.ts'

/** One fault as seen by one or more shots. */
export interface FusedFault {
  candidates: Candidate[]
  /** m of fiber from the link's `from`, by the records, with its standard deviation. */
  fiber: number
  sigma: number
}

/** Groups what several shots show at one place and combines it; record errors that the shots share stay shared. */
export function fuse(calibration: Calibration, candidates: readonly Candidate[]): FusedFault[] {
  const groups: Candidate[][] = []
  for (const candidate of [...candidates].sort((a, b) => a.sigma - b.sigma)) {
    const home = groups.find((group) => belongs(calibration, group, candidate))
    if (home) home.push(candidate)
    else groups.push([candidate])
  }
  return groups
    .map((group) => ({ candidates: group, ...combinedPlace(calibration, group) }))
    .sort((a, b) => a.fiber - b.fiber)
}

function belongs(calibration: Calibration, group: readonly Candidate[], candidate: Candidate): boolean {
  const one = group[0]!
  const sameShot = group.some(
    (other) => other.direction === candidate.direction && other.wavelength === candidate.wavelength,
  )
  if (sameShot || (one.direction === candidate.direction && one.breaks !== candidate.breaks)) return false
  const difference = one.sensitivity.map((value, i) => value - candidate.sensitivity[i]!)
  const sigma = Math.sqrt(
    covarianceOf(calibration.errors, difference, difference) + one.sigma ** 2 + candidate.sigma ** 2,
  )
  return (
    Math.abs(one.fiber - candidate.fiber) < 3.5 * sigma + 0.25 * Math.max(one.pulseLength, candidate.pulseLength) + 1
  )
}

/**
 * What two shots' places have in common, m². Traces from one end are one instrument's: its pulse's shape moves a place
 * alike at each wavelength. A loss that is spread may be meant by any place of its stretch, for every shot alike.
 */
function sharedVariance(a: Candidate, b: Candidate): number {
  const shape = a.direction === b.direction ? a.systematic * b.systematic : 0
  const stretch = (a.extent * b.extent) / 12
  return Math.min(shape + stretch, a.sigma ** 2, b.sigma ** 2)
}

function combinedPlace(calibration: Calibration, group: readonly Candidate[]): { fiber: number; sigma: number } {
  const covariance = group.map((a, i) =>
    group.map(
      (b, j) =>
        covarianceOf(calibration.errors, a.sensitivity, b.sensitivity) +
        (i === j ? a.sigma ** 2 + 0.01 : sharedVariance(a, b)),
    ),
  )
  const { value, sigma, chi2 } = combine(
    group.map((candidate) => candidate.fiber),
    covariance,
  )
  // Shots that disagree by more than chance (two standard deviations of chi-squared) widen the interval by Birge's ratio.
  const spare = group.length - 1
  const disagree = spare > 0 && chi2 > spare + 2 * Math.sqrt(2 * spare)
  const birge = disagree ? Math.sqrt(chi2 / spare) : 1
  return { fiber: value, sigma: sigma * birge }
}

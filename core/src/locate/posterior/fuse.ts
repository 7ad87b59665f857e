import type { Calibration } from '../records/calibrate.ts'
import type { Candidate } from './candidates.ts'
import { combine, covarianceOf } from '../records/recordErrors.ts'

/** One fault as seen by one or more shots. */
export interface FusedFault {
  candidates: Candidate[]
  /** m of fiber from the link's `from`, by the records, with its standard deviation. */
  fiber: number
  sigma: number
}

/** Standard deviation of a place that may be anywhere in a stretch, as a part of its length. */
const ANYWHERE = 1 / Math.sqrt(12)

/**
 * An instrument that shows an edge late shows it late from the other end too, on the thread to the opposite side: so much
 * of what an end's shots share counts against the other end's (judgement).
 */
const OPPOSED = 0.3

/** Groups what several shots show at one place and combines it; record errors that the shots share stay shared. */
export function fuse(calibration: Calibration, candidates: readonly Candidate[]): FusedFault[] {
  const groups: Candidate[][] = []
  for (const candidate of joinParts(candidates).sort((a, b) => a.sigma - b.sigma)) {
    const home = groups.find((group) => belongs(calibration, group, candidate))
    if (home) home.push(candidate)
    else groups.push([candidate])
  }
  return groups
    .map((group) => ({ candidates: group, ...combinedPlace(calibration, group) }))
    .sort((a, b) => a.fiber - b.fiber)
}

function isSameShot(a: Candidate, b: Candidate): boolean {
  return a.direction === b.direction && a.wavelength === b.wavelength && a.readOut === b.readOut
}

/** A loss that one shot shows spread over a stretch may look like several in another: they are its parts. */
function joinParts(candidates: readonly Candidate[]): Candidate[] {
  let joined = [...candidates]
  for (const spread of candidates.filter(({ extent }) => extent > 0)) {
    const inside = joined.filter(
      (one) =>
        one.loss !== null &&
        !isSameShot(one, spread) &&
        Math.abs(one.fiber - spread.fiber) < spread.extent / 2 + slack(one),
    )
    for (const first of inside) {
      const parts = inside.filter((one) => isSameShot(one, first))
      if (parts.length < 2 || parts[0] !== first) continue
      joined = [...joined.filter((one) => !parts.includes(one)), joinedCandidate(parts)]
    }
  }
  return joined
}

function slack({ sigma, pulseLength }: Candidate): number {
  return 3.5 * sigma + 0.25 * pulseLength + 1
}

function joinedCandidate(parts: readonly Candidate[]): Candidate {
  const loss = parts.reduce((sum, part) => sum + part.loss!, 0)
  const mean = (of: (part: Candidate) => number) => parts.reduce((sum, part) => sum + of(part) * part.loss!, 0) / loss
  const ends = parts.flatMap(({ fiber, extent }) => [fiber - extent / 2, fiber + extent / 2])
  const extent = Math.max(...ends) - Math.min(...ends)
  return {
    ...parts.reduce((a, b) => (b.loss! > a.loss! ? b : a)),
    loss,
    lossSigma: Math.hypot(...parts.map((part) => part.lossSigma ?? 0)),
    measured: mean((part) => part.measured),
    fiber: mean((part) => part.fiber),
    extent,
    sigma: Math.hypot(Math.max(...parts.map((part) => part.sigma)), ANYWHERE * extent),
    reflects: parts.some((part) => part.reflects),
  }
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
  // What is a point in one trace may be any part of what is spread in another.
  const stretch = Math.max(...group.map(({ extent }) => extent), candidate.extent) / 2
  return (
    Math.abs(one.fiber - candidate.fiber) <
    3.5 * sigma + 0.25 * Math.max(one.pulseLength, candidate.pulseLength) + 1 + stretch
  )
}

/**
 * The covariance of what the shots measured, m². Traces from one end are one instrument's: its pulse's shape moves a
 * place alike at each wavelength. A loss that is spread may be meant by any place of its stretch, for every shot alike,
 * also for one that shows it as a point. Each shared part is the same for all that share it, so that every
 * place counts with a weight of its own sign and the fused one lies among them.
 */
function measuringCovariance(group: readonly Candidate[]): number[][] {
  const stretch = Math.max(...group.map(({ extent }) => extent)) * ANYWHERE
  const variances = group.map(({ sigma, extent }) => sigma ** 2 - Math.min(extent * ANYWHERE, sigma) ** 2)
  // The least of what an end's shots share is a part of each of them: none is weighed against the others for its sign.
  const shared = (direction: Candidate['direction']) =>
    Math.min(
      ...group.flatMap((one, i) => (one.direction === direction ? [Math.min(one.systematic ** 2, variances[i]!)] : [])),
    )
  const shape = { ab: shared('ab'), ba: shared('ba') }
  // What each shot makes of a stretch is half its own and half shared (judgement): all mean a place in the same stretch.
  return group.map((a, i) =>
    group.map((b, j) => {
      const common =
        a.direction === b.direction
          ? shape[a.direction]
          : isSameInstrument(a, b)
            ? -OPPOSED * Math.min(shape.ab, shape.ba)
            : 0
      return i === j ? stretch ** 2 + variances[i]! + 0.01 : stretch ** 2 / 2 + common
    }),
  )
}

function isSameInstrument(a: Candidate, b: Candidate): boolean {
  return a.instrument !== '' && a.instrument === b.instrument && Math.abs(a.pulseLength / b.pulseLength - 1) < 0.01
}

function combinedPlace(calibration: Calibration, group: readonly Candidate[]): { fiber: number; sigma: number } {
  const measuring = measuringCovariance(group)
  const covariance = group.map((a, i) =>
    group.map((b, j) => covarianceOf(calibration.errors, a.sensitivity, b.sensitivity) + measuring[i]![j]!),
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

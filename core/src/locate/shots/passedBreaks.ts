import { pulseLengthOf } from '../../trace/trace.ts'
import { fiberOf, type Calibration } from '../records/calibrate.ts'
import type { Candidate, Pairing } from '../posterior/candidates.ts'
import { FACTOR_SIGMA } from '../records/recordErrors.ts'
import { findLinkEnds } from './linkEnds.ts'
import type { LocateWarning } from './shot.ts'

/** Light must be seen beyond a place by so much to have passed it: m, and pulse lengths. */
const BEYOND_METRES = 100
const BEYOND_PULSES = 3

/**
 * A trace that ends in its own noise looks like a break. Where more of the other traces see light well beyond that
 * place, to an end that their baselines do not contradict, it was none: it is left out, and that is said aloud.
 */
export function withoutPassedBreaks(
  calibration: Calibration,
  pairings: readonly Pairing[],
  candidates: readonly Candidate[],
  warnings: LocateWarning[],
): Candidate[] {
  const length = calibration.threads.ab.fiberLength
  const fromNear = ({ direction, measured }: Candidate) => (direction === 'ab' ? measured : length - measured)
  if (seenWhole(pairings, calibration) && candidates.some(({ breaks, readOut }) => breaks && !readOut)) {
    warnings.push({
      code: 'seen-whole',
      message:
        'traces from both ends reach the other end of the link as far as record and cords tell: it is whole, and the baseline ends elsewhere, as with another receive cord',
    })
    return candidates.filter(({ breaks, readOut }) => !breaks || readOut)
  }
  return candidates.filter((candidate) => {
    if (!candidate.breaks || candidate.readOut) return true
    const place = fromNear(candidate)
    const margin = BEYOND_METRES + BEYOND_PULSES * candidate.pulseLength + 4 * candidate.sigma
    const showing = candidates.filter((other) => other.breaks && Math.abs(fromNear(other) - place) < margin)
    const passing = pairings.filter((pairing) => seesBeyond(calibration, pairing, place, margin))
    if (passing.length <= showing.length) return true
    const where = `${place.toFixed(0)} m of fiber from the near end`
    const which = `${candidate.wavelength} nm from the ${candidate.direction === 'ab' ? 'near' : 'far'} end`
    warnings.push({
      code: 'evidence-conflict',
      message: `the trace at ${which} ends ${where}, but ${passing.map(({ present }) => present.name).join(', ')} see light beyond: it ends in its own noise, and no break is taken from it; average it longer if in doubt`,
    })
    return false
  })
}

/**
 * Whether traces from both ends show as much fiber as the link has by its record, and not more than a cord beyond. A break would
 * stop one of them early, wherever it is; told apart from it only as far as the front's dead zone lets.
 */
function seenWhole(pairings: readonly Pairing[], { threads }: Calibration): boolean {
  const reaches = ({ present }: Pairing) => {
    const { trace, events } = present.analysis
    const end = events.at(-1)!
    if (end.kind !== 'end') return false
    const thread = threads[present.direction]
    const { start } = findLinkEnds(present, thread)
    const fiber = fiberOf(thread, trace, { start, end: null }, end.distance)
    const blind = events[0]!.settled
    return Math.abs(fiber - thread.fiberLength) < 4 * FACTOR_SIGMA * thread.fiberLength + blind
  }
  return (['ab', 'ba'] as const).every((direction) => {
    const own = pairings.filter(({ present }) => present.direction === direction)
    return own.length > 0 && own.every(reaches)
  })
}

function seesBeyond(calibration: Calibration, pairing: Pairing, place: number, margin: number): boolean {
  const { present, baseline, comparison, ends } = pairing
  const end = present.analysis.events.at(-1)!
  if (end.kind !== 'end' || comparison.changes.some((change) => change.kind === 'break')) return false
  const onBaseline =
    (end.distance * present.analysis.trace.groupIndex) / baseline.analysis.trace.groupIndex +
    comparison.alignment.offset
  const thread = calibration.threads[present.direction]
  const seen = fiberOf(thread, baseline.analysis.trace, ends, onBaseline)
  const wanted = present.direction === 'ab' ? place : thread.fiberLength - place
  return seen > wanted + margin + BEYOND_PULSES * pulseLengthOf(present.analysis.trace)
}

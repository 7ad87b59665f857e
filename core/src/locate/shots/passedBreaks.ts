import { pulseLengthOf } from '../../trace/trace.ts'
import { fiberOf, type Calibration } from '../records/calibrate.ts'
import type { Candidate, Pairing } from '../posterior/candidates.ts'
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

import type { ProofEvent, ProofTotal } from './proof.ts'
import { holdsAgainst, type Holds, type RuleBook } from '../../ruleBook/rules.ts'
import { linkLoss } from '../joints/linkLoss.ts'
import type { Survey } from '../joints/sites.ts'
import { twoWayLoss } from '../../trace/twoWay.ts'

/** Instruments and cords differ by about this much in a link's total, dB (common practice). */
const TOTAL_REPEATABILITY_DB = 0.2

/**
 * The link's total at one wavelength, and what the old total and the repair allow.
 * @param budget what the link may lose by its record with so many more splices, dB: it is allowed where no baseline tells
 */
export function judgeTotal(
  wavelength: number,
  before: readonly Survey[],
  after: readonly Survey[],
  events: readonly ProofEvent[],
  rules: RuleBook,
  budget: (moreSplices: number) => number | null,
): ProofTotal {
  const totalFrom = (surveys: readonly Survey[], direction: 'ab' | 'ba') => {
    const one = surveys.find((s) => s.shot.direction === direction && s.shot.analysis.trace.wavelength === wavelength)
    return one ? linkLoss(one) : null
  }
  const now = twoWayLoss(totalFrom(after, 'ab'), totalFrom(after, 'ba'))
  // Like with like: the baseline is read from the directions that were shot after the repair.
  const shared = (direction: 'ab' | 'ba') => (totalFrom(after, direction) ? totalFrom(before, direction) : null)
  const old = twoWayLoss(shared('ab'), shared('ba'))
  const added = events
    .filter((event) => event.wavelength === wavelength && event.status === 'new')
    .reduce((sum, { joints }) => sum + joints, 0)
  const most = budget(added)
  return {
    before: old?.loss ?? null,
    after: now?.loss ?? null,
    afterSigma: now?.sigma ?? null,
    orlBefore: leastReturnLoss(before, wavelength),
    orlAfter: leastReturnLoss(after, wavelength),
    allowed: old ? old.loss + added * rules.splice.limit.value + TOTAL_REPEATABILITY_DB : most,
    allowedSigma: old?.sigma ?? null,
    budget: most,
  }
}

/** Whether a total is within what is allowed, both with what they may be off by. */
export function totalHolds({ after, afterSigma, allowed, allowedSigma }: ProofTotal): Holds {
  return allowed === null ? 'unknown' : holdsAgainst(after, Math.hypot(afterSigma ?? 0, allowedSigma ?? 0), allowed)
}

/** The lesser return loss of the shots at a wavelength, dB; null where none tells it. */
function leastReturnLoss(surveys: readonly Survey[], wavelength: number): number | null {
  const own = surveys.flatMap(({ shot: { analysis } }) =>
    analysis.trace.wavelength === wavelength && analysis.orl !== null ? [analysis.orl] : [],
  )
  return own.length > 0 ? Math.min(...own) : null
}

import type { Holds, ProofEvent, ProofTotal } from '@cold-thread/core/prove'
import type { Tone } from '../../ui/Judgement.tsx'

export const HOLDS: Record<Holds, { tone: Tone; word: string }> = {
  yes: { tone: 'good', word: 'holds' },
  close: { tone: 'close', word: 'close' },
  no: { tone: 'bad', word: 'over' },
  unknown: { tone: 'unknown', word: 'not measured' },
}

/** What an event is, and whether the repair made or changed it. */
export function kindOf({ kind, status, node, joints }: ProofEvent): string {
  const what = kind === 'event' ? 'new event' : joints > 1 ? `${joints} splices` : kind
  return status === 'changed' ? `${what}, changed` : node === null && kind === 'splice' ? `${what}, new` : what
}

/** Where a loss comes from and how sure it is. */
export function whyOf({ lossSigma, lossTwoWay }: ProofEvent): string {
  const spread = lossSigma === null ? '' : ` ± ${(2 * lossSigma).toFixed(3)} dB (k = 2)`
  return lossTwoWay === null
    ? `One direction only${spread}: holds the difference in backscatter of the two fibers.`
    : `Mean of both directions${spread}: the difference in backscatter cancels (IEC 61280-4-2).`
}

/** Where the limit of a link's total comes from, and what the standard would allow. */
export function allowedWhy({ before, budget }: ProofTotal): string {
  const ofBudget = budget == null ? '' : ` The budget by the record (TIA-568.3-D) is ${budget.toFixed(2)} dB.`
  return before === null
    ? `There is no baseline: the budget is the limit.${ofBudget}`
    : `The baseline, the joints that the repair had to add, and what two tests of one link differ by.${ofBudget}`
}

/** Return loss of the whole link with its test cords; null where no trace tells it. */
export function returnLossWords({ orlBefore, orlAfter }: ProofTotal): string | null {
  if (orlAfter == null) return null
  return `ORL ${orlAfter.toFixed(1)} dB${orlBefore == null ? '' : `, was ${orlBefore.toFixed(1)}`}`
}

import type { RuleBook } from '../prove/rules.ts'

/** One attempt at a splice as the bench sees it. */
export interface SpliceAttempt {
  /** The splicer's own estimate, dB; null when it showed none. */
  estimate: number | null
  /** Cleave angles, degrees; null when not read. */
  cleaveLeft: number | null
  cleaveRight: number | null
}

export interface SpliceJudgement {
  advice: 'accept' | 'redo' | 'stop'
  reasons: string[]
}

/** Cleave angle of a single fiber, degrees: good under, accepted to (common practice, from memory). */
export const CLEAVE_GOOD = 0.5
export const CLEAVE_LIMIT = 1.0
/** So many tries at most; the same loss each time is the fiber or the machine, not the hand (common practice). */
export const MOST_TRIES = 3
const SAME_LOSS_DB = 0.02

/**
 * Judges an attempt while it can still be redone. The splicer's figure is an estimate: the two-way trace decides.
 * @param earlier attempts at the same fiber, in order
 */
export function judgeSplice(
  attempt: SpliceAttempt,
  earlier: readonly SpliceAttempt[],
  rules: RuleBook,
): SpliceJudgement {
  const faults: string[] = []
  const remarks: string[] = []
  for (const [side, angle] of [
    ['left', attempt.cleaveLeft],
    ['right', attempt.cleaveRight],
  ] as const) {
    if (angle === null) continue
    if (angle > CLEAVE_LIMIT) faults.push(`${side} cleave ${angle.toFixed(1)}° is over ${CLEAVE_LIMIT.toFixed(1)}°`)
    else if (angle > CLEAVE_GOOD)
      remarks.push(`${side} cleave ${angle.toFixed(1)}° is accepted, good is under ${CLEAVE_GOOD}°`)
  }
  const { good } = rules.splice
  if (attempt.estimate === null) remarks.push('no estimate: only the trace will tell')
  else if (attempt.estimate > good.value)
    faults.push(`estimate ${attempt.estimate.toFixed(2)} dB is over ${good.value.toFixed(2)} dB (${good.source})`)
  else remarks.push(`estimate ${attempt.estimate.toFixed(2)} dB is within ${good.value.toFixed(2)} dB (${good.source})`)
  if (faults.length === 0) return { advice: 'accept', reasons: remarks }
  const tries = [...earlier, attempt]
  if (tries.length < MOST_TRIES) return { advice: 'redo', reasons: faults }
  const estimates = tries.slice(-MOST_TRIES).map((one) => one.estimate)
  const known = estimates.filter((estimate) => estimate !== null)
  const same = known.length === MOST_TRIES && Math.max(...known) - Math.min(...known) <= SAME_LOSS_DB
  const why = same
    ? 'the same loss three times is the fiber or the machine, not the hand: find out which'
    : `${tries.length} tries: clean the V-grooves, look at cleaver and electrodes before the next`
  return { advice: 'stop', reasons: [...faults, why] }
}

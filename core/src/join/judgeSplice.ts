import type { Limit, RuleBook } from '../ruleBook/rules.ts'

/** What is read of one fiber pair of a splice. */
export interface FiberReading {
  /** The splicer's own estimate, dB; null when it showed none. */
  estimate: number | null
  /** Cleave angles, degrees; null when not read. */
  cleaveLeft: number | null
  cleaveRight: number | null
}

/** One attempt at a splice as the bench sees it. What nobody saw is left out or null. */
export interface SpliceAttempt extends FiberReading {
  /** The ends in the picture before the arc. */
  gap?: 'good' | 'bad' | null | undefined
  /** The pull after it. */
  proof?: 'held' | 'broke' | null | undefined
  /** The sleeve in its oven: `bad` with bubbles, fiber bare or moved. */
  heating?: 'good' | 'bad' | null | undefined
  /** The sleeve was on the fiber before the splice. */
  sleeve?: boolean | null | undefined
  /** The fibers of a ribbon, in their order; empty or left out for a single fiber. */
  ribbon?: readonly FiberReading[] | undefined
}

export interface SpliceJudgement {
  advice: 'accept' | 'redo' | 'stop'
  reasons: string[]
  /** At a stop: whether this is the best of the tries and within the limit, and may stay with a remark. */
  mayStay: boolean
}

/** So many tries at most; the same loss each time is the fiber or the machine, not the hand (common practice). */
export const MOST_TRIES = 3
const SAME_LOSS_DB = 0.02

/** The worst estimate of an attempt, dB: of a ribbon its worst fiber; null where none was shown. */
export function worstEstimate({ estimate, ribbon = [] }: SpliceAttempt): number | null {
  const shown = ribbon.length > 0 ? ribbon.flatMap((one) => one.estimate ?? []) : estimate === null ? [] : [estimate]
  return shown.length === 0 ? null : Math.max(...shown)
}

/**
 * Judges an attempt while it can still be redone. The splicer's figure is an estimate: the two-way trace decides. A ribbon
 * with one bad fiber is redone whole.
 * @param earlier attempts at the same fiber, in order
 */
export function judgeSplice(
  attempt: SpliceAttempt,
  earlier: readonly SpliceAttempt[],
  rules: RuleBook,
): SpliceJudgement {
  const faults: string[] = []
  const remarks: string[] = []
  if (attempt.sleeve === false) faults.push('the sleeve was forgotten: without it the splice can’t be kept')
  if (attempt.gap === 'bad') faults.push('an end looks bad in the picture: clean or cleave it again')
  const ribbon = attempt.ribbon ?? []
  if (ribbon.length === 0) judgeReading(attempt, '', rules, faults, remarks)
  else {
    const bad = ribbon.flatMap((reading, i) => {
      const of: string[] = []
      judgeReading(reading, `fiber ${i + 1}: `, rules, of, remarks)
      return of
    })
    if (bad.length > 0) faults.push(...bad, 'one bad fiber: the ribbon is redone whole')
  }
  if (attempt.proof === 'broke') faults.push('it broke in the proof test')
  if (attempt.heating === 'bad') faults.push('the sleeve did not shrink as it should')
  if (faults.length === 0) return { advice: 'accept', reasons: remarks, mayStay: false }
  const tries = [...earlier, attempt]
  if (tries.length < MOST_TRIES) return { advice: 'redo', reasons: faults, mayStay: false }
  const known = tries.slice(-MOST_TRIES).flatMap((one) => worstEstimate(one) ?? [])
  const same = known.length === MOST_TRIES && Math.max(...known) - Math.min(...known) <= SAME_LOSS_DB
  const why = same
    ? 'the same loss three times is the fiber or the machine, not the hand: find out which'
    : `${tries.length} tries: clean the V-grooves, look at cleaver and electrodes before the next`
  const reasons = [...faults, why]
  const now = worstEstimate(attempt)
  const whole = attempt.proof !== 'broke' && attempt.heating !== 'bad' && attempt.sleeve !== false
  const best = Math.min(...tries.flatMap((one) => worstEstimate(one) ?? []))
  const mayStay = whole && now !== null && now <= best && now <= rules.splice.limit.value
  if (mayStay)
    reasons.push(
      `it is the best of ${tries.length} and within ${limitWords(rules.splice.limit, 'dB')}: it may stay, with a remark`,
    )
  else if (now !== null && best < now)
    reasons.push(
      `attempt ${1 + tries.findIndex((one) => worstEstimate(one) === best)} was better, ${best.toFixed(2)} dB`,
    )
  return { advice: 'stop', reasons, mayStay }
}

function judgeReading(
  { estimate, cleaveLeft, cleaveRight }: FiberReading,
  of: string,
  rules: RuleBook,
  faults: string[],
  remarks: string[],
): void {
  const cleave = of === '' ? rules.cleave.single : rules.cleave.ribbon
  for (const [side, angle] of [
    ['left', cleaveLeft],
    ['right', cleaveRight],
  ] as const) {
    if (angle === null) continue
    if (angle > cleave.limit.value)
      faults.push(`${of}${side} cleave ${angle.toFixed(1)}° is over ${limitWords(cleave.limit, '°')}`)
    else if (angle > cleave.good.value)
      remarks.push(`${of}${side} cleave ${angle.toFixed(1)}° is accepted, good is under ${cleave.good.value}°`)
  }
  const { good } = rules.splice
  if (estimate === null) remarks.push(`${of}no estimate: only the trace will tell`)
  else if (estimate > good.value)
    faults.push(`${of}estimate ${estimate.toFixed(2)} dB is over ${limitWords(good, 'dB')}`)
  else if (of === '') remarks.push(`estimate ${estimate.toFixed(2)} dB is within ${limitWords(good, 'dB')}`)
}

function limitWords({ value, source }: Limit, unit: 'dB' | '°'): string {
  return unit === 'dB' ? `${value.toFixed(2)} dB (${source})` : `${value.toFixed(1)}° (${source})`
}

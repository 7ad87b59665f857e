import type { LoggedEntry } from '../log/standing.ts'

export const SOURCE_KINDS = ['laser', 'LED'] as const
export type SourceKind = (typeof SOURCE_KINDS)[number]

/** What a source of its kind shows through a good cord, dBm, where nothing better is known (common practice). */
export const USUAL_LEVEL: Record<SourceKind, number> = { laser: -10, LED: -20 }
/** So much less is low: the cord or a port is bad or dirty (common practice: below −11 dBm of a laser). */
export const LOW_BY = 1
/** An adapter and a third cord may lose so much, dB (common practice). */
export const MOST_OF_CORD = 0.5
/** So many cleanings and reseatings; then it is replaced (judgement). */
const TRIES = 2
const REPLACE = 'replace the cord, and check anew'

/** One look at source, cord and meter. */
export interface SourceCheck {
  source: string | null
  meter: string | null
  cord: string
  /** nm */
  wavelength: number
  kind: SourceKind
  /** Through the cord alone, dBm. */
  level: number
  /** Then zeroed, through an adapter and a third cord, dB; null while it was not read. */
  third: number | null
}

export type CheckWord = 'good' | 'low' | 'high' | 'cord bad' | 'below zero' | 'go on'

export interface CheckJudgement {
  word: CheckWord
  reasons: string[]
  next: string
}

/**
 * Judges a daily check while it is made: the level first, then what the third cord adds.
 * @param expected level that this source showed when it was good, dBm
 * @param tries looks at the same cord that were not good before this one
 */
export function judgeSourceCheck(check: SourceCheck, expected: number, tries: number): CheckJudgement {
  const { level, third, wavelength } = check
  const off = level - expected
  const told = `${level.toFixed(2)} dBm, expected ${expected.toFixed(2)} dBm`
  const again = tries < TRIES ? 'clean both ends and the ports, reseat, and look again' : REPLACE
  if (off < -LOW_BY)
    return {
      word: 'low',
      reasons: [
        `${told}: ${(-off).toFixed(1)} dB too little`,
        `a meter that is not set to ${wavelength} nm, or the wrong leg of a duplex cord, reads low too`,
      ],
      next: tries === 0 ? `set both to ${wavelength} nm, take the lit leg; then ${again}` : again,
    }
  if (off > LOW_BY)
    return {
      word: 'high',
      reasons: [`${told}: more than it has`],
      next: `see that both are at ${wavelength} nm and the source is continuous, not modulated`,
    }
  if (third === null)
    return { word: 'go on', reasons: [told], next: 'zero the meter, put adapter and third cord in, and read the loss' }
  if (third < -0.1)
    return {
      word: 'below zero',
      reasons: [`the third cord seems to gain ${(-third).toFixed(2)} dB`],
      next: 'zero the meter again through the first cord, warm and clean',
    }
  if (third > MOST_OF_CORD)
    return {
      word: 'cord bad',
      reasons: [`adapter and third cord lose ${third.toFixed(2)} dB, at most ${MOST_OF_CORD} dB`],
      next: again,
    }
  return {
    word: 'good',
    reasons: [told, `adapter and third cord lose ${third.toFixed(2)} dB, at most ${MOST_OF_CORD} dB`],
    next: 'set the reference',
  }
}

/** A check as it was logged. */
export interface MadeCheck extends SourceCheck {
  id: string
  by: string
  at: string
}

export interface LoggedCheck extends MadeCheck {
  judgement: CheckJudgement
  /** In the callout's own log, not in another one's. */
  own: boolean
}

/** Checks of a log that stand, as they were made. */
export function checksMade(log: readonly LoggedEntry[]): MadeCheck[] {
  return log.flatMap(({ id, by, observedAt: at, superseded, entry }) =>
    superseded || entry.kind !== 'source-check'
      ? []
      : [{ ...(entry as { kind: string; check: SourceCheck }).check, id, by, at }],
  )
}

/**
 * Checks in the order of their time, each judged by what its source showed before when it was good, or by what is usual.
 * @param elsewhere checks of other callouts; of a source that nobody named they tell nothing
 */
export function sourceChecksOf(log: readonly LoggedEntry[], elsewhere: readonly MadeCheck[] = []): LoggedCheck[] {
  const made = [
    ...elsewhere.filter(({ source }) => source !== null).map((check) => ({ ...check, own: false })),
    ...checksMade(log).map((check) => ({ ...check, own: true })),
  ].sort((a, b) => a.at.localeCompare(b.at))
  const checks: LoggedCheck[] = []
  for (const check of made) checks.push({ ...check, judgement: judgeNext(checks, check) })
  return checks
}

/** A check judged after those before it. */
export function judgeNext(before: readonly LoggedCheck[], check: SourceCheck): CheckJudgement {
  const same = before.filter(
    ({ source, wavelength, kind }) => source === check.source && wavelength === check.wavelength && kind === check.kind,
  )
  const good = same.findLast(({ judgement }) => judgement.word === 'good')
  // A cord without a name is another one in another callout.
  const ofCord = same.filter(({ cord, own }) => cord === check.cord && (own || cord !== ''))
  const since = ofCord.slice(ofCord.findLastIndex(({ judgement }) => judgement.word === 'good') + 1)
  const tries = since.filter(({ judgement }) => judgement.word !== 'go on').length
  return judgeSourceCheck(check, good?.level ?? USUAL_LEVEL[check.kind], tries)
}

/** Cords that their last checks told to replace, with what they lost. */
export function cordsToReplace(checks: readonly LoggedCheck[]): { cord: string; reason: string }[] {
  const last = new Map<string, LoggedCheck>()
  for (const check of checks) if (check.cord !== '') last.set(check.cord, check)
  return [...last.values()].flatMap(({ cord, judgement: { word, reasons, next } }) =>
    word !== 'good' && next === REPLACE ? [{ cord, reason: reasons[0]! }] : [],
  )
}

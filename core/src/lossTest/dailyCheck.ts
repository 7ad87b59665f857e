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
const REPLACE_CORD = 'take another cord, and check anew'
const REPLACE_THIRD = 'not the first cord, which has just been shown good; check anew'

/** One look at source, cord and meter. */
export interface SourceCheck {
  source: string | null
  meter: string | null
  cord: string
  /** nm */
  wavelength: number
  kind: SourceKind
  /** Through the cord alone, dBm; meters show `low` for no light. */
  level: number | 'low'
  /** Then zeroed, through an adapter and a third cord, dB; null while it was not read. */
  third: number | null
  /** Names of the third cord and of the adapter's sleeve; empty or absent where nobody said. */
  thirdCord?: string | undefined
  sleeve?: string | undefined
}

export type CheckWord = 'good' | 'low' | 'high' | 'third bad' | 'below zero' | 'to service' | 'go on'

export interface CheckJudgement {
  word: CheckWord
  reasons: string[]
  next: string
  /** What is to be replaced, by name; empty while nothing is. */
  replace: string[]
}

/** What earlier looks tell of this one. */
export interface LooksBefore {
  /** Looks through the same cord before this one that were too low, and that lost too much in the third cord. */
  tries: { low: number; third: number }
  /** Another cord stayed low at the same source, cleaned and reseated. */
  anotherLow: boolean
  /** How the same source and cord stood last at another wavelength; null where they were not looked at. */
  otherWavelength: { wavelength: number; low: boolean } | null
  /** What has been shown good since, with something else beside it. */
  shownGood: { thirdCord: boolean; sleeve: boolean }
}

/** Nothing was looked at before. */
export const FIRST_LOOK: LooksBefore = {
  tries: { low: 0, third: 0 },
  anotherLow: false,
  otherWavelength: null,
  shownGood: { thirdCord: false, sleeve: false },
}

/**
 * Judges a daily check while it is made: the level first, then what the third cord adds (common practice).
 * @param expected level that this source showed when it was good, dBm
 */
export function judgeSourceCheck(check: SourceCheck, expected: number, before: LooksBefore): CheckJudgement {
  const { level, third, wavelength } = check
  const told =
    level === 'low' ? 'no light reaches the meter' : `${level.toFixed(2)} dBm, expected ${expected.toFixed(2)} dBm`
  const off = level === 'low' ? -Infinity : level - expected
  if (off < -LOW_BY) return judgeLow(check, told, off, before)
  if (off > LOW_BY)
    return judged(
      'high',
      [`${told}: more than it has`],
      `see that both are at ${wavelength} nm and the source is continuous, not modulated`,
    )
  if (third === null) return judged('go on', [told], 'zero the meter, put adapter and third cord in, and read the loss')
  if (third < -0.1)
    return judged(
      'below zero',
      [`the third cord seems to gain ${(-third).toFixed(2)} dB`],
      'zero the meter again through the first cord, warm and clean',
    )
  const lost = `adapter and third cord lose ${third.toFixed(2)} dB, at most ${MOST_OF_CORD} dB`
  if (third <= MOST_OF_CORD) return judged('good', [told, lost], 'set the reference')
  if (before.tries.third < TRIES)
    return judged('third bad', [lost], 'clean third cord and adapter, reseat, and look again')
  const bad = worseOf(check, before)
  return judged('third bad', [lost], `replace ${bad.join(' or ')}, ${REPLACE_THIRD}`, bad)
}

function judged(word: CheckWord, reasons: string[], next: string, replace: string[] = []): CheckJudgement {
  return { word, reasons, next, replace }
}

/** Too little light, or none: cap, leg and wavelength before anything is thrown away. */
function judgeLow(
  { level, cord, wavelength }: SourceCheck,
  told: string,
  off: number,
  { tries: { low: tries }, anotherLow, otherWavelength: other }: LooksBefore,
): CheckJudgement {
  const short = level === 'low' ? told : `${told}: ${(-off).toFixed(1)} dB too little`
  const setting = `a meter or source that is not set to ${wavelength} nm`
  const path =
    level === 'low' ? 'a cap left on, or the dark leg of a duplex cord' : 'the wrong leg of a duplex cord, or dirt'
  const likely =
    other === null
      ? `${setting}, ${path}: each reads low`
      : other.low
        ? `low at ${other.wavelength} nm, too: not the wavelength but ${path}`
        : `${other.wavelength} nm is as it should be through the same cord: likely ${setting}`
  if (anotherLow)
    return judged(
      'to service',
      [short, 'another cord showed the same'],
      'source or meter: to service; test with others',
    )
  if (tries === 0)
    return judged(
      'low',
      [short, likely],
      `caps off, set both to ${wavelength} nm, take the lit leg; then clean both ends and the ports, reseat, and look again`,
    )
  if (tries < TRIES) return judged('low', [short, likely], 'clean both ends and the ports, reseat, and look again')
  return judged('low', [short], REPLACE_CORD, cord === '' ? [] : [cord])
}

/** Which of third cord and sleeve it is: what has been shown good beside something else is not. */
function worseOf({ thirdCord = '', sleeve = '' }: SourceCheck, { shownGood }: LooksBefore): string[] {
  const named = (name: string, otherwise: string) => (name === '' ? otherwise : name)
  const [cord, adapter] = [named(thirdCord, 'the third cord'), named(sleeve, 'the sleeve')]
  if (shownGood.thirdCord && !shownGood.sleeve) return [adapter]
  if (shownGood.sleeve && !shownGood.thirdCord) return [cord]
  return [cord, adapter]
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
  const ofSource = before.filter(({ source, kind }) => source === check.source && kind === check.kind)
  const same = ofSource.filter(({ wavelength }) => wavelength === check.wavelength)
  const good = same.findLast(({ judgement }) => judgement.word === 'good')
  // A cord without a name is another one in another callout.
  const isSame = ({ cord, own }: LoggedCheck) => cord === check.cord && (own || cord !== '')
  const ofCord = same.filter(isSame)
  const since = ofCord.slice(ofCord.findLastIndex(({ judgement }) => judgement.word === 'good') + 1)
  const tries = (...words: CheckWord[]) => since.filter(({ judgement }) => words.includes(judgement.word)).length
  const others = same.slice(same.findLastIndex(({ judgement }) => judgement.word === 'good') + 1)
  const elsewhere = ofSource.findLast((one) => one.wavelength !== check.wavelength && isSame(one))
  const shown = (what: 'thirdCord' | 'sleeve', beside: 'thirdCord' | 'sleeve') =>
    Boolean(check[what]) &&
    ofSource.some(
      (one) =>
        one.judgement.word === 'good' && one[what] === check[what] && one[beside] && one[beside] !== check[beside],
    )
  return judgeSourceCheck(check, typeof good?.level === 'number' ? good.level : USUAL_LEVEL[check.kind], {
    tries: { low: tries('low'), third: tries('third bad', 'below zero') },
    anotherLow: others.some(({ cord, judgement }) => cord !== check.cord && judgement.next === REPLACE_CORD),
    otherWavelength: elsewhere
      ? { wavelength: elsewhere.wavelength, low: ['low', 'to service'].includes(elsewhere.judgement.word) }
      : null,
    shownGood: { thirdCord: shown('thirdCord', 'sleeve'), sleeve: shown('sleeve', 'thirdCord') },
  })
}

/** What last checks told to replace, with what was seen. */
export function cordsToReplace(checks: readonly LoggedCheck[]): { what: string; reason: string }[] {
  const last = new Map<string, LoggedCheck>()
  for (const check of checks) {
    // Low through another cord, too: it was not the cord.
    if (check.judgement.word === 'to service')
      for (const [key, { source, judgement }] of last)
        if (source === check.source && judgement.word === 'low') last.delete(key)
    last.set(`${check.cord} at ${check.wavelength}`, check)
  }
  const found = new Map<string, string>()
  for (const { judgement } of last.values())
    for (const what of judgement.replace) if (!found.has(what)) found.set(what, judgement.reasons[0]!)
  return [...found].map(([what, reason]) => ({ what, reason }))
}

/** Each wavelength that is tested at, with its last check on this day; null where there was none. */
export function checkedToday<T extends Pick<LoggedCheck, 'wavelength' | 'at'>>(
  checks: readonly T[],
  wavelengths: readonly number[],
  now: Date,
): { wavelength: number; last: T | null }[] {
  const today = checks.filter(({ at }) => new Date(at).toDateString() === now.toDateString())
  return wavelengths.map((wavelength) => ({
    wavelength,
    last: today.findLast((check) => check.wavelength === wavelength) ?? null,
  }))
}

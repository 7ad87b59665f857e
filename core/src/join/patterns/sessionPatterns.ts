import { median } from 'simple-statistics'
import { offChart, type Charted } from './chart.ts'
import { logSum } from './evidence.ts'
import {
  arcLikelihood,
  endLikelihoods,
  lossLikelihood,
  offsetLikelihoods,
  predictedMismatch,
  usualWork,
  type ByBeginning,
  type LossCause,
  type UsualWork,
} from './likelihoods.ts'
import { LEAST_REFERENCE, type ReferenceKind, type Usual } from './usual.ts'
import { readingsOf, type WatchedAttempt } from './watched.ts'

export { SESSION } from './usual.ts'

type Reference = readonly WatchedAttempt[]

/** What else is known of a session's tools. */
export interface SessionCare {
  calibrationsRefused: number
  /** By the kit: electrodes have made their arcs, the blade its cleaves. */
  arcsOver: boolean
  bladeOver: boolean
}

const NO_CARE: SessionCare = { calibrationsRefused: 0, arcsOver: false, bladeOver: false }

/** What a session can be advised. */
export const CAUSES = ['grooves', 'blade', 'electrodes', 'mode fields', 'hand'] as const
export type Cause = (typeof CAUSES)[number]

/** What to do, as the trade names it. */
export const ADVICE: Record<Cause, string> = {
  grooves: 'Clean the V-grooves with the stiff brush, then splice on',
  blade: 'Turn the cleaver’s blade to a fresh place',
  electrodes: 'Calibrate the arc again; where it stays so, new electrodes',
  'mode fields': 'Fiber mismatch: splicing again will not help; accept by the two-way trace',
  hand: 'Strip, clean and cleave anew, slowly; look at both ends in the picture, also for curl',
}

/** What is wrong with a session, with what shows it. */
export interface Pattern {
  /** One, or two at once; the likelier first. */
  causes: readonly Cause[]
  evidence: string[]
  /** Splice from which it is so, counted from 0. */
  since: number
}

export interface SessionPatterns {
  /** Null while nothing stands out, or what does can't be named. */
  pattern: Pattern | null
  /** Something is wrong, but readings that would tell what are not there or don't tell; in words, null otherwise. */
  unnamed: string | null
  /** What the limits come from. */
  reference: ReferenceKind
  /** What is usual, for the charts. */
  usual: Record<Charted, Usual>
}

/**
 * Something is wrong where that is so many times likelier than healthy work. In no more than 1 of so many healthy sessions
 * is it ever so, however often they are looked at (J. Ville, Étude critique de la notion de collectif, 1939; from memory);
 * as sessions are short it is so in fewer: the share that is promised, by simulation (docs/statistics.md).
 */
const ALARM = 4
/** Share of healthy sessions of {@link SESSION} splices that raise an alarm at most; 2.9 % of 240 simulated ones did. */
export const FALSE_ALARMS = 0.05
/** A cause is named where it is so likely, given that something is wrong (judgement). */
const SURE_CAUSE = 0.7
/** Two causes at once are so much rarer than one of them; fields that differ by the records nearly always show (judgement). */
const BOTH = 0.12
const BY_RECORDS = 4
/** Less loss of different mode fields than this is never looked for, dB: no splicer shows it. */
const LEAST_MISMATCH = 0.02

const workCache = new WeakMap<Reference, UsualWork>()

function workOf(reference: Reference): UsualWork {
  const found = workCache.get(reference) ?? usualWork(reference)
  workCache.set(reference, found)
  return found
}

/** Causes that may be there together, and how likely that is beforehand. */
interface CauseSet {
  causes: readonly Cause[]
  prior: number
}

function causeSets(mismatch: boolean): CauseSet[] {
  const possible = CAUSES.filter((cause) => cause !== 'mode fields' || mismatch)
  const odds = (cause: Cause) => (cause === 'mode fields' ? BY_RECORDS : 1)
  const sets = possible.flatMap((cause, i): CauseSet[] => [
    { causes: [cause], prior: odds(cause) },
    ...possible
      .slice(i + 1)
      // Blade and hand both show in the ends' angles, and are not told apart there.
      .filter((other) => !(cause === 'blade' && other === 'hand'))
      .map((other) => ({ causes: [cause, other], prior: BOTH * odds(cause) * odds(other) })),
  ])
  const whole = sets.reduce((sum, { prior }) => sum + prior, 0)
  return sets.map(({ causes, prior }) => ({ causes, prior: prior / whole }))
}

/**
 * What a session's splices show against the splicer's usual work. All that may be wrong, and two of it at once, is weighed
 * by how likely it makes offsets, angles, pictures, estimates, refused calibrations and broken joints together, wherever in
 * the session it began. A cause is named where it is surely there; a hand only where neither machine nor fiber explains it,
 * and nothing by readings that were not taken.
 * @param attempts since the last time something was done about it, in their order
 * @param reference earlier splices of the same splicer, without what was found to be wrong; limits come from them
 */
export function sessionPatterns(
  attempts: readonly WatchedAttempt[],
  reference: Reference,
  care: SessionCare = NO_CARE,
): SessionPatterns {
  const work = workOf(reference)
  const told = { reference: referenceKind(reference), usual: work.usual }
  if (attempts.length === 0) return { pattern: null, unnamed: null, ...told }
  const weighed = weigh(attempts, work, care)
  if (weighed.all < Math.log(ALARM)) return { pattern: null, unnamed: null, ...told }
  const named = CAUSES.map((cause) => ({
    cause,
    log: logSum(weighed.sets.flatMap((set) => (set.causes.includes(cause) ? set.log : []))) - weighed.all,
  }))
    .filter(
      ({ cause, log }) => log > Math.log(SURE_CAUSE) && isShown(cause, attempts.slice(weighed.since(cause)), attempts),
    )
    .sort((a, b) => b.log - a.log)
    .map(({ cause }) => cause)
  if (named.length === 0) {
    const likely = weighed.sets.toSorted((a, b) => b.log - a.log)[0]!.causes
    const since = Math.min(...likely.map((cause) => weighed.since(cause)))
    return { pattern: null, unnamed: unnamedWords(likely, attempts.slice(since), work), ...told }
  }
  const since = Math.min(...named.map((cause) => weighed.since(cause)))
  return {
    pattern: {
      causes: named,
      since,
      evidence: named.flatMap((cause) => evidenceOf(cause, since, attempts, work, care)),
    },
    unnamed: null,
    ...told,
  }
}

function isRead(series: Charted, attempts: readonly WatchedAttempt[]): boolean {
  return attempts.some((attempt) => readingsOf(series, attempt).length > 0)
}

/**
 * Whether the readings that a cause is told by were taken since it began. A loss is put down to electrodes by what else it is
 * not: no more once the machine stopped to show that.
 */
function isShown(cause: Cause, since: readonly WatchedAttempt[], attempts: readonly WatchedAttempt[]): boolean {
  if (cause === 'grooves') return isRead('offset', since)
  if (cause === 'blade' || cause === 'hand') return isRead('angle', since)
  const isGone = (series: Charted) => isRead(series, attempts) && !isRead(series, since)
  return isRead('loss', since) && !(cause === 'electrodes' && (isGone('offset') || isGone('angle')))
}

/** What else a loss may come from, as far as it was read. */
function explainedBy(attempts: readonly WatchedAttempt[]): string {
  return [
    ...(isRead('offset', attempts) ? ['offset'] : []),
    ...(isRead('angle', attempts) ? ['angles'] : []),
    'mode fields',
  ]
    .join(', ')
    .replace(/, (?=[^,]*$)/, ' and ')
}

function referenceKind(reference: Reference): ReferenceKind {
  return reference.length >= LEAST_REFERENCE ? 'own splices' : 'usual figures'
}

/** All sets of causes against healthy work. */
interface Weighed {
  /** Logarithm of how much likelier the readings are with something wrong. */
  all: number
  sets: { causes: readonly Cause[]; log: number }[]
  since(cause: Cause): number
}

function weigh(attempts: readonly WatchedAttempt[], work: UsualWork, care: SessionCare): Weighed {
  const offsets = offsetLikelihoods(attempts, work)
  const ends = endLikelihoods(attempts, work)
  const lossOf = new Map<string, ByBeginning>()
  const loss = (cause: LossCause) => {
    const key = `${cause.shift} ${cause.modeFields} ${cause.hand}`
    const found = lossOf.get(key) ?? lossLikelihood(attempts, work, cause)
    lossOf.set(key, found)
    return found
  }
  const arc = (wrong: Parameters<typeof arcLikelihood>[3]) =>
    arcLikelihood(attempts, work, care.calibrationsRefused, wrong)
  const lossCauseOf = (causes: readonly Cause[]): LossCause => ({
    modeFields: causes.includes('mode fields'),
    hand: causes.includes('hand'),
    // What no reading shows may raise the loss all the same.
    shift:
      causes.includes('electrodes') || (causes.includes('grooves') && !offsets)
        ? 'much'
        : !ends && (causes.includes('blade') || causes.includes('hand'))
          ? 'little'
          : null,
  })
  const none =
    (offsets?.healthy ?? 0) +
    (ends?.healthy ?? 0) +
    logSum(loss({ shift: null, modeFields: false, hand: false })) +
    arc('usual')
  const endsBy = (causes: readonly Cause[]) => {
    if (!ends) return 0
    if (causes.includes('blade')) return logSum(ends.blade)
    return causes.includes('hand') ? logSum(ends.hand) : ends.healthy
  }
  const sets = causeSets(attempts.some((one) => predictedMismatch(one) >= LEAST_MISMATCH)).map(({ causes, prior }) => ({
    causes,
    log:
      Math.log(prior) +
      (offsets ? (causes.includes('grooves') ? logSum(offsets.grooves) : offsets.healthy) : 0) +
      endsBy(causes) +
      logSum(loss(lossCauseOf(causes))) +
      arc(
        causes.includes('electrodes') ? 'arc' : causes.includes('blade') || causes.includes('hand') ? 'ends' : 'usual',
      ) -
      none,
  }))
  return {
    sets,
    all: logSum(sets.map(({ log }) => log)),
    since: (cause) => {
      const at =
        cause === 'grooves'
          ? offsets?.grooves
          : cause === 'electrodes'
            ? loss({ shift: 'much', modeFields: false, hand: false })
            : cause === 'mode fields'
              ? undefined
              : ends?.[cause]
      if (cause === 'mode fields') return attempts.findIndex((one) => predictedMismatch(one) >= LEAST_MISMATCH)
      return at ? Math.min(attempts.length - 1, at.indexOf(Math.max(...at))) : 0
    },
  }
}

const WORDS: Record<Charted, string> = {
  loss: 'estimates in the middle at',
  angle: 'cleave angles in the middle at',
  offset: 'fibers lie beside each other by',
}

function inUnit(series: Charted, value: number): string {
  if (series === 'loss') return `${value.toFixed(2)} dB`
  return series === 'angle' ? `${value.toFixed(1)}°` : `${value.toFixed(1)} µm`
}

/** A series' middle since something began, beside the usual; nothing where it is not read, or not above it. */
function middleWords(series: Charted, since: number, attempts: readonly WatchedAttempt[], work: UsualWork): string[] {
  const readings = attempts.slice(since).flatMap((attempt) => readingsOf(series, attempt))
  if (readings.length === 0) return []
  const usual = offChart(series, work.usual[series].center)
  // What is no larger than usual is no reason.
  if (median(readings) <= usual) return []
  return [`${WORDS[series]} ${inUnit(series, median(readings))}, usual ${inUnit(series, usual)}`]
}

function evidenceOf(
  cause: Cause,
  since: number,
  attempts: readonly WatchedAttempt[],
  work: UsualWork,
  care: SessionCare,
): string[] {
  const words = (series: Charted) => middleWords(series, since, attempts, work)
  const later = attempts.slice(since)
  switch (cause) {
    case 'grooves':
      return [...words('offset'), ...words('loss')]
    case 'blade':
      return [
        ...words('angle'),
        ...aboveWords(later, work),
        ...sideWords(later),
        ...(care.bladeOver ? ['the blade’s count is used up'] : []),
      ]
    case 'hand':
      return [...pictureWords(later, work), ...words('angle'), 'some ends stand out, most do not']
    case 'mode fields':
      return [
        ...words('loss'),
        `the records’ mode fields alone make ${median(later.map(predictedMismatch)).toFixed(2)} dB (Marcuse 1977)`,
      ]
    case 'electrodes':
      return [...words('loss'), `more than ${explainedBy(later)} explain`, ...arcSigns(attempts, care)]
  }
}

function aboveWords(attempts: readonly WatchedAttempt[], { usual }: UsualWork): string[] {
  const angles = attempts.flatMap((attempt) => readingsOf('angle', attempt))
  const middle = offChart('angle', usual.angle.center)
  return [`${angles.filter((one) => one > middle).length} of ${angles.length} ends above the usual`]
}

function pictureWords(attempts: readonly WatchedAttempt[], { bad }: UsualWork): string[] {
  const count = attempts.filter(({ gap }) => gap === 'bad').length
  return count === 0
    ? []
    : [`${count} of ${attempts.length} pairs looked bad in the picture, usual is ${(100 * bad).toFixed(0)} %`]
}

/** Sides are told apart from so many ends on, where one is so many times the other (judgement). */
const LEAST_OF_SIDE = 4
const SIDES_APART = 2

/** Which side's ends stand out; none where both are alike. */
function sideWords(attempts: readonly WatchedAttempt[]): string[] {
  const [left, right] = (['cleaveLeft', 'cleaveRight'] as const).map((side) => {
    const angles = attempts.flatMap((one) => one[side] ?? [])
    return angles.length < LEAST_OF_SIDE ? null : median(angles)
  })
  if (left == null || right == null || Math.max(left, right) < SIDES_APART * Math.min(left, right)) return []
  const words = `left ends in the middle at ${left.toFixed(1)}°, right ones at ${right.toFixed(1)}°`
  return [`${words}: look at how the ${left > right ? 'left' : 'right'} side is cleaved`]
}

/** Signs of an arc that is not what it should be, beside the loss. */
function arcSigns(attempts: readonly WatchedAttempt[], { calibrationsRefused, arcsOver }: SessionCare): string[] {
  const broken = attempts.filter(({ proof }) => proof === 'broke').length
  return [
    ...(calibrationsRefused > 1 ? [`${calibrationsRefused} calibrations were refused`] : []),
    ...(broken > 0 ? [`${broken} broke in the proof test`] : []),
    ...(arcsOver ? ['the electrodes’ count of arcs is used up'] : []),
  ]
}

/** What stands out where it can't be named, and which readings are missing for it. */
function unnamedWords(likely: readonly Cause[], attempts: readonly WatchedAttempt[], work: UsualWork): string {
  const series: Charted = likely.includes('grooves')
    ? 'offset'
    : likely.some((one) => one === 'blade' || one === 'hand')
      ? 'angle'
      : 'loss'
  const [shown] = [...middleWords(series, 0, attempts, work), ...middleWords('loss', 0, attempts, work)]
  const missing = (['offset', 'angle'] as const).filter((one) =>
    attempts.every((attempt) => readingsOf(one, attempt).length === 0),
  )
  const names = { offset: 'the fibers’ offset', angle: 'the cleave angles' }
  const why =
    missing.length > 0
      ? `${missing.map((one) => names[one]).join(' and ')} ${missing.join() === 'offset' ? 'is' : 'are'} not read: what it comes from can’t be told`
      : 'what it comes from can’t be told yet'
  return `${shown ?? 'Something stands out'}; ${why}`
}

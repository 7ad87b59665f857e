import { median, quantile } from 'simple-statistics'
import { seededRandom, type Random } from '../math/random.ts'
import { individualsChart, offChart, onChart, type Charted } from './chart.ts'
import { mismatchLoss } from './modeField.ts'

/** An attempt as patterns are looked for: what the splicer showed, or the person read. Null where it was not shown. */
export interface WatchedAttempt {
  estimate: number | null
  cleaveLeft: number | null
  cleaveRight: number | null
  /** Between claddings before they are moved, µm. */
  offset: number | null
  gap: 'good' | 'bad' | null
  proof: 'held' | 'broke' | null
  /** Mode field diameters of both fibers by the records, m at one wavelength; null where a record has none. */
  modeFields: readonly [number, number] | null
}

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

/** A reading that left what is usual, with what shows it. */
export interface Signal {
  series: Charted | 'ends'
  /** Attempt at which it was first seen, counted from 0. */
  since: number
  /** How far the latest stretch stands from the usual, in its standard deviations; a count for ends. */
  size: number
  words: string
}

export interface Pattern {
  cause: Cause
  advice: string
  evidence: string[]
  since: number
}

export interface SessionPatterns {
  signals: Signal[]
  /** The likeliest cause; null while nothing stands out. */
  pattern: Pattern | null
  /** What the limits come from. */
  reference: 'own splices' | 'usual figures'
  /** What is usual, for the charts. */
  usual: Record<Charted, Usual>
}

/**
 * Usual figures of a splicer that has no history here: medians and spread of what healthy machines show, as logarithms
 * (judgement, no published source). Own splices take their place from {@link LEAST_REFERENCE} on.
 */
export const USUAL = {
  loss: { center: onChart('loss', 0.03), sigma: 0.45 },
  angle: { center: onChart('angle', 0.25), sigma: 0.45 },
  offset: { center: onChart('offset', 0.5), sigma: 0.5 },
  /** Bad ends of healthy work, as a share. */
  ends: 0.03,
} as const

/** So many earlier splices of the same splicer tell what is usual. */
export const LEAST_REFERENCE = 30
/** A session of so many splices gives a false alarm in at most so many cases, over all series. */
export const SESSION = 24
export const FALSE_ALARMS = 0.05
/** How that is shared out: most to the loss, whose causes hide longest. */
const SHARES = { loss: 0.025, angle: 0.008, offset: 0.004, ends: 0.008 } as const
/** Stretches that are looked at: a jump shows in one value, a drift in many. */
const STRETCHES = [1, 3, 6, 12]
const SIMULATED = 1500

/** A series' readings in the order of the work: angles give two an attempt. */
function readingsOf(series: Charted, attempts: Reference): { at: number; reading: number }[] {
  return attempts.flatMap(({ estimate, cleaveLeft, cleaveRight, offset }, at) => {
    const readings = series === 'loss' ? [estimate] : series === 'offset' ? [offset] : [cleaveLeft, cleaveRight]
    return readings.flatMap((reading) => (reading === null ? [] : [{ at, reading }]))
  })
}

/** Sides are told apart from so many ends on, where one is so many times the other (judgement). */
const LEAST_OF_SIDE = 4
const SIDES_APART = 2

/** A single reading counts for no more than this: one bad joint is judged by itself, a pattern is several. */
const MOST_OF_ONE = 3
const clip = (z: number) => Math.max(-MOST_OF_ONE, Math.min(MOST_OF_ONE, z))

/** For each value the largest standing-off of a stretch that ends there, in standard deviations of the stretch's mean. */
function standingOff(z: readonly number[]): number[] {
  const sums = [0]
  for (const value of z) sums.push(sums.at(-1)! + value)
  return z.map((_, end) => {
    let most = -Infinity
    for (const stretch of STRETCHES) {
      if (end + 1 < stretch) break
      most = Math.max(most, (sums[end + 1]! - sums[end + 1 - stretch]!) / Math.sqrt(stretch))
    }
    return most
  })
}

/** Other signs of the arc: calibrations refused before the session's splices, and which of them broke when pulled. */
interface ArcSigns {
  refused: number
  broke: readonly boolean[]
}

/** What a shift of one standard deviation is told from none by, at half of it (E. S. Page, Biometrika 41, 1954). */
const HALF_SHIFT = 0.5
/**
 * What a refused calibration and a broken joint weigh beside a standard deviation of loss: logarithms of how much likelier
 * they are with an arc that is not right (judgement: two calibrations of five against one of six; one joint of 25 against
 * one of 150).
 */
const REFUSED = Math.log(0.4 / 0.16)
const BROKE = Math.log(0.04 / 0.0067)

/** Sum of what stands above half a shift, begun anew whenever it falls below nothing: a drift adds up, chance does not. */
function summedUp(z: readonly number[], { refused, broke }: ArcSigns): number[] {
  let sum = refused * REFUSED
  return z.map((value, i) => {
    sum = Math.max(0, sum + value - HALF_SHIFT + (broke[i] ? BROKE : 0))
    return sum
  })
}

/** Signs as a healthy arc gives them at times (judgement: one calibration of seven refused, one joint of 150 broken). */
function simulatedArc(random: Random): ArcSigns {
  let refused = 0
  while (refused < 3 && random.uniform() < 0.14) refused++
  return { refused, broke: Array.from({ length: SESSION }, () => random.uniform() < 0.0067) }
}

function arcOf(
  values: readonly { at: number }[],
  attempts: readonly WatchedAttempt[],
  { calibrationsRefused }: SessionCare,
): ArcSigns {
  return { refused: calibrationsRefused, broke: values.map(({ at }) => attempts[at]!.proof === 'broke') }
}

/** What is usual of a series. */
export interface Usual {
  /** On the chart. */
  center: number
  sigma: number
  /** Of the readings as they are shown. */
  middle: number
  /** What the session's largest standing-off stays under in all but its share of false alarms. */
  limit: number
}

/**
 * Center, spread and limit of a series. The limit is simulated: sessions are drawn from the reference's own values, judged
 * against a center and spread that were themselves drawn, so that a short reference widens its limit.
 */
function usualOf(series: Charted, reference: Reference): Usual {
  const own = readingsOf(series, reference).map(({ reading }) => onChart(series, reading))
  const random = seededRandom(7 + series.length)
  const perSession = SESSION * (series === 'angle' ? 2 : 1)
  const draw = (from: readonly number[], count: number) =>
    Array.from({ length: count }, () => from[Math.floor(random.uniform() * from.length)]!)
  const { center, sigma } = USUAL[series]
  const enough = own.length >= LEAST_REFERENCE
  const source = enough ? own : Array.from({ length: 400 }, () => center + sigma * random.normal())
  const told = enough ? spreadOf(own) : { center, sigma }
  const largest: number[] = []
  for (let i = 0; i < SIMULATED; i++) {
    const by = enough ? spreadOf(draw(own, own.length)) : told
    const z = draw(source, perSession).map((value) => clip((value - by.center) / by.sigma))
    largest.push(Math.max(...(series === 'loss' ? summedUp(z, simulatedArc(random)) : standingOff(z))))
  }
  largest.sort((a, b) => a - b)
  const readings = readingsOf(series, reference).map(({ reading }) => reading)
  return {
    ...told,
    middle: enough ? median(readings) : offChart(series, center),
    limit: largest[Math.ceil((1 - SHARES[series]) * SIMULATED) - 1]!,
  }
}

function spreadOf(values: readonly number[]): { center: number; sigma: number } {
  const { center, sigma } = individualsChart(values)
  // A splicer that shows the same figure again and again has a spread of its last digit at least.
  return { center, sigma: Math.max(sigma, 0.1) }
}

const usualCache = {
  loss: new WeakMap<Reference, Usual>(),
  angle: new WeakMap<Reference, Usual>(),
  offset: new WeakMap<Reference, Usual>(),
}
const endsCache = new WeakMap<Reference, UsualShare>()

function once<T>(cache: WeakMap<Reference, T>, reference: Reference, make: () => T): T {
  const found = cache.get(reference) ?? make()
  cache.set(reference, found)
  return found
}

/** As {@link usualOf}, once for each reference. */
function usual(series: Charted, reference: Reference): Usual {
  return once(usualCache[series], reference, () => usualOf(series, reference))
}

/**
 * What attempts of a session show against the splicer's usual work, and the likeliest cause with its evidence. Nobody is
 * blamed by default: a hand is named only where ends that look bad in the picture, or angles that jump while most stay
 * as they are, show it.
 * @param attempts since the last time something was done about it, in their order
 * @param reference earlier splices of the same splicer, without what was found to be wrong; limits come from them
 */
export function sessionPatterns(
  attempts: readonly WatchedAttempt[],
  reference: Reference,
  care: SessionCare = NO_CARE,
): SessionPatterns {
  const signals: Signal[] = []
  for (const series of ['loss', 'angle', 'offset'] as const) {
    const { center, sigma, middle, limit } = usual(series, reference)
    const values = readingsOf(series, attempts)
    if (values.length === 0) continue
    const z = values.map(({ reading }) => clip((onChart(series, reading) - center) / sigma))
    const off = series === 'loss' ? summedUp(z, arcOf(values, attempts, care)) : standingOff(z)
    const first = off.findIndex((size) => size > limit)
    if (first < 0) continue
    const now = median(values.map(({ reading }) => reading))
    signals.push({
      series,
      since: values[first]!.at,
      size: off[first]!,
      words: `${WORDS[series]} ${inUnit(series, now)}, usual ${inUnit(series, middle)}`,
    })
  }
  const ends = badEnds(attempts, reference)
  if (ends) signals.push(ends)
  return {
    signals,
    pattern: causeOf(signals, attempts, reference, care),
    reference: reference.length >= LEAST_REFERENCE ? 'own splices' : 'usual figures',
    usual: { loss: usual('loss', reference), angle: usual('angle', reference), offset: usual('offset', reference) },
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

/** Something that happens in some attempts: its usual share, and how unlikely a run of them has to be for a signal. */
interface UsualShare {
  share: number
  /** Binomial tail that a session's least likely count stays above in all but its share of false alarms. */
  limit: number
}

/** Share and limit by simulation; the share itself was counted in so many, which widens the limit. */
function usualShare(happened: number, of: number, fallback: number): UsualShare {
  const random = seededRandom(11)
  const shareOf = (count: number) => (of >= LEAST_REFERENCE ? (count + 1) / (of + 2) : fallback)
  const share = shareOf(happened)
  const least: number[] = []
  for (let i = 0; i < SIMULATED; i++) {
    let again = 0
    if (of >= LEAST_REFERENCE) for (let k = 0; k < of; k++) if (random.uniform() < share) again++
    const judgedBy = shareOf(again)
    let [count, smallest] = [0, 1]
    for (let k = 0; k < SESSION; k++) {
      if (random.uniform() >= share) continue
      count++
      smallest = Math.min(smallest, binomialTail(k + 1, count, judgedBy))
    }
    least.push(smallest)
  }
  least.sort((a, b) => a - b)
  return { share, limit: least[Math.floor(SHARES.ends * SIMULATED)]! }
}

function shareOfEnds(reference: Reference): UsualShare {
  const told = reference.filter(({ gap }) => gap !== null)
  const bad = told.filter(({ gap }) => gap === 'bad').length
  return once(endsCache, reference, () => usualShare(bad, told.length, USUAL.ends))
}

/** More bad ends in the picture than healthy work shows. */
function badEnds(attempts: readonly WatchedAttempt[], reference: Reference): Signal | null {
  const { share, limit } = shareOfEnds(reference)
  let count = 0
  for (const [at, { gap }] of attempts.entries()) {
    if (gap !== 'bad') continue
    count++
    if (binomialTail(at + 1, count, share) < limit)
      return {
        series: 'ends',
        since: at,
        size: count,
        words: `${count} of ${at + 1} pairs looked bad in the picture, usual is ${(100 * share).toFixed(0)} %`,
      }
  }
  return null
}

/** Whether as many bad pictures are unlikely in healthy work, looked at once. */
function endsLean(attempts: readonly WatchedAttempt[], reference: Reference): boolean {
  const count = attempts.filter(({ gap }) => gap === 'bad').length
  return count >= 2 && binomialTail(attempts.length, count, shareOfEnds(reference).share) < 0.05
}

/** Probability of `least` or more of `n`, each with `p`. */
function binomialTail(n: number, least: number, p: number): number {
  let [term, below] = [(1 - p) ** n, 0]
  for (let k = 0; k < least; k++) {
    below += term
    term *= ((n - k) / (k + 1)) * (p / (1 - p))
  }
  return 1 - below
}

function causeOf(
  signals: readonly Signal[],
  attempts: readonly WatchedAttempt[],
  reference: Reference,
  care: SessionCare,
): Pattern | null {
  const of = (series: Signal['series']) => signals.find((signal) => signal.series === series)
  const [loss, angle, offset, ends] = [of('loss'), of('angle'), of('offset'), of('ends')]
  const say = (cause: Cause, evidence: string[]): Pattern => ({
    cause,
    advice: ADVICE[cause],
    evidence,
    since: Math.min(...signals.map(({ since }) => since)),
  })
  if (signals.length === 0) return null
  if (offset) return say('grooves', [offset.words, ...(loss ? [loss.words] : [])])
  const angles = readingsOf('angle', attempts).map(({ reading }) => onChart('angle', reading))
  const { center } = usual('angle', reference)
  // A blade moves all ends: even the better quarter of them is above the usual middle. A hand spoils some.
  const most = angles.length > 0 && quantile(angles, 0.25) > center
  // Two bad pictures that healthy work would hardly show lean to the hand, though alone they are no signal.
  const spoiled = endsLean(attempts, reference)
  if (ends && !(angle && most && !spoiled))
    return say('hand', [ends.words, ...(angle ? [`${angle.words}; some ends stand out, most do not`] : [])])
  if (angle) {
    const above = angles.filter((value) => value > center).length
    const evidence = [angle.words, `${above} of ${angles.length} ends above the usual`, ...sideWords(attempts)]
    if (most && !spoiled)
      return say('blade', [...evidence, ...(care.bladeOver ? ['the blade’s count is used up'] : [])])
    return say('hand', [...evidence, 'some ends stand out, most do not'])
  }
  if (!loss) return null
  const estimates = attempts.flatMap(({ estimate }) => estimate ?? [])
  const mismatch = attempts.flatMap(({ modeFields }) => (modeFields ? [mismatchLoss(...modeFields)] : []))
  const predicted = mismatch.length > 0 ? median(mismatch) : 0
  // A machine's picture shows part of it: half to one and a half times the computed loss is it.
  const seen = median(estimates) - usual('loss', reference).middle
  if (predicted >= 0.03 && seen >= predicted / 2 && seen <= predicted * 1.5)
    return say('mode fields', [
      loss.words,
      `the records’ mode fields alone make ${predicted.toFixed(2)} dB (Marcuse 1977); angles and alignment are as usual`,
    ])
  return say('electrodes', [loss.words, 'angles and alignment are as usual', ...arcSigns(attempts, care)])
}

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

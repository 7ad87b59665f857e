import { median } from 'simple-statistics'

/** A reading of loss or received power while something is tightened or closed. */
export interface WatchReading {
  /** s from the begin of the watch */
  at: number
  /** dBm, or dB of a level that falls when light is lost */
  level: number
}

/** When an added loss flags a step. Data: judgement, no published source. */
export const WATCH_RULES = {
  /** Readings before, at least. */
  before: 10,
  /** So many of the last readings tell what it is now. */
  now: 5,
  /** dB of added loss that flags a step, when it is larger than what the readings scatter. */
  flag: 0.05,
  /** Times the scatter of the difference. */
  sigmas: 4,
} as const

export interface WatchJudgement {
  outcome: 'waiting' | 'holds' | 'flagged'
  /** Level before, and added loss now with its standard uncertainty, dB; null while waiting. */
  before: number | null
  added: number | null
  sigma: number | null
  /** The most that was added at any time of the watch, dB. */
  worst: number | null
  reasons: string[]
}

/** Scatter of one reading from the middle of differences between neighbours: a slow drift does not widen it. */
function scatter(levels: readonly number[]): number {
  const steps = levels.slice(1).map((level, i) => Math.abs(level - levels[i]!))
  // Median of |x₂ − x₁| for normal scatter is 0.6745·√2·σ.
  return steps.length === 0 ? 0 : median(steps) / (0.6745 * Math.SQRT2)
}

/**
 * Whether a step adds loss: the last readings against those before it, in medians, so that a single reading neither flags
 * nor hides one.
 * @param before readings before the step
 * @param during readings since it began
 */
export function judgeWatch(before: readonly WatchReading[], during: readonly WatchReading[]): WatchJudgement {
  const nothing = { before: null, added: null, sigma: null, worst: null }
  const { before: least, now, flag, sigmas } = WATCH_RULES
  if (before.length < least)
    return { outcome: 'waiting', ...nothing, reasons: [`${least - before.length} more readings before the step`] }
  const levels = before.map(({ level }) => level)
  const start = median(levels)
  if (during.length < now)
    return { outcome: 'waiting', ...nothing, before: start, reasons: [`${now - during.length} more readings`] }
  const single = scatter([...levels, ...during.map(({ level }) => level)])
  // A median of n readings scatters by √(π/2n) of one.
  const sigma = single * Math.sqrt((Math.PI / 2) * (1 / levels.length + 1 / now))
  const addedAt = (end: number) => start - median(during.slice(end - now, end).map(({ level }) => level))
  let worst = -Infinity
  for (let end = now; end <= during.length; end++) worst = Math.max(worst, addedAt(end))
  const added = addedAt(during.length)
  const dB = (value: number) => `${value.toFixed(2)} dB`
  const flagged = added > Math.max(flag, sigmas * sigma)
  const reasons = flagged
    ? [`${dB(added)} ± ${dB(sigma)} were added: too tight, or something is pinched. Release it, look, try again`]
    : worst > Math.max(flag, sigmas * sigma)
      ? [`up to ${dB(worst)} were added for a while; ${dB(added)} are left`]
      : [
          `${dB(Math.max(0, added))} ± ${dB(sigma)} added; from ${dB(Math.max(flag, sigmas * sigma))} on a step is flagged`,
        ]
  return { outcome: flagged ? 'flagged' : 'holds', before: start, added, sigma, worst, reasons }
}

/** Standard uncertainty of one reading of a meter by hand, dB (its display's last digit and a steady hand; judgement). */
const BY_HAND = 0.02

/**
 * The same from two readings by hand, dBm: one before, one now.
 */
export function judgeTwoReadings(before: number, now: number): WatchJudgement {
  const added = before - now
  const sigma = BY_HAND * Math.SQRT2
  const limit = Math.max(WATCH_RULES.flag, 2 * sigma)
  const flagged = added > limit
  return {
    outcome: flagged ? 'flagged' : 'holds',
    before,
    added,
    sigma,
    worst: added,
    reasons: [
      flagged
        ? `${added.toFixed(2)} dB ± ${sigma.toFixed(2)} dB were added: too tight, or something is pinched. Release it, look, try again`
        : `${Math.max(0, added).toFixed(2)} dB ± ${sigma.toFixed(2)} dB added; from ${limit.toFixed(2)} dB on a step is flagged`,
    ],
  }
}

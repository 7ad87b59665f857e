import { studentQuantile, upperTailQuantile } from '../../units/normal.ts'
import { longSigmaAt, type Noise } from '../noise/noise.ts'
import { WHOLE_SUMS, type PrefixSums } from '../noise/prefixSums.ts'

/** A change of level found in a series: `rise` is right minus left, dB; a loss has a negative rise. */
export interface Step {
  /** Last point of the left level, points. */
  index: number
  rise: number
  /** Size over its own standard deviation. */
  significance: number
}

export interface StepSearch {
  sums: PrefixSums
  noise: Noise
  /** Points that the transition takes (the pulse with its rounding). */
  gap: number
  /** Expected slope, dB a point, and how far a stretch of fiber may differ from it. */
  slope: number
  slopeSigma: number
  from: number
  to: number
  /** Chance of one or more false steps in a series without any. */
  falseAlarm?: number
  /** Steps smaller than this are not looked for, dB. */
  smallest?: number
}

const SCALE_RATIO = 2
const POINTS_PER_STRIDE = 6
const MIN_POINTS = 4
/** Between two places of the stride a step loses a tenth of its size at most. */
const BETWEEN_PLACES = 0.85
/**
 * Places that count as different in a stretch of one window's length, per z². A continuous record of differences of two
 * neighbouring windows correlates as 1 − 1.5·|shift|/w, for which extreme-value theory gives 1.5·z²; places that are
 * looked at in strides count for less: a fifth, by simulation on white noise.
 */
const PLACES_PER_WINDOW = 0.3
/** A significance that is computed in another order is the same but for rounding. */
const NEARLY = 0.999
/** The two sides of a step share their slope but for this part of what a stretch of fiber may differ by. */
const SECTIONS_DIFFER = 0.1

/**
 * Finds level changes by comparing the means of a window on each side of a gap, at window lengths that double,
 * and splitting the series at the most significant one until none is left. Each window length has its own threshold,
 * so that the whole search holds the stated false-alarm rate at the noise of the place (see `thresholdFor`).
 * @returns steps in order of place
 */
export function findSteps(search: StepSearch): Step[] {
  const found: Step[] = []
  const open: [number, number][] = [[search.from, search.to]]
  const margin = Math.ceil(search.gap / 3)
  const scan = new Scan(search)
  while (open.length > 0) {
    const [from, to] = open.pop()!
    const best = scan.strongest(from, to)
    if (!best) continue
    found.push(best)
    open.push([from, best.index + 1 - margin], [best.index + search.gap + margin, to])
  }
  found.sort((a, b) => a.index - b.index)
  return found.map((step, k) => {
    const from = k > 0 ? found[k - 1]!.index + search.gap : search.from
    return scan.measured(step, from, found[k + 1]?.index ?? search.to)
  })
}

/** The smallest step that a search would have found with this many points in use on each side, dB. */
export function smallestStepSeen(search: StepSearch, index: number, reach: number): number {
  const window = Math.max(MIN_POINTS, reach)
  const variance = (2 * longSigmaAt(search.noise, index) ** 2) / window
  const own = (variance / 2) * (12 / (2 * window * window))
  const slopeVariance = 1 / (1 / own + 1 / search.slopeSigma ** 2) + (SECTIONS_DIFFER * search.slopeSigma) ** 2
  return thresholdFor(search, window) * Math.sqrt(variance + slopeVariance * (window + search.gap) ** 2)
}

/**
 * The threshold shares the false-alarm rate among window lengths and the places that count at this one. The noise it is
 * held against is an estimate itself, so that the quantile is Student's rather than the normal distribution's.
 */
function thresholdFor(search: StepSearch, w: number): number {
  const span = search.to - search.from
  const scales = Math.max(1, Math.log2(span / Math.max(MIN_POINTS, search.gap)))
  const aimed = (search.falseAlarm ?? 0.01) / (2 * scales)
  let z = 4
  for (let round = 0; round < 3; round++)
    z = upperTailQuantile(Math.min(0.5, aimed / Math.max(1, (PLACES_PER_WINDOW * z * z * span) / w)))
  return studentQuantile(z, search.noise.degreesOfFreedom)
}

/** The places of one window length, in strides over the whole search. */
interface Scale {
  window: number
  /** Points between both windows: `gap`, or a little more. */
  gap: number
  /** The first place looked at, and the distance from one to the next. */
  first: number
  stride: number
  threshold: number
  /** Places where the whole search may show a step. */
  promising: number[]
}

/** One evaluation after the other, without making objects: these loops decide how fast a trace is analyzed. */
class Scan {
  // Taken out of the search one by one: objects of other shapes would make these loops slower.
  readonly #sums: PrefixSums
  readonly #blocks: Float64Array
  readonly #blockSize: number
  readonly #gap: number
  readonly #slope: number
  readonly #slopeSigma: number
  readonly #smallest: number
  readonly #from: number
  readonly #to: number
  readonly #threshold: (window: number) => number
  readonly #scales: readonly Scale[]
  /** What the last evaluation found. */
  #rise = 0
  #significance = 0
  readonly #fit = new Float64Array(10)

  constructor(search: StepSearch) {
    const { from, to, gap, noise } = search
    this.#sums = search.sums
    this.#blocks = noise.long
    this.#blockSize = noise.blockSize
    this.#gap = gap
    this.#slope = search.slope
    this.#slopeSigma = search.slopeSigma
    this.#smallest = search.smallest ?? 0
    this.#from = from
    this.#to = to
    this.#threshold = (window) => thresholdFor(search, window)
    const first = Math.max(MIN_POINTS, gap)
    const scales: Scale[] = []
    for (let window = first; window <= Math.max(first, (to - from) / 2); window *= SCALE_RATIO) {
      const scale = { ...this.#gridOf(window), threshold: this.#threshold(window) }
      scales.push({ ...scale, promising: this.#promising(scale) })
    }
    this.#scales = scales
  }

  /** Places in strides; those of a long window lie where its sums are at hand. */
  #gridOf(window: number): Pick<Scale, 'window' | 'gap' | 'first' | 'stride'> {
    const gap = this.#gap
    const first = this.#from + MIN_POINTS - 1
    const stride = Math.max(1, Math.floor(window / POINTS_PER_STRIDE))
    if (window % WHOLE_SUMS !== 0 || stride < 4 * WHOLE_SUMS) return { window, gap, first, stride }
    const up = (n: number) => Math.ceil(n / WHOLE_SUMS) * WHOLE_SUMS
    return { window, gap: up(gap - 1) + 1, first: up(first + 1) - 1, stride: up(stride + 1) - WHOLE_SUMS }
  }

  /** The most significant step in [from, to), placed as sharply as it can be seen; null when none passes. */
  strongest(from: number, to: number): Step | null {
    let best: Step | null = null
    let bestStrength = 1
    let bestWindow = 0
    for (const scale of this.#scales) {
      const { window, stride, threshold } = scale
      if (window > (to - from) / 2 && scale !== this.#scales[0]) break
      for (const i of this.#placesToTry(scale, from, to)) {
        const worthwhile = BETWEEN_PLACES * threshold * bestStrength
        if (!(this.#evaluate(from, to, i, window, worthwhile, scale.gap) > worthwhile)) continue
        for (let k = i - stride + 1; k < i + stride; k += Math.max(1, stride >> 3)) {
          const strength = this.#evaluate(from, to, k, window) / threshold
          if (!(strength > bestStrength)) continue
          best = { index: k, rise: this.#rise, significance: this.#significance }
          bestStrength = strength
          bestWindow = window
        }
      }
    }
    return best && { ...best, index: this.#sharpen(from, to, best.index, bestWindow) }
  }

  /**
   * Windows that a split has not cut show what the whole search showed: in a part of it only the promising places count
   * again, and those whose windows the part's bounds cut.
   */
  #placesToTry({ window, gap, first: grid, stride, promising }: Scale, from: number, to: number): number[] {
    const first = Math.max(0, from + MIN_POINTS - 1 - grid)
    const last = to - gap - MIN_POINTS - 1
    const whole = from === this.#from && to === this.#to
    if (whole) return promising
    const places: number[] = []
    const cutBefore = from === this.#from ? from : from + window
    const cutAfter = to === this.#to ? to : to - gap - window
    let i = grid + Math.ceil(first / stride) * stride
    for (; i <= Math.min(last, cutBefore); i += stride) places.push(i)
    for (const place of promising) if (place >= i && place <= Math.min(last, cutAfter)) places.push(place)
    if (cutAfter < last) {
      const next = Math.max(i, cutAfter + 1)
      for (let k = grid + Math.ceil((next - grid) / stride) * stride; k <= last; k += stride) places.push(k)
    }
    return places
  }

  /** Places over the whole search whose significance is `enough`. Most are far from any step: a glance must do. */
  #promising({ window, gap, first, stride, threshold }: Omit<Scale, 'promising'>): number[] {
    const enough = BETWEEN_PLACES * threshold
    const sums = this.#sums
    const blocks = this.#blocks
    const blockSize = this.#blockSize
    const [smallest, from, to] = [this.#smallest, this.#from, this.#to]
    const places: number[] = []
    const between = gap + window - 1
    const fall = this.#slope * between
    const slack = 4 * this.#slopeSigma * between
    const scatter = enough / Math.sqrt(window)
    const half = (window - 1) / 2
    // What is the same for all windows that lie within the series: of the slope that they share, and of its variance.
    const prior = 1 / (this.#slopeSigma * this.#slopeSigma)
    const spread = (window * (window * window - 1)) / 12
    const perMean = 1 / window
    const sectionsDiffer = (SECTIONS_DIFFER * this.#slopeSigma) ** 2
    const nearlyEnough = NEARLY * enough * NEARLY * enough
    // Where even the quietest part of the series would hide it, the noise of the place need not be looked up.
    const atLeast = Math.max(smallest, scatter * Math.SQRT2 * blocks.reduce((a, b) => Math.min(a, b)))
    const last = to - gap - MIN_POINTS
    // Where both windows lie within the series the sums tell at a glance which place is next.
    const inside = Math.min(last, to - gap - window + 1)
    const [climb, drop] = [fall + Math.max(0, atLeast - slack), fall - Math.max(0, atLeast - slack)]
    for (let i = first; i < last; i += stride) {
      if (i + 1 - window >= from && i < inside) {
        i = sums.nextRise(i, inside, stride, 1 - window, window, gap, window, climb, drop)
        if (i >= inside) {
          i -= stride
          continue
        }
        const right = i + gap
        const difference = sums.rise(i + 1 - window, window, right, window)
        const most = Math.abs(difference - fall) + slack
        const sigmaLeft = blocks[Math.min(blocks.length - 1, Math.floor((i - half) / blockSize))]!
        const sigmaRight = blocks[Math.min(blocks.length - 1, Math.floor((right + half) / blockSize))]!
        const [left2, right2] = [sigmaLeft * sigmaLeft, sigmaRight * sigmaRight]
        if (most * most < scatter * scatter * (left2 + right2)) continue
        const tilts = sums.tilt(i + 1 - window, i + 1) / left2 + sums.tilt(right, right + window) / right2
        const weight = prior + spread / left2 + spread / right2
        const rise = difference - ((this.#slope * prior + tilts) / weight) * between
        const variance = perMean * (left2 + right2) + (1 / weight + sectionsDiffer) * between * between
        if (rise * rise < nearlyEnough * variance) continue
      }
      if (this.#evaluate(from, to, i, window, enough, gap) > enough) places.push(i)
    }
    return places
  }

  /** The step with its size from all that lies between its neighbours; the window that found it may reach past them. */
  measured(step: Step, from: number, to: number): Step {
    const significance = this.#evaluate(from, to, step.index, to - from)
    const rise = significance > 0 ? this.#rise : step.rise
    const sums = this.#sums
    const right = step.index + this.#gap
    if (!(sums.count(from, step.index + 1) > 0 && right < to && sums.count(right, to) > 0)) return step
    // Over fiber whose slope changes, the slope that both sides share may turn a fall into a rise.
    const between = sums.center(right, to) - sums.center(from, step.index + 1)
    const plain = sums.mean(right, to) - sums.mean(from, step.index + 1) - this.#slope * between
    return {
      ...step,
      rise: Math.sign(plain) === Math.sign(rise) ? rise : plain,
      significance: significance > 0 ? significance : step.significance,
    }
  }

  /** A long window finds a step but does not say where exactly: shorter ones do, as long as they see it too. */
  #sharpen(from: number, to: number, index: number, w: number): number {
    const shortest = Math.max(MIN_POINTS, this.#gap)
    let place = index
    for (let narrow = Math.floor(w / SCALE_RATIO); narrow >= shortest; narrow = Math.floor(narrow / SCALE_RATIO)) {
      const first = Math.max(from, place - narrow)
      const last = Math.min(to - 1, place + narrow)
      const step = Math.max(1, Math.floor(narrow / 64))
      let top = 0
      const seen: number[] = []
      for (let i = first; i <= last; i += step) {
        const significance = this.#evaluate(from, to, i, narrow)
        seen.push(significance)
        if (significance > top) top = significance
      }
      if (top < this.#threshold(narrow)) break
      // Wherever the gap covers the whole transition the fit is equally good: the middle of those places is meant.
      let low = last
      let high = first
      seen.forEach((significance, k) => {
        if (!(significance > top - 1)) return
        low = Math.min(low, first + k * step)
        high = Math.max(high, first + k * step)
      })
      place = Math.round((low + high) / 2)
    }
    return place
  }

  /**
   * Significance of a step whose left level ends at `index`; 0 where it can't be told, is too small or can't be
   * `enough`.
   */
  #evaluate(from: number, to: number, index: number, w: number, enough = 0, gap = this.#gap): number {
    const slope = this.#slope
    const slopeSigma = this.#slopeSigma
    const blocks = this.#blocks
    const blockSize = this.#blockSize
    const left0 = Math.max(from, index + 1 - w)
    const right0 = index + gap
    const right1 = Math.min(to, right0 + w)
    if (right1 <= right0 || left0 > index) return 0
    const fit = this.#fit
    this.#sums.twoWindows(left0, index + 1, right0, right1, fit)
    const nLeft = fit[0]!
    const nRight = fit[5]!
    if (nLeft < MIN_POINTS || nRight < MIN_POINTS) return 0
    const lastBlock = blocks.length - 1
    const sigmaLeft = blocks[Math.min(lastBlock, Math.floor((left0 + index) / 2 / blockSize))]!
    const sigmaRight = blocks[Math.min(lastBlock, Math.floor((right0 + right1) / 2 / blockSize))]!
    if (!(sigmaLeft < Infinity && sigmaRight < Infinity)) return 0
    const between = fit[7]! - fit[2]!
    const varianceLeft = sigmaLeft * sigmaLeft
    const varianceRight = sigmaRight * sigmaRight
    const meanVariance = varianceLeft / nLeft + varianceRight / nRight
    const difference = fit[6]! - fit[1]!
    // Most places are far from any step, whatever the slope: no more is computed for them.
    const most = Math.abs(difference - slope * between) + 4 * slopeSigma * between
    if (most < this.#smallest || most * most < enough * enough * meanVariance) return 0
    // The slope that both sides share, from what is expected and from the sides themselves, each by its weight.
    const prior = 1 / (slopeSigma * slopeSigma)
    const perLeft = 1 / varianceLeft
    const perRight = 1 / varianceRight
    const weight = prior + fit[4]! * perLeft + fit[9]! * perRight
    const shared = (slope * prior + fit[3]! * perLeft + fit[8]! * perRight) / weight
    const rise = difference - shared * between
    if (Math.abs(rise) < this.#smallest) return 0
    const slopeVariance = 1 / weight + (SECTIONS_DIFFER * slopeSigma) ** 2
    const variance = meanVariance + slopeVariance * between * between
    this.#rise = rise
    this.#significance = Math.abs(rise) / Math.sqrt(variance)
    return this.#significance
  }
}

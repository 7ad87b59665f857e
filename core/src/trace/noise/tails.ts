import { fcnnlsVector } from 'ml-fcnnls'
import { CholeskyDecomposition, inverse, Matrix, solve } from 'ml-matrix'
import { powerFromDisplayLevel } from '../../units/decibel.ts'
import { powerMeanSigma, powerSigmaAt, type TraceNoise } from './noise.ts'

/** A reflection as the search for its tail needs it, points. */
export interface Reflected {
  start: number
  /** Where it has fallen to half its height. */
  fallen: number
  /** Points before `start` from which the trace rises. */
  lead: number
}

/** What a trace shows between a reflection and the next one, or the trace's last point. */
export interface Stretch {
  /** First point after the reflection's fall. */
  from: number
  /** From here on what is left of the tail, with what is not sure of it, is less than the fiber's noise, points. */
  settled: number
  /** Whether a fiber's light goes on after the reflection; null where there is too little room to tell. */
  lit: boolean | null
}

/** What tails are looked for in. */
export interface TailSearch {
  levels: Float64Array
  noise: TraceNoise
  pulsePoints: number
  /** Of the fiber, dB a point (negative). */
  slope: number
  /** Time constant of a tail, points. */
  longest: number
  /** A pulse that is not rectangular goes on falling after half its height for so many points. */
  falling: number
}

/** Levels with the tails of reflections taken off. */
export interface Cleared {
  levels: Float64Array
  /** One for each reflection. */
  stretches: Stretch[]
}

/** Cells grow with the way from the reflection to this part of it. */
const CELL_PART = 1 / 10
/** The first window that is looked at, in pulses and in points; each further one is so many times as long. */
const FIRST_WINDOW = { pulses: 6, points: 24 }
const LONGER = 1.6
const FEWEST_CELLS = 6
/** Time constants that are tried follow each other by this factor. */
const CONSTANTS_RATIO = 1.5
/** Receivers recover with time constants of at most this, s (judgement: from tens of ns to a few µs). */
export const SLOWEST_RECOVERY = { usual: 4e-6, ever: 6e-6 } as const
/** A tail falls so many times as fast as the fiber at least: what falls more slowly is fiber (judgement). */
const FASTER_THAN_FIBER = 5
/** Misfit for each cell up to which fiber and tail explain a window: beyond it something else lies in it (judgement). */
const EXPLAINED = 1.6
/** The same of a longer window that a tail explains alone: folded or clipped noise, which it runs into, is no exponential (judgement). */
const TAIL_ALONE = 8
/** A longer window may be explained so much worse than the best (judgement). */
const SCARCELY_WORSE = 1.5
/** With a misfit of more than this for each cell what was fitted is no tail (judgement). */
const INEXPLICABLE = 60
/** After so many of its longest time constants nothing is left of a tail. */
const TAIL_GONE = 12
/** Shapes of tails are known to about this part (judgement). */
const SHAPE_PART = 0.04
/** A level is known to this part beside its noise: it is stored in steps of 0.001 dB. */
const LEVEL_PART = 0.003
/** Exponentials whose constants are given are a tail to this part: between two constants a third one is not quite their sum. */
const CONSTANTS_PART = 0.015
/** A fiber's light stands so many standard deviations over none, and over the receiver's noise by this factor. */
const LIT_SIGMAS = 5
const LIT_OVER_NOISE = 1.5
/** A part of a tail that is known worse than to this many standard deviations is left out. */
const PART_SIGMAS = 6
/** A tail that is so much less than the noise need not be taken off. */
const GONE = 0.02

/** Exponentials that a tail is the sum of: power at its beginning, and points in which it falls by e. */
interface Part {
  power: number
  constant: number
}

interface Fit {
  fiber: number
  fiberSigma: number
  parts: Part[]
  /** χ² for each cell that is not used up by a parameter. */
  misfit: number
  to: number
  /** Of the window, points. */
  length: number
}

/**
 * Takes the tails of reflections off. A receiver recovers from strong light over several time constants, so that what it
 * shows after a reflection is the fiber's light, if it goes on, with a sum of exponentials over it, all of them above zero:
 * fitted by least squares without negative amplitudes (Lawson and Hanson, Solving Least Squares Problems, 1974). Fiber is
 * what falls as slowly as fiber does: without it, the light has ended at the reflection.
 * @param reflections in order of place
 */
export function takeOffTails(search: TailSearch, reflections: readonly Reflected[]): Cleared {
  const first = clear(search, reflections, null)
  const slow = slowConstants(first.fits, search.pulsePoints)
  const isHidden = (fit: Fit | null) => fit !== null && slow.length > 0 && fit.length < WELL_SEEN * slow.at(-1)!
  // One receiver recovers alike from each reflection: where too little is seen of a slow tail, its constants are those that others show.
  return first.fits.some(isHidden) ? clear(search, reflections, slow) : first
}

/** A time constant is well told by a window of so many of it. */
const WELL_SEEN = 3

/** The slow time constants that long windows show, shortest first, points. */
function slowConstants(fits: readonly (Fit | null)[], pulsePoints: number): number[] {
  const constants = fits.flatMap((fit) =>
    fit && fit.misfit <= EXPLAINED
      ? fit.parts.flatMap(({ constant }) =>
          constant > WELL_SEEN * pulsePoints && fit.length >= WELL_SEEN * constant ? [constant] : [],
        )
      : [],
  )
  return [...new Set(constants)].sort((a, b) => a - b)
}

/** @param slow the only slow time constants that there are, points; null where they are not known */
function clear(
  { levels, noise, pulsePoints, slope, longest, falling }: TailSearch,
  reflections: readonly Reflected[],
  slow: readonly number[] | null,
): Cleared & { fits: (Fit | null)[] } {
  const cleared = levels.slice()
  const decay = (-slope * Math.LN10) / 5
  const fits: (Fit | null)[] = []
  const stretches = reflections.map((reflection, k): Stretch => {
    const next = reflections[k + 1]
    const from = Math.ceil(reflection.fallen + falling) + 1
    const to = next ? Math.floor(next.start - next.lead) : levels.length
    const fit = longestFit(cleared, noise, pulsePoints, decay, longest, from, to, slow)
    fits.push(fit)
    if (!fit) return { from, settled: Math.min(from, to), lit: null }
    // What no tail explains is left as it is.
    if (fit.misfit > INEXPLICABLE)
      return { from, settled: Math.min(from, to), lit: fades(levels, noise, from, to) ? false : null }
    takeOff(cleared, noise, from, fit)
    return { from, settled: settledAt(noise, pulsePoints, from, to, fit), lit: litBy(noise, from, fit) }
  })
  return { levels: cleared, stretches, fits }
}

/** Whether what is left without the tail is a fiber's light. */
function litBy(noise: TraceNoise, from: number, { fiber, fiberSigma, to }: Fit): boolean {
  return fiber > LIT_SIGMAS * fiberSigma && fiber > LIT_OVER_NOISE * leastSigma(noise, from, to)
}

/** The receiver's noise in a stretch: beside a reflection it is not told well. */
function leastSigma(noise: TraceNoise, from: number, to: number): number {
  const places = Array.from({ length: 9 }, (_, k) => from + ((to - 1 - from) * k) / 8)
  return Math.min(...places.map((place) => powerSigmaAt(noise, place)))
}

/** Whether a stretch ends in nothing but noise. */
function fades(levels: Float64Array, noise: TraceNoise, from: number, to: number): boolean {
  const last = Math.max(from, to - Math.max(4, Math.floor((to - from) / 10)))
  let power = 0
  for (let i = last; i < to; i++) power += powerFromDisplayLevel(levels[i]!)
  return power / Math.max(1, to - last) < LIT_OVER_NOISE * leastSigma(noise, from, to)
}

/** Of the columns that are fitted so many are the fiber's. */
const FIBER_COLUMNS = 3
/** A stretch of fiber attenuates otherwise than is usual in its trace by this part, one standard deviation (judgement). */
const SLOPES_DIFFER = 0.15

/** Fiber and tail in the longest window that they explain. */
function longestFit(
  levels: Float64Array,
  noise: TraceNoise,
  pulsePoints: number,
  decay: number,
  longest: number,
  from: number,
  end: number,
  slow: readonly number[] | null,
): Fit | null {
  const slowest = Math.min(end - from, longest, decay > 0 ? 1 / (FASTER_THAN_FIBER * decay) : Infinity)
  const reach = Math.min(end, Math.ceil(from + Math.max(FIRST_WINDOW.points, TAIL_GONE * slowest)))
  const cells = cellsOf(levels, noise, pulsePoints, from, reach)
  // The fiber's light, and by how much its slope may be another one, up and down.
  const fiber = 1 / Math.max(decay, 1e-12)
  const constants = [fiber, fiber, fiber]
  const quick = slow === null ? slowest : Math.min(slowest, slow[0]! / CONSTANTS_RATIO)
  for (let constant = Math.max(1, pulsePoints / 6); constant <= quick; constant *= CONSTANTS_RATIO)
    constants.push(constant)
  const known = new Set((slow ?? []).filter((constant) => decay <= 0 || constant * FASTER_THAN_FIBER * decay < 1))
  constants.push(...known)
  const equations = new Equations(constants.length)
  const fits: Fit[] = []
  let length = Math.max(FIRST_WINDOW.points, FIRST_WINDOW.pulses * pulsePoints)
  // A slope that differs by a standard deviation turns the light by so much of itself a point.
  const turn = SLOPES_DIFFER * decay
  const light = Math.max(1e-30, cells.at(-1)?.power ?? 0)
  for (const cell of cells) cell.sigma = Math.hypot(cell.sigma, CONSTANTS_PART * Math.max(0, cell.power - light))
  for (const k of [1, 2])
    equations.add(
      constants.map((_, i) => (i === k ? 1 / light : 0)),
      0,
    )
  cells.forEach((cell, k) => {
    const bend = turn * (cell.at + cell.width / 2)
    equations.add(
      constants.map(
        (constant, i) => ((i === 1 ? bend : i === 2 ? -bend : 1) * meanOf(cell.at, cell.width, constant)) / cell.sigma,
      ),
      cell.power / cell.sigma,
    )
    const seen = cell.at + cell.width
    if (k + 1 < FEWEST_CELLS || (seen < length && k + 1 < cells.length)) return
    fits.push(fitOf(equations, constants, known, seen, from))
    length = seen * LONGER
  })
  const least = Math.min(...fits.map(({ misfit }) => misfit))
  const explained = fits.findLast(({ misfit }) => misfit <= Math.max(EXPLAINED, SCARCELY_WORSE * least)) ?? null
  // A short window may take the end of a slow tail for fiber. Fiber would be there in a longer one, too.
  const dark = fits.filter(
    (fit) => fit.misfit <= TAIL_ALONE && explained && fit.to > explained.to && !litBy(noise, from, fit),
  )
  return dark.length > 0 ? dark.reduce((a, b) => (b.misfit < a.misfit ? b : a)) : explained
}

/** Fiber and those parts of a tail that are sure, in a window of so many points. */
function fitOf(
  equations: Equations,
  constants: readonly number[],
  known: ReadonlySet<number>,
  length: number,
  from: number,
): Fit {
  const fits = (k: number) => k < FIBER_COLUMNS || constants[k]! <= length || known.has(constants[k]!)
  let used = constants.map((_, k) => k).filter(fits)
  for (;;) {
    const { amplitudes, sigmas, left } = equations.solved(used)
    const misfit = left / Math.max(1, equations.count - used.length)
    // Where something else lies in the window, it may look like a part of a tail, too.
    const least = PART_SIGMAS * Math.max(1, Math.sqrt(misfit))
    const unsure = used.map((k, i) => k >= FIBER_COLUMNS && !(amplitudes[i]! > least * sigmas[i]!))
    if (!unsure.includes(true))
      return {
        fiber: amplitudes[0]!,
        fiberSigma: sigmas[0]!,
        parts: used.flatMap((k, i) => (k < FIBER_COLUMNS ? [] : [{ constant: constants[k]!, power: amplitudes[i]! }])),
        misfit,
        to: from + length,
        length,
      }
    // Parts that are alike hide each other: where none is zero the least sure one goes, and the rest is asked again.
    const sure = (i: number) => (used[i]! < FIBER_COLUMNS ? Infinity : amplitudes[i]! / sigmas[i]!)
    const worst = used.reduce((least, _, i) => (sure(i) < sure(least) ? i : least), 0)
    const none = used.map((k, i) => k >= FIBER_COLUMNS && amplitudes[i]! <= 0)
    used = used.filter((_, i) => (none.includes(true) ? !none[i] : i !== worst))
  }
}

/** Normal equations of weighted least squares, to which rows are added. */
class Equations {
  readonly #size: number
  readonly #products: Float64Array
  readonly #sums: Float64Array
  #square = 0
  count = 0

  constructor(size: number) {
    this.#size = size
    this.#products = new Float64Array(size * size)
    this.#sums = new Float64Array(size)
  }

  add(row: readonly number[], value: number): void {
    const n = this.#size
    for (let a = 0; a < n; a++) {
      this.#sums[a]! += row[a]! * value
      for (let b = 0; b <= a; b++) this.#products[a * n + b]! += row[a]! * row[b]!
    }
    this.#square += value * value
    this.count++
  }

  /** Amplitudes of some of the columns, none below zero, their standard deviations, and χ². */
  solved(columns: readonly number[]): { amplitudes: number[]; sigmas: number[]; left: number } {
    const product = (a: number, b: number) => this.#products[Math.max(a, b) * this.#size + Math.min(a, b)]!
    const lengths = columns.map((k) => Math.sqrt(product(k, k)))
    const whole = Math.sqrt(this.#square)
    // Of columns of length 1, with a trifle on the diagonal: two that are alike would make it singular.
    const gram = new Matrix(
      columns.map((a, i) => columns.map((b, k) => (i === k ? 1 + 1e-9 : product(a, b) / (lengths[i]! * lengths[k]!)))),
    )
    const right = columns.map((k, i) => this.#sums[k]! / (lengths[i]! * whole))
    // A triangle with the same normal equations stands for all rows.
    const triangle = new CholeskyDecomposition(gram).lowerTriangularMatrix
    const seen = solve(triangle, Matrix.columnVector(right)).to1DArray()
    const found = fcnnlsVector(triangle.transpose().to2DArray(), seen, { gradientTolerance: 1e-10 }).K.to1DArray()
    const active = columns.map((_, i) => i).filter((i) => found[i]! > 0 || i === 0)
    const covariance = inverse(gram.selection(active, active))
    const sigmas = columns.map(() => Infinity)
    active.forEach((i, n) => (sigmas[i] = Math.sqrt(Math.max(0, covariance.get(n, n))) / lengths[i]!))
    let told = 0
    found.forEach((one, i) => {
      told += 2 * one * right[i]!
      found.forEach((other, k) => (told -= one * other * gram.get(i, k)))
    })
    return {
      amplitudes: found.map((one, i) => (one * whole) / lengths[i]!),
      sigmas,
      left: this.#square * Math.max(0, 1 - told),
    }
  }
}

interface Cell {
  /** Points after the window's beginning. */
  at: number
  width: number
  power: number
  sigma: number
}

/** Means of neighbouring points, as power relative to full scale: few near the reflection, more farther off. */
function cellsOf(levels: Float64Array, noise: TraceNoise, pulsePoints: number, from: number, to: number): Cell[] {
  const cells: Cell[] = []
  for (let i = from; i < to;) {
    const width = Math.min(to - i, Math.max(1, Math.floor((i - from) * CELL_PART)))
    const [start, end] = [i, i + width]
    let sum = 0
    for (; i < end; i++) sum += powerFromDisplayLevel(levels[i]!)
    const power = sum / width
    const rough = noise.roughness * power * Math.min(1, Math.sqrt(pulsePoints / width))
    const sigma = Math.hypot(powerMeanSigma(noise, start, width), rough, LEVEL_PART * power)
    cells.push({ at: start - from, width, power, sigma })
  }
  return cells
}

/** Mean of e^(−x/constant) over a cell. */
function meanOf(at: number, width: number, constant: number): number {
  // The middles of points lie half a point in.
  const x = (width - 1) / constant
  const fall = Math.exp(-at / constant)
  return x < 1e-6 ? fall : (fall * -Math.expm1(-x)) / x
}

function tailAt(parts: readonly Part[], x: number): number {
  let sum = 0
  for (const { power, constant } of parts) sum += power * Math.exp(-x / constant)
  return sum
}

/** Subtracts a tail from levels as power, as far as it is more than a small part of the noise. */
function takeOff(levels: Float64Array, noise: TraceNoise, from: number, { parts }: Fit): void {
  if (parts.length === 0) return
  for (let i = from; i < levels.length; i++) {
    const tail = tailAt(parts, i - from)
    if (tail < GONE * powerSigmaAt(noise, i)) return
    const left = powerFromDisplayLevel(levels[i]!) - tail
    // What noise makes negative is folded up, so that it still looks like noise.
    levels[i] = 5 * Math.log10(Math.max(Math.abs(left), 1e-3 * powerSigmaAt(noise, i)))
  }
}

function settledAt(noise: TraceNoise, pulsePoints: number, from: number, to: number, { fiber, parts }: Fit): number {
  const step = Math.max(1, Math.floor(pulsePoints / 16))
  let i = from
  for (; i < to; i += step) {
    const rest = SHAPE_PART * tailAt(parts, i - from)
    if (rest < Math.max(0.5 * powerMeanSigma(noise, i, Math.max(1, pulsePoints)), 0.002 * fiber)) break
  }
  return Math.min(i, to)
}

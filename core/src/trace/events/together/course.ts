import { stepAt, type Response } from '../response.ts'

/** Cells of the table that a course is read from. */
const CELLS = 256

/**
 * How a change comes as a pulse passes it: a table of its light, which is gathered from where the edge begins, and of a
 * change of slope, which comes as the light's sum.
 */
export class Course {
  readonly #parts = new Float64Array(CELLS + 1)
  readonly #sums = new Float64Array(CELLS + 1)
  readonly #from: number
  readonly #step: number

  /**
   * @param part of the light, 0 to 1, so many points after the edge begins
   * @param from,to points before and after which all of it is to come, and has come
   */
  constructor(part: (x: number) => number, from: number, to: number) {
    this.#from = from
    this.#step = (to - from) / CELLS
    for (let k = 0; k <= CELLS; k++) {
      this.#parts[k] = part(from + k * this.#step)
      if (k > 0) this.#sums[k] = this.#sums[k - 1]! + (this.#step * (this.#parts[k - 1]! + this.#parts[k]!)) / 2
    }
  }

  /** Of a step of 1, 0 to 1. */
  part(x: number): number {
    const at = (x - this.#from) / this.#step
    if (at <= 0) return 0
    if (at >= CELLS) return 1
    const i = Math.floor(at)
    return this.#parts[i]! + (at - i) * (this.#parts[i + 1]! - this.#parts[i]!)
  }

  /** Of a slope of 1 that begins where the edge does, points. */
  sum(x: number): number {
    const at = (x - this.#from) / this.#step
    if (at <= 0) return 0
    if (at >= CELLS) return this.#sums[CELLS]! + (at - CELLS) * this.#step
    const i = Math.floor(at)
    return this.#sums[i]! + (at - i) * (this.#sums[i + 1]! - this.#sums[i]!)
  }
}

/** After so many time constants nothing is left to come. */
const SETTLED_LAGS = 12

/**
 * A rectangular pulse behind a receiver that follows with one time constant. It begins where a reflection has risen to half
 * its height.
 * @param length of the pulse, points
 * @param lag time constant, points
 */
export function laggingCourse(length: number, lag: number): Course {
  if (lag <= 0) return new Course((x) => Math.max(0, Math.min(1, x / length)), 0, length)
  const half = lag * Math.LN2
  const whole = Math.exp(-length / lag)
  const part = (x: number) => {
    const t = x + half
    if (t <= 0) return 0
    if (t < length) return (t - lag * (1 - Math.exp(-t / lag))) / length
    return 1 - (lag / length) * (1 - whole) * Math.exp(-(t - length) / lag)
  }
  return new Course(part, -half, length + SETTLED_LAGS * lag)
}

/**
 * A pulse that rises and falls as a raised cosine, as filtered and Gaussian ones nearly do, half as high at both ends of its
 * nominal length, behind a receiver with one time constant.
 */
export function roundedCourse(length: number, lag: number): Course {
  const whole = 2 * length
  const steps = 400
  const to = whole + SETTLED_LAGS * lag
  const step = to / steps
  const shown = new Float64Array(steps + 1)
  const gathered = new Float64Array(steps + 1)
  const keep = lag > 0 ? Math.exp(-step / lag) : 0
  for (let k = 1; k <= steps; k++) {
    const t = (k - 0.5) * step
    const light = t < whole ? (1 - Math.cos((2 * Math.PI * t) / whole)) / 2 : 0
    shown[k] = keep * shown[k - 1]! + (1 - keep) * light
    gathered[k] = gathered[k - 1]! + shown[k]!
  }
  const top = shown.reduce((most, one) => Math.max(most, one), 0)
  const half = shown.findIndex((one) => one >= top / 2) * step
  const part = (x: number) => {
    const at = Math.min(steps, Math.max(0, (x + half) / step))
    const i = Math.min(steps - 1, Math.floor(at))
    return (gathered[i]! + (at - i) * (gathered[i + 1]! - gathered[i]!)) / gathered[steps]!
  }
  return new Course(part, -half, to - half)
}

/** Pulses as they are sent, of their nominal length, and receivers' time constants in pulses (judgement). */
const LENGTHS = [0.95, 1, 1.06, 1.15]
const LAGS = [0, 0.04, 0.1, 0.2]

/** Courses that an instrument's steps may have: the one that its reflections show, if they do, or the usual one first. */
export function possibleCourses({ response, pulsePoints }: { response: Response; pulsePoints: number }): Course[] {
  const { shape, middle } = response
  return [
    shape
      ? new Course((x) => stepAt(shape, x), shape.from, shape.from + shape.values.length)
      : laggingCourse(Math.max(1, 2 * middle, pulsePoints), 0),
    ...LENGTHS.flatMap((length) => LAGS.map((lag) => laggingCourse(length * pulsePoints, lag * pulsePoints))),
    ...LAGS.map((lag) => roundedCourse(pulsePoints, lag * pulsePoints)),
  ]
}

/**
 * Display level of a step that has come in part, over its whole height: light adds up in power, so that of a large step
 * the level follows another course than its light.
 * @param part 0 to 1
 * @param height dB, above 0 where the level rises
 */
export function levelPart(part: number, height: number): number {
  if (part <= 0) return 0
  if (part >= 1 || Math.abs(height) < 0.01) return Math.min(1, part)
  return (5 * Math.log10(1 + part * (10 ** (height / 5) - 1))) / height
}

import { DB_PER_RELATIVE_POWER } from '../../units/decibel.ts'

/**
 * Noise of means over many points. A receiver adds noise in linear power, whatever the light; a source that is coherent
 * makes the backscatter itself rough, in proportion to the light, alike over a pulse, and the same in every shot (Shimizu
 * et al., Journal of Lightwave Technology 10 (1992) 982, from memory). Both are variances per point of a long mean, as if
 * points were independent: of power relative to full scale, and of the light itself.
 */
export interface LongNoise {
  receiver: number
  roughness: number
  /** Points of the windows that told it, and how many differences there were. */
  width: number
  seen: number
}

/** Every so many points it is asked whether there is light. */
const SAMPLED = 16

/** Windows of so many pulses where light comes from so many pulses: joints must lie in the lesser part of them. */
const WINDOWS = [
  { pulses: 4, from: 1000 },
  { pulses: 2, from: 400 },
  { pulses: 1, from: 200 },
] as const
const FEWEST_POINTS = 8
/** Differences to a level that is told apart, and at most so many levels. */
const TO_A_LEVEL = 40
const MOST_LEVELS = 10
const FEWEST = 8
/** Median of |N(0,1)|. */
const MEDIAN_ABS_NORMAL = 0.674_49

/**
 * What second differences of neighbouring windows show of a roughness alike over one pulse, against what long means have:
 * its correlation falls in a triangle over a pulse. A window of n pulses has the variance (1 − 1/3n)/n, two neighbours share
 * 1/6n² of it, so that a second difference has 6(1 − 1/3n)/n − 8/6n², and independent points would have 6/n.
 */
function shownOfRoughness(pulses: number): number {
  return 1 - 1 / (3 * pulses) - 8 / (36 * pulses)
}

/**
 * What the same differences show of noise whose correlation falls exponentially, of what long means have.
 * @param correlation variance of a long mean over that of independent points: 1 + 2·Σρ
 * @param width of a window, points
 */
function shownOfCorrelated(correlation: number, width: number): number {
  const gone = 1 - Math.exp((-2 * width) / correlation)
  const own = 1 - (correlation / (2 * width)) * gone
  const next = (correlation / (4 * width)) * gone ** 2
  return own - (8 * next - 2 * next * (1 - gone)) / 6
}

/** The variance that second differences of points so far apart show of such noise, of its own. */
export function shownOfPoints(correlation: number, lag: number): number {
  const alike = Math.exp((-2 * lag) / correlation)
  return 1 - (8 * alike - 2 * alike ** 2) / 6
}

/**
 * 1 + 2·Σρ of a receiver's noise from what windows and second differences of points show of it: those that are not much longer
 * than it is correlated show less.
 * @param shown variance of windows, as that of independent points, over the points' own
 * @param width of a window, points
 * @param lag points
 */
export function wholeCorrelation(shown: number, width: number, lag: number): number {
  let [low, high] = [1, Math.max(1, MOST_WINDOWS * width)]
  for (let round = 0; round < HALVINGS; round++) {
    const middle = (low + high) / 2
    if ((middle * shownOfCorrelated(middle, width)) / shownOfPoints(middle, lag) < shown) low = middle
    else high = middle
  }
  return low
}

/** Correlation of more than so many windows is not told by them; the interval is halved so often. */
const MOST_WINDOWS = 1.5
const HALVINGS = 24

/** Spectral widths of sources, Hz (from memory): the narrowest makes the roughest light. */
const SOURCE_WIDTHS = { narrowest: 200e9, usual: 400e9 } as const
/** Where the trace has room for few pulses, windows of this part of one tell the receiver's noise. */
const PART_OF_PULSE = 1 / 12
/** They hold a receiver's correlated noise, and are no more than a quarter of a pulse. */
const PART_POINTS = 24

function partOf(points: number): number {
  return Math.max(FEWEST_POINTS, Math.round(points * PART_OF_PULSE), Math.min(PART_POINTS, Math.round(points / 4)))
}

/**
 * Tells both kinds of noise apart by how the variance of second differences of windows grows with the light. Where few
 * pulses fit into the trace, joints lie in most windows of that length: then shorter ones tell the receiver's noise, as a
 * step comes evenly over a pulse, and roughness is that of a usual source.
 * @param levels dB
 * @param pulse its length in points, and its width in s; roughness is at most what sources make
 * @param isClear whether the noise at a point is small against its light
 * @returns null where the trace has too few windows
 */
export function longNoiseOf(
  levels: Float64Array,
  pulse: { points: number; width: number },
  isClear: (index: number) => boolean,
): LongNoise | null {
  const points = Math.max(1, pulse.points)
  const roughnessOf = (sourceWidth: number) => points / (sourceWidth * pulse.width)
  // Joints are counted by the pulses in which there is light: what lies beyond the fiber's end has none.
  let clear = 0
  for (let i = 0; i < levels.length; i += SAMPLED) if (isClear(i)) clear += SAMPLED
  const pulses = WINDOWS.find(({ from }) => clear >= from * points)?.pulses
  const told =
    pulses === undefined
      ? partsTold(levels, points, isClear)
      : differencesOf(levels, Math.max(FEWEST_POINTS, Math.round(pulses * points)), isClear)
  if (!told) return null
  const { rows, seen, width } = told
  const by = { width, seen }
  if (pulses === undefined && width < points)
    return { receiver: notNegative(rows).constant, roughness: roughnessOf(SOURCE_WIDTHS.usual), ...by }
  const shown = shownOfRoughness(width / points)
  const measured = notNegative(rows)
  const most = roughnessOf(SOURCE_WIDTHS.narrowest)
  return measured.factor / shown <= most
    ? { receiver: measured.constant, roughness: measured.factor / shown, ...by }
    : { receiver: notNegative(rows, most * shown).constant, roughness: most, ...by }
}

/** Windows of twice the length show so much more of a noise of which the shorter ones held but a little. */
const HELD_LITTLE = 2.8
/** Fewer windows of a part of a pulse tell the bend of a tail for noise. */
const FEWEST_PARTS = 32

/** Differences of windows of a part of a pulse: the shortest ones that hold the receiver's correlation. */
function partsTold(levels: Float64Array, points: number, isClear: (index: number) => boolean) {
  let told = differencesOf(levels, partOf(points), isClear)
  if (told && told.seen < FEWEST_PARTS) return null
  while (told && 4 * told.width <= points) {
    const longer = differencesOf(levels, 2 * told.width, isClear)
    if (
      !longer ||
      longer.seen < FEWEST_PARTS ||
      notNegative(longer.rows).constant < HELD_LITTLE * notNegative(told.rows).constant
    )
      break
    told = longer
  }
  return told
}

/** Variance per point, receiver's and in proportion to the light, of windows by their second differences. */
function differencesOf(levels: Float64Array, width: number, isClear: (index: number) => boolean) {
  const count = Math.floor(levels.length / width)
  const means = new Float64Array(count)
  for (let k = 0, i = 0; k < count; k++) {
    let sum = 0
    for (const to = i + width; i < to; i++) sum += levels[i]!
    means[k] = isClear(i - width) && isClear(i - 1) ? sum / width : NaN
  }
  const differences: { power: number; size: number }[] = []
  for (let k = 1; k + 1 < count; k++) {
    const size = Math.abs(means[k - 1]! - 2 * means[k]! + means[k + 1]!)
    if (!Number.isNaN(size)) differences.push({ power: 10 ** (means[k]! / 5), size })
  }
  if (differences.length < FEWEST) return null
  differences.sort((a, b) => a.power - b.power)
  const groups = Math.max(1, Math.min(MOST_LEVELS, Math.floor(differences.length / TO_A_LEVEL)))
  const rows = Array.from({ length: groups }, (_, g) => {
    const own = differences.slice(
      Math.floor((g * differences.length) / groups),
      Math.floor(((g + 1) * differences.length) / groups),
    )
    const power = own[own.length >> 1]!.power
    const sizes = own.map(({ size }) => size).sort((a, b) => a - b)
    const sigma = sizes[sizes.length >> 1]! / (MEDIAN_ABS_NORMAL * Math.sqrt(6))
    return { light: power ** 2, variance: width * ((sigma * power) / DB_PER_RELATIVE_POWER) ** 2 }
  }).filter(({ variance }) => variance > 0)
  return { rows, seen: differences.length, width }
}

interface Row {
  light: number
  variance: number
}

/** variance = constant + factor·light, neither below zero, each row by what the fit itself makes it scatter. */
function notNegative(rows: readonly Row[], known?: number): { constant: number; factor: number } {
  // Where light is weakest the receiver is all there is, and where it stands over it least the light's own part is left.
  let found = {
    constant: Math.min(...rows.map(({ variance }) => variance)),
    factor: Math.min(...rows.map(({ light, variance }) => variance / light)),
  }
  for (let round = 0; round < ROUNDS; round++) {
    const weighted = rows.map((row) => ({ ...row, weight: (found.constant + found.factor * row.light) ** -2 }))
    found = known === undefined ? fitted(weighted) : { constant: constantBeside(weighted, known), factor: known }
  }
  return found
}

const ROUNDS = 5

function constantBeside(rows: readonly (Row & { weight: number })[], factor: number): number {
  const sum = rows.reduce((all, { light, variance, weight }) => all + weight * (variance - factor * light), 0)
  const whole = rows.reduce((all, { weight }) => all + weight, 0)
  return whole > 0 ? Math.max(0, sum / whole) : 0
}

function fitted(rows: readonly (Row & { weight: number })[]): { constant: number; factor: number } {
  let [w, x, xx, y, xy] = [0, 0, 0, 0, 0]
  for (const { light, variance, weight } of rows) {
    w += weight
    x += weight * light
    xx += weight * light * light
    y += weight * variance
    xy += weight * light * variance
  }
  const determinant = w * xx - x * x
  if (determinant > 1e-9 * w * xx) {
    const [constant, factor] = [(y * xx - xy * x) / determinant, (w * xy - x * y) / determinant]
    if (constant >= 0 && factor >= 0) return { constant, factor }
  }
  // Of the two that are left the one that leaves less.
  const [constant, factor] = [w > 0 ? y / w : 0, xx > 0 ? xy / xx : 0]
  const left = (of: (row: Row) => number) =>
    rows.reduce((sum, row) => sum + row.weight * (row.variance - of(row)) ** 2, 0)
  return left(() => constant) <= left(({ light }) => factor * light) ? { constant, factor: 0 } : { constant: 0, factor }
}

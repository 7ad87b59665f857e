// Sums along straight lines of pixels in any direction, each pixel added once: a window is the difference of two sums.

/** Of each pixel the direction in which a line stands out most: by how much its weakest quarter does, and which it is. */
export interface Strongest {
  least: Float32Array
  way: Uint8Array
}

/**
 * Mean along the line through each pixel, and of its quarters the one that stands out least, if all do to one side.
 * @param line with the least mean of which the quarters are looked at
 */
export function meansAlong(
  { width, height }: Padded,
  grid: Float32Array,
  line: {
    way: DigitalLine
    sums: Float64Array
    counts: Float64Array
    length: number
    border: number
    faintest: number
  },
  means: Float32Array,
  best: Strongest,
  direction: number,
): void {
  const { way, sums, counts, length, border, faintest } = line
  const { sides, major, minor, isFlat } = way
  const across = width + 2 * border
  for (let row = 0, at = 0; row < height; row++) {
    for (let column = 0; column < width; column++, at++) {
      if (Number.isNaN(grid[at]!)) continue
      const k = border + (isFlat ? column : row)
      const level = (row + border) * across + column + border - k * major - sides[k]! * minor
      let before = level + (k - 2 * length) * major + sides[k - 2 * length]! * minor
      const last = level + (k + 2 * length) * major + sides[k + 2 * length]! * minor
      const all = sums[last]! - sums[before]!
      const count = counts[last]! - counts[before]!
      if (count < 2 * length) continue
      const mean = all / count
      means[at] = mean
      if (Math.abs(mean) < faintest) continue
      let parts = 0
      let lowest = Infinity
      let highest = -Infinity
      for (let end = k - length; end <= k + 2 * length; end += length) {
        const place = level + end * major + sides[end]! * minor
        const sum = sums[place]! - sums[before]!
        const n = counts[place]! - counts[before]!
        before = place
        // A line may end at the cladding's edge: what lies beyond does not count against it.
        if (n < length / 2) continue
        parts++
        if (sum / n < lowest) lowest = sum / n
        if (sum / n > highest) highest = sum / n
      }
      if (parts < 3) continue
      const least = all > 0 ? lowest : -highest
      if (least <= best.least[at]!) continue
      best.least[at] = least
      best.way[at] = direction
    }
  }
}

/** A grid with a border all round, so that lines through its pixels never leave it. */
export interface Padded {
  width: number
  height: number
}

/** Values with 0 where there are none, and where there are some, with a border of so many pixels. */
export function paddedBy(border: number, grid: Float32Array, width: number, height: number) {
  const padded: Padded = { width: width + 2 * border, height: height + 2 * border }
  const [values, known] = [0, 1].map(() => new Float32Array(padded.width * padded.height)) as [
    Float32Array,
    Float32Array,
  ]
  const home = (at: number) => (Math.floor(at / width) + border) * padded.width + (at % width) + border
  for (let at = 0; at < grid.length; at++) {
    if (Number.isNaN(grid[at]!)) continue
    values[home(at)] = grid[at]!
    known[home(at)] = 1
  }
  return { values, known, padded }
}

/**
 * Parallel lines of pixels in a direction: each pixel lies on one of them, and each has one pixel in every column, or in
 * every row where it is steep.
 */
export interface DigitalLine {
  /** Columns or rows to a pixel's length along the line: 1 or less. */
  stretch: number
  /** How far to the side it has gone, in rows (columns), by column (row). */
  sides: Int32Array
  /** By columns (one pixel in each), or by rows. */
  isFlat: boolean
  /** From one column (row) to the next, and from one line to the next. */
  major: number
  minor: number
  /** How many lines cross each column (row). */
  lines: number
}

export function digitalLine(angle: number, { width, height }: Padded): DigitalLine {
  const [cos, sin] = [Math.cos(angle), Math.sin(angle)]
  const isFlat = Math.abs(cos) >= Math.abs(sin)
  const slope = isFlat ? sin / cos : cos / sin
  const [count, lines, major, minor] = isFlat ? [width, height, 1, width] : [height, width, width, 1]
  const sides = Int32Array.from({ length: count }, (_, k) => Math.round(k * slope))
  return { stretch: Math.max(Math.abs(cos), Math.abs(sin)), sides, isFlat, major, minor, lines }
}

/** Of each pixel the sum over its line up to and with it. */
export function runningSums(
  values: Float32Array,
  { sides, major, minor, lines }: DigitalLine,
  sums: Float64Array,
): void {
  sums.set(values)
  for (let k = 0; k < sides.length - 1; k++) {
    const aside = sides[k + 1]! - sides[k]!
    const step = major + aside * minor
    const [first, last] = [Math.max(0, -aside), Math.min(lines, lines - aside)]
    for (let line = first; line < last; line++) {
      const at = k * major + line * minor
      sums[at + step]! += sums[at]!
    }
  }
}

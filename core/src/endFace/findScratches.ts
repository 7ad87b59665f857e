import { median } from 'simple-statistics'
import { partOf, placeAt, type EvenFace } from './picture/evenFace.ts'
import { CLADDING_ENDS } from './picture/rings.ts'
import { BLURS, spreadOf, type Blur } from './picture/blur.ts'
import { digitalLine, meansAlong, paddedBy, runningSums, type Strongest } from './picture/digitalLines.ts'
import { straightThrough } from './picture/fits.ts'
import { linesMask } from './picture/linesMask.ts'
import { LEAST_CONTRAST, medianOf, noiseOf } from './picture/noise.ts'
import { addPiece, BESIDE, scratchOf, type Ends } from './picture/pieces.ts'
import type { Feature } from './types.ts'

/** Lines are looked for on about this grid, µm a pixel, over such a length, µm, in so many directions. */
const LINE_GRID = 0.6
const LINE_LENGTH = 16
const DIRECTIONS = 24
/** Each quarter of the length must stand out by so many of its own standard deviations, the whole by so many of its. */
const QUARTER = 2.3
const WHOLE = 6
/** Along a scratch the contrast is so much more than across it (judgement). */
const ALONG_TO_ACROSS = 2
/** Shorter lines, µm, and those not so much longer than wide, are no scratches but defects (judgement). */
export const LEAST_LENGTH = 8
const LEAST_SLENDER = 4
/** A line goes on over a gap of this, µm (judgement). */
const GAP = 8
/** So much of a line's contrast to what lies beside it is its contrast to the fiber (judgement). */
const BY_ITSELF = 0.4

interface Line {
  ends: Ends
  sign: number
}

/** Scratches on core and cladding, as lines in µm from the center. */
function findLines(whole: EvenFace): Line[] {
  const face = partOf(whole, CLADDING_ENDS, Math.max(1, Math.round(LINE_GRID / whole.scale)))
  const { width, height, scale: step, core } = face
  const grid = face.contrast.map((value, at) => (face.distance[at]! > CLADDING_ENDS ? NaN : value))
  const inside = (i: number) => !Number.isNaN(grid[i]!)
  const noise = Math.max(noiseOf(grid, inside), 5e-4)
  const half = Math.max(8, Math.round(LINE_LENGTH / 2 / step))
  const quarter = Math.floor(half / 2)
  const means = Array.from({ length: DIRECTIONS }, () => new Float32Array(width * height))
  const best: Strongest = { least: new Float32Array(width * height), way: new Uint8Array(width * height) }
  const border = 2 * quarter + 2
  const { values, known, padded } = paddedBy(border, grid, width, height)
  const [sums, counts] = [new Float64Array(values.length), new Float64Array(values.length)]
  const lengths: number[] = []
  for (let d = 0; d < DIRECTIONS; d++) {
    const way = digitalLine((Math.PI * d) / DIRECTIONS, padded)
    // A quarter of a line that runs aslant has fewer pixels.
    const length = Math.max(2, Math.round(quarter * way.stretch))
    lengths.push(length)
    runningSums(values, way, sums)
    runningSums(known, way, counts)
    meansAlong(face, grid, { way, sums, counts, length, border, faintest: LEAST_CONTRAST / 2 }, means[d]!, best, d)
  }
  const sigmas = sigmaOfMeans(means, lengths, noise, face)
  const found = new Map<number, Candidate>()
  for (let at = 0; at < grid.length; at++) {
    if (best.least[at] === 0) continue
    const d = best.way[at]!
    const mean = means[d]![at]!
    const across = means[(d + DIRECTIONS / 2) % DIRECTIONS]![at]!
    const sigma = sigmas[face.distance[at]! < core ? 0 : 1]! / Math.sqrt(lengths[d]!)
    if (best.least[at]! < QUARTER * sigma) continue
    if (Math.abs(mean) < Math.max(LEAST_CONTRAST / 2, (WHOLE * sigma) / 2)) continue
    if (Math.abs(mean) < ALONG_TO_ACROSS * Math.abs(across)) continue
    found.set(at, { at, d, mean })
  }
  return traced(found, face)
}

/** So many means tell their noise, about. */
const ENOUGH_MEANS = 80_000

/**
 * A pixel's noise as means along lines show it, inside the core's reach and beyond it: speckle and grain go together over
 * several pixels, and means of them scatter more than their pixels say.
 */
function sigmaOfMeans(
  means: readonly Float32Array[],
  lengths: readonly number[],
  noise: number,
  { distance, core }: EvenFace,
): [core: number, beyond: number] {
  const all: [number[], number[]] = [[], []]
  const every = Math.max(1, Math.floor((means.length * distance.length) / ENOUGH_MEANS))
  for (const [d, values] of means.entries()) {
    const each = Math.sqrt(4 * lengths[d]!)
    for (let at = d % every; at < values.length; at += every)
      if (values[at] !== 0) all[distance[at]! < core ? 0 : 1].push(Math.abs(values[at]!) * each)
  }
  const sigma = (of: readonly number[]) => (of.length < 100 ? noise : Math.max(noise, 1.4826 * median([...of])))
  return [sigma(all[0]), sigma(all[1])]
}

/** A pixel that a line may go through, in which direction, and the mean contrast along it. */
interface Candidate {
  at: number
  d: number
  mean: number
}

/**
 * Lines one after the other, the strongest first, each followed both ways from where it is strongest; what belongs to it
 * is not looked at again.
 */
function traced(found: Map<number, Candidate>, face: EvenFace): Line[] {
  const lines: Line[] = []
  const left = new Map(found)
  for (const start of [...found.values()].sort((a, b) => Math.abs(b.mean) - Math.abs(a.mean))) {
    if (!left.has(start.at)) continue
    const sign = Math.sign(start.mean)
    const angle = (Math.PI * start.d) / DIRECTIONS
    const [cos, sin] = [Math.cos(angle), Math.sin(angle)]
    const origin = placeAt(face, start.at)
    const along: number[] = [0]
    const off: number[] = [0]
    for (const way of [1, -1] as const) {
      let last = 0
      for (let far = face.scale; far - last <= GAP; far += face.scale) {
        const side = hitAt(left, face, origin, [cos, sin], way * far, { sign, d: start.d, off: off.at(-1)! })
        if (side === null) continue
        last = far
        along.push(way * far)
        off.push(side)
      }
    }
    const line = straightThrough(along, off)
    const placed = (s: number): [number, number] => {
      const side = line.base + line.slope * s
      return [origin.x + cos * s - sin * side, origin.y + sin * s + cos * side]
    }
    const ends: Ends = [...placed(Math.min(...along)), ...placed(Math.max(...along))]
    takeOut(left, face, ends, start.d)
    if (along.length > 2) lines.push({ ends, sign })
  }
  return lines
}

/** Where beside a place along a line it goes on, µm to the side; null where it does not. */
function hitAt(
  left: ReadonlyMap<number, Candidate>,
  face: EvenFace,
  origin: { x: number; y: number },
  [cos, sin]: readonly [number, number],
  along: number,
  like: { sign: number; d: number; off: number },
): number | null {
  let best: { off: number; mean: number } | null = null
  for (const more of [0, 1, -1, 2, -2]) {
    const off = like.off + more * face.scale
    const column = Math.round(face.x + (origin.x + cos * along - sin * off) / face.scale)
    const row = Math.round(face.y + (origin.y + sin * along + cos * off) / face.scale)
    if (column < 0 || row < 0 || column >= face.width || row >= face.height) continue
    const candidate = left.get(row * face.width + column)
    if (!candidate || Math.sign(candidate.mean) !== like.sign || turnOf(candidate.d, like.d) > 1) continue
    if (!best || Math.abs(candidate.mean) > best.mean) best = { off, mean: Math.abs(candidate.mean) }
  }
  return best?.off ?? null
}

function turnOf(a: number, b: number): number {
  const turn = Math.abs(a - b)
  return Math.min(turn, DIRECTIONS - turn)
}

/** Candidates on a line that was followed, and beside it in its direction, are done with. */
function takeOut(left: Map<number, Candidate>, face: EvenFace, [x1, y1, x2, y2]: Ends, d: number): void {
  const length = Math.max(1e-6, Math.hypot(x2 - x1, y2 - y1))
  for (const [at, candidate] of left) {
    const { x, y } = placeAt(face, at)
    const along = ((x - x1) * (x2 - x1) + (y - y1) * (y2 - y1)) / length
    const off = Math.abs((x - x1) * (y2 - y1) - (y - y1) * (x2 - x1)) / length
    if (off <= BESIDE && along >= -BESIDE && along <= length + BESIDE && turnOf(candidate.d, d) <= 3) left.delete(at)
  }
}

function lengthOf({ ends: [x1, y1, x2, y2] }: Line): number {
  return Math.hypot(x2 - x1, y2 - y1)
}

/** Widths of scratches that are tried, µm. */
const SIDE_STEP = 0.25
/** Half of the step from one width to the next is such a part of a step to the side. */
const FINE = 2
const WIDTHS = Array.from({ length: 48 }, (_, i) => ((2 * SIDE_STEP) / FINE) * (i + 1))
/** How far to the side of a line is looked, µm, and in which steps. */
const SIDE = 8 / SIDE_STEP
/** A line lies so many steps beside where it was found at most, and its level is the highest of so many. */
const NEAR = 10
const TOP = 3

/** Of the places along a line so many must be free of other scratches to tell what is across it (judgement). */
const FREE = 0.2

/**
 * Contrast across a line: the middle of places along a piece of it; NaN where other scratches or borders hide it.
 * @param side so many steps of {@link SIDE_STEP} to either side
 */
function acrossAt(face: EvenFace, ends: Ends, from: number, to: number, side: number): number[] {
  const [x1, y1, x2, y2] = ends
  const length = Math.hypot(x2 - x1, y2 - y1)
  const [ux, uy] = [(x2 - x1) / length, (y2 - y1) / length]
  const count = Math.max(2, Math.round((to - from) / 0.7))
  const { width, height, scale, contrast } = face
  const values = new Float64Array(count)
  const across: number[] = []
  for (let i = -side; i <= side; i++) {
    const off = i * SIDE_STEP
    let told = 0
    for (let k = 0; k < count; k++) {
      const along = from + ((to - from) * (k + 0.5)) / count
      const x = Math.round(face.x + (x1 + ux * along - uy * off) / scale)
      const y = Math.round(face.y + (y1 + uy * along + ux * off) / scale)
      if (x < 0 || y < 0 || x >= width || y >= height) continue
      const value = contrast[y * width + x]!
      if (!Number.isNaN(value)) values[told++] = value
    }
    across.push(told < FREE * count ? NaN : medianOf(values.subarray(0, told)))
  }
  return across
}

/** The line moved to where it is strongest along its way. */
function moved(face: EvenFace, { ends, sign }: Line): Line {
  const [x1, y1, x2, y2] = ends
  const length = Math.hypot(x2 - x1, y2 - y1)
  const pieces = Math.max(3, Math.min(14, Math.round(length / 3)))
  const places = Array.from({ length: pieces }, (_, k) => {
    const across = acrossAt(face, ends, (length * k) / pieces, (length * (k + 1)) / pieces, NEAR + 1)
    let best = { off: 0, value: -Infinity }
    for (let i = 1; i <= 2 * NEAR + 1; i++) {
      // The middle of three: one wild pixel does not lead it.
      const value = sign * (across[i - 1]! + across[i]! + across[i + 1]!)
      if (value > best.value) best = { off: (i - 1 - NEAR) * SIDE_STEP, value }
    }
    return { along: (length * (k + 0.5)) / pieces, ...best }
  })
  const told = places.filter(({ value }) => value > -Infinity)
  if (told.length < 3) return { ends, sign }
  const middle = median(told.map(({ off }) => off))
  const near = told.filter(({ off }) => Math.abs(off - middle) <= 1.2)
  if (near.length < 3) return { ends, sign }
  const { slope, base } = straightThrough(
    near.map(({ along }) => along),
    near.map(({ off }) => off),
  )
  const [ux, uy] = [(x2 - x1) / length, (y2 - y1) / length]
  const [first, last] = [base, base + slope * length]
  return { ends: [x1 - uy * first, y1 + ux * first, x2 - uy * last, y2 + ux * last], sign }
}

/** Width and contrast of a scratch: a strip blurred by the picture's blur, fitted to what is seen across it. */
function acrossLine(
  face: EvenFace,
  blur: Blur,
  { ends, sign }: Line,
): { width: number; contrast: number; seen: number } {
  const [x1, y1, x2, y2] = ends
  const profile = acrossAt(face, ends, 0, Math.hypot(x2 - x1, y2 - y1), SIDE).map((value) => sign * value)
  const near = Array.from({ length: 13 }, (_, k) => SIDE - 6 + k).filter((i) => !Number.isNaN(profile[i]!))
  if (near.length === 0) return { width: WIDTHS[0]!, contrast: 0, seen: 0 }
  const top = near.reduce((a, b) => (profile[b]! > profile[a]! ? b : a))
  // Only as far as it falls: what rises again beside it is another scratch.
  const bottom = (step: 1 | -1) => {
    let i = top
    while (i + step >= 0 && i + step < profile.length && !Number.isNaN(profile[i + step]!)) {
      if (profile[i]! < profile[top]! / 3 && profile[i + step]! > profile[i]! + 0.05 * profile[top]!) break
      i += step
    }
    return i
  }
  const [from, to] = [bottom(-1), bottom(1)]
  const seen = profile.slice(from, to + 1)
  // A pixel blurs by its own width.
  const blurred = blur.width * Math.hypot(1, face.scale / Math.sqrt(12) / spreadOf(blur))
  // The strip's edges lie at halves of its width from steps across: all on one finer grid.
  const beyond = to - from + 6 + Math.ceil(WIDTHS.at(-1)! / SIDE_STEP)
  const edges = Array.from({ length: 2 * beyond * FINE + 1 }, (_, i) =>
    BLURS[blur.shape].edge(((i / FINE - beyond) * SIDE_STEP) / blurred),
  )
  let best = { left: Infinity, width: WIDTHS[0]!, contrast: 0 }
  for (let shift = -6; shift <= 6; shift++)
    for (const [n, width] of WIDTHS.entries()) {
      const strip = seen.map((_, i) => {
        const middle = (from + i - top - shift + beyond) * FINE
        return edges[middle + n + 1]! - edges[middle - n - 1]!
      })
      const { slope, left } = straightThrough(strip, seen)
      if (slope > 0 && left < best.left) best = { left, width, contrast: slope }
    }
  return { width: best.width, contrast: sign * best.contrast, seen: profile[top]! }
}

/** Pieces in which a line is followed on beyond where it was found, µm, in which steps, and how far. */
const PIECE = 3
const FINER = 0.5
const FARTHER = 30

/** The line as far as it shows at least half of its contrast. */
function extended(face: EvenFace, { ends, sign }: Line): Line {
  const [x1, y1, x2, y2] = ends
  const length = Math.hypot(x2 - x1, y2 - y1)
  const levelIn = (from: number, to: number) => {
    const across = acrossAt(face, ends, from, to, TOP)
    const hidden = across.some(Number.isNaN)
    return { hidden, level: Math.max(...across.map((value) => (Number.isNaN(value) ? -Infinity : sign * value))) }
  }
  const own = levelIn(0, length).level
  // What another scratch hides is passed over: the line goes on where it shows again. Its end is where half of a piece
  // shows it, so that from a little inside of where it was found it is followed in steps finer than a piece.
  const reachedFrom = (end: number, way: 1 | -1) => {
    let reached = end - way * Math.min(PIECE, length / 3)
    const farthest = end + way * FARTHER
    for (let middle = reached; way * (farthest - middle) > 0; middle += way * FINER) {
      const { level, hidden } = levelIn(middle - PIECE / 2, middle + PIECE / 2)
      if (level >= own / 2) reached = middle
      else if (!hidden) break
    }
    return reached
  }
  let [first, last] = [reachedFrom(0, -1), reachedFrom(length, 1)]
  const [ux, uy] = [(x2 - x1) / length, (y2 - y1) / length]
  const inside = (s: number) => Math.hypot(x1 + ux * s, y1 + uy * s) <= CLADDING_ENDS + PIECE
  while (!inside(first) && first < 0) first += PIECE
  while (!inside(last) && last > length) last -= PIECE
  return { ends: [x1 + ux * first, y1 + uy * first, x1 + ux * last, y1 + uy * last], sign }
}

/** So often a line is laid anew through all of it that was found, and followed on. */
const ROUNDS = 3

/** The line as far as it goes: the longer it is, the better it tells where it goes on. */
function followed(face: EvenFace, found: Line): Line {
  let line = extended(face, moved(face, found))
  for (let round = 1; round < ROUNDS; round++) {
    const longer = extended(face, moved(face, line))
    if (lengthOf(longer) < lengthOf(line) + FINER) break
    line = longer
  }
  return line
}

/** Scratches on core and cladding: the strongest first, so that where it is crossed others are told without it. */
export function findScratches(face: EvenFace, blur: Blur): Feature[] {
  const left = { ...face, contrast: face.contrast.slice() }
  const scratches: Feature[] = []
  for (const line of findLines(face)) {
    const scratch = scratchAt(left, blur, line)
    if (!scratch) continue
    addPiece(scratches, scratch)
    const mask = linesMask(face, blur.width, [scratch])
    for (let at = 0; at < mask.length; at++) if (mask[at]) left.contrast[at] = NaN
  }
  return scratches
}

/** What is seen along a line, as a scratch; null where it is none. */
export function scratchAt(face: EvenFace, blur: Blur, found: Line): Feature | null {
  const line = followed(face, found)
  if (lengthOf(line) < LEAST_LENGTH) return null
  const { width: size, contrast, seen } = acrossLine(face, blur, line)
  if (lengthOf(line) < LEAST_SLENDER * size || Math.abs(contrast) < LEAST_CONTRAST / 2) return null
  // Between two others a line seems to be where nothing is.
  if (seen < Math.max(LEAST_CONTRAST, Math.abs(contrast) * BY_ITSELF * Math.min(1, size / blur.width))) return null
  return scratchOf(line.ends, size, contrast)
}

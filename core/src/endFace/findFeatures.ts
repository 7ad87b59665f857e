import { Matrix, solve } from 'ml-matrix'
import { packEnclose } from 'd3-hierarchy'
import { errorFunction, median } from 'simple-statistics'
import { FULL_WIDTH, radiusAt } from './findFiber.ts'
import type { Feature, FiberFound, Picture } from './types.ts'

/** What is looked at, µm from the center: the contact zone to 125 (IEC 61300-3-35), and what reaches out of it. */
const FARTHEST = 140
/** The cladding ends here, and the ferrule begins beyond the adhesive, µm. */
const CLADDING_ENDS = 60
const FERRULE_BEGINS = 66
/** Nearer to the center than this, µm, there are too few pixels for a middle level: there the core is taken on inwards. */
const CORE_SEEN = 2.5
/** Diameters of single-mode cores as they show, µm; from rings out to here. */
const CORES = Array.from({ length: 18 }, (_, i) => 5 + 0.5 * i)
const CORE_RINGS = 12
/** A core is seen where it leaves at most this part of the rings' differences (judgement). */
const SEEN_CORE = 0.4
/** What is seen round the center is taken to be misplaced by up to so much, µm; a core's middle is not sure to a part. */
const MISPLACED = 0.3
const CORE_DOUBT = 0.3

/** The end face with the light evened out: how much brighter than its surroundings each pixel is. */
interface EvenFace {
  width: number
  height: number
  /** The fiber's center, pixels, and µm a pixel. */
  x: number
  y: number
  scale: number
  /** NaN beyond what is looked at. */
  contrast: Float32Array
  /** How much of it may come from circles that are not quite where they are taken to be. */
  doubt: Float32Array
  /** µm from the center. */
  distance: Float32Array
}

/**
 * What everything round the center at the same distance has in common is no feature: cladding, a lit core, adhesive and
 * ferrule. Light that comes from one side is evened out first.
 */
function evenOut(picture: Picture, fiber: FiberFound): EvenFace {
  const { outline, scale } = fiber
  const { width, height, data } = picture
  const distance = new Float32Array(width * height)
  for (let y = 0; y < height; y++) {
    const dy = y - outline.y
    for (let x = 0; x < width; x++) {
      const dx = x - outline.x
      const square = dx * dx + dy * dy
      // The outline in this direction, by cos 2θ and sin 2θ.
      const edge = outline.radius + (outline.a * (dx * dx - dy * dy) + outline.b * 2 * dx * dy) / Math.max(1e-9, square)
      distance[y * width + x] = (Math.sqrt(square) * outline.radius * scale) / edge
    }
  }
  const step = Math.max(scale, 0.25)
  const light = new Float32Array(width * height).fill(1)
  let profile: Profile = { levels: [], core: 0 }
  for (let round = 0; round < 3; round++) {
    profile = profileOf(data, distance, light, step, fiber.blur / FULL_WIDTH)
    if (round < 2) lightOver(picture, distance, profile.levels, step, outline, light)
  }
  const { levels, core } = profile
  const contrast = new Float32Array(width * height).fill(NaN)
  const doubt = new Float32Array(width * height)
  for (let i = 0; i < contrast.length; i++) {
    const r = distance[i]!
    if (r > FARTHEST) continue
    const level = Math.max(1, levelOf(levels, r / step))
    contrast[i] = data[i]! / (level * light[i]!) - 1
    const slope = Math.abs(levelOf(levels, r / step + 1) - levelOf(levels, Math.max(0, r / step - 1))) / (2 * step)
    doubt[i] = (slope * MISPLACED + (r < CORE_SEEN + 1 ? CORE_DOUBT * Math.abs(core) : 0)) / level
  }
  return { width, height, x: outline.x, y: outline.y, scale, contrast, doubt, distance }
}

/** What lies within a distance from the center, µm, each pixel the mean of a square of so many. */
function partOf(face: EvenFace, within: number, by: number): EvenFace {
  const left = Math.max(0, Math.floor(face.x - within / face.scale - 2))
  const top = Math.max(0, Math.floor(face.y - within / face.scale - 2))
  const right = Math.min(face.width, Math.ceil(face.x + within / face.scale + 3))
  const bottom = Math.min(face.height, Math.ceil(face.y + within / face.scale + 3))
  const [width, height] = [Math.floor((right - left) / by), Math.floor((bottom - top) / by)]
  const made = () => new Float32Array(width * height)
  const [contrast, doubt, distance] = [made(), made(), made()]
  for (let row = 0; row < height; row++)
    for (let column = 0; column < width; column++) {
      let [c, d, r] = [0, 0, 0]
      for (let v = 0; v < by; v++)
        for (let u = 0; u < by; u++) {
          const at = (top + row * by + v) * face.width + left + column * by + u
          c += face.contrast[at]!
          d += face.doubt[at]!
          r += face.distance[at]!
        }
      const at = row * width + column
      ;[contrast[at], doubt[at], distance[at]] = [c / by ** 2, d / by ** 2, r / by ** 2]
    }
  // The middle of a square lies half a pixel of the finer ones before its corner.
  const placed = (center: number, from: number) => (center - from + 0.5) / by - 0.5
  return {
    width,
    height,
    x: placed(face.x, left),
    y: placed(face.y, top),
    scale: face.scale * by,
    contrast,
    doubt,
    distance,
  }
}

/** Levels by distance from the center, in steps, and how much brighter the core is. */
interface Profile {
  levels: number[]
  core: number
}

/** So many pixels of a ring are enough, about. */
const RING_PIXELS = 240

/** The middle level at each distance from the center; in the very middle as a blurred core goes on inwards. */
function profileOf(
  data: Picture['data'],
  distance: Float32Array,
  light: Float32Array,
  step: number,
  sigma: number,
): Profile {
  const bins: number[][] = Array.from({ length: Math.ceil(FARTHEST / step) + 2 }, () => [])
  const seen = new Uint32Array(bins.length)
  for (let i = 0; i < data.length; i++) {
    const r = distance[i]!
    if (r > FARTHEST + step) continue
    const ring = Math.round(r / step)
    // Of a large ring some pixels all round tell its middle level.
    const every = Math.max(1, Math.floor((2 * Math.PI * ring) / RING_PIXELS))
    if (seen[ring]!++ % every === 0) bins[ring]!.push(data[i]! / light[i]!)
  }
  const first = Math.ceil(CORE_SEEN / step)
  const profile: number[] = []
  for (const [i, levels] of bins.entries())
    profile.push(levels.length >= 8 && i >= first ? median(levels) : (profile[i - 1] ?? 0))
  const rings = Array.from({ length: Math.floor(CORE_RINGS / step) - first }, (_, i) => first + i)
  const core = coreThrough(
    rings.map((i) => ({ r: i * step, level: profile[i]! })),
    sigma,
  )
  for (let i = 0; i < first; i++) profile[i] = core.at(i * step)
  return { levels: profile, core: core.height }
}

/** The blurred disc, on an even level, that goes through rings best. */
function coreThrough(
  rings: readonly { r: number; level: number }[],
  sigma: number,
): { at(r: number): number; height: number } {
  const base = rings.length > 0 ? median(rings.map(({ level }) => level)) : 0
  const flat = rings.reduce((sum, { level }) => sum + (level - base) ** 2, 0)
  // Where a core explains little of what the rings differ by, none is seen.
  let best = { left: SEEN_CORE * flat, radius: 1, height: 0, base }
  for (const diameter of CORES) {
    const radius = diameter / 2
    const disc = rings.map(({ r }) => blurredDisc(r / sigma, radius / sigma))
    const {
      slope,
      base: beside,
      left,
    } = straightThrough(
      disc,
      rings.map(({ level }) => level),
    )
    if (left < best.left) best = { left, radius, height: slope, base: beside }
  }
  return {
    at: (r) => best.base + best.height * blurredDisc(r / sigma, best.radius / sigma),
    height: best.height,
  }
}

/** y = base + slope·x by least squares, and the sum of squares that it leaves. */
function straightThrough(x: readonly number[], y: readonly number[]): { slope: number; base: number; left: number } {
  const n = x.length
  let [sx, sxx, sy, sxy] = [0, 0, 0, 0]
  for (let i = 0; i < n; i++) {
    sx += x[i]!
    sxx += x[i]! ** 2
    sy += y[i]!
    sxy += x[i]! * y[i]!
  }
  const determinant = n * sxx - sx * sx
  const slope = Math.abs(determinant) < 1e-9 ? 0 : (n * sxy - sx * sy) / determinant
  const base = (sy - slope * sx) / n
  let left = 0
  for (let i = 0; i < n; i++) left += (y[i]! - base - slope * x[i]!) ** 2
  return { slope, base, left }
}

/** A disc of level 1 blurred by a Gaussian of standard deviation 1, at a distance from its center. */
function blurredDisc(r: number, radius: number): number {
  // Strips across the line from the center to the place: the Gaussian's integral along each is known.
  const steps = 80
  const [from, to] = [Math.max(-radius, r - 5), Math.min(radius, r + 5)]
  if (to <= from) return 0
  let sum = 0
  for (let i = 0; i < steps; i++) {
    const x = from + ((to - from) * (i + 0.5)) / steps
    sum += Math.exp(-((x - r) ** 2) / 2) * errorFunction(Math.sqrt(radius ** 2 - x ** 2) / Math.SQRT2)
  }
  return (sum * (to - from)) / steps / Math.sqrt(2 * Math.PI)
}

/** Between two rings. */
function levelOf(profile: readonly number[], at: number): number {
  const i = Math.min(profile.length - 2, Math.floor(at))
  return profile[i]! + (at - i) * (profile[i + 1]! - profile[i]!)
}

/** Fits light that changes slowly over the picture, to the second order, leaving out what stands off. */
function lightOver(
  { width, data }: Picture,
  distance: Float32Array,
  profile: readonly number[],
  step: number,
  outline: FiberFound['outline'],
  light: Float32Array,
): void {
  const rows: number[][] = []
  const values: number[] = []
  const every = Math.max(1, Math.floor(Math.sqrt(data.length / 2500)))
  const termsOf = (i: number) => {
    const [u, v] = [((i % width) - outline.x) / outline.radius, (Math.floor(i / width) - outline.y) / outline.radius]
    return [1, u, v, u * u, u * v, v * v]
  }
  for (let i = 0; i < data.length; i += every * (1 + (i % 3))) {
    const r = distance[i]!
    // Edges tell nothing about light.
    if (r > FARTHEST || (r > CLADDING_ENDS - 2 && r < FERRULE_BEGINS + 2)) continue
    rows.push(termsOf(i))
    values.push(data[i]! / Math.max(1, levelOf(profile, r / step)))
  }
  if (rows.length < 50) return
  let kept = rows.map((_, i) => i)
  let terms: number[] = [1, 0, 0, 0, 0, 0]
  for (let round = 0; round < 4; round++) {
    const matrix = new Matrix(kept.map((i) => rows[i]!))
    terms = solve(matrix, Matrix.columnVector(kept.map((i) => values[i]!))).to1DArray()
    const off = rows.map((row, i) => Math.abs(values[i]! - row.reduce((sum, one, k) => sum + one * terms[k]!, 0)))
    const spread = 1.4826 * median(off)
    kept = rows.flatMap((_, i) => (off[i]! <= Math.max(1e-3, 3 * spread) ? [i] : []))
  }
  for (let i = 0; i < light.length; i++)
    light[i] = Math.max(
      0.2,
      termsOf(i).reduce((sum, one, k) => sum + one * terms[k]!, 0),
    )
}

/** Smoothed by a Gaussian along rows, then columns; NaN is passed over. */
function smoothed(values: Float32Array, width: number, height: number, sigma: number): Float32Array {
  const reach = Math.max(1, Math.ceil(3 * sigma))
  const weights = Float64Array.from({ length: 2 * reach + 1 }, (_, i) =>
    Math.exp(-((i - reach) ** 2) / (2 * sigma ** 2)),
  )
  const rows = smoothedAlong(values, weights, reach, { lines: height, between: width, length: width, step: 1 })
  return smoothedAlong(rows, weights, reach, { lines: width, between: 1, length: height, step: width })
}

/** @param way so many lines, this far between them, each of so many values this far from each other */
function smoothedAlong(
  input: Float32Array,
  weights: Float64Array,
  reach: number,
  { lines, between, length, step }: { lines: number; between: number; length: number; step: number },
): Float32Array {
  const out = new Float32Array(input.length).fill(NaN)
  for (let line = 0; line < lines; line++)
    for (let at = 0; at < length; at++) {
      const i = line * between + at * step
      if (Number.isNaN(input[i]!)) continue
      let [sum, weight] = [0, 0]
      for (let k = Math.max(-reach, -at); k <= Math.min(reach, length - 1 - at); k++) {
        const value = input[i + k * step]!
        if (Number.isNaN(value)) continue
        sum += weights[k + reach]! * value
        weight += weights[k + reach]!
      }
      out[i] = sum / weight
    }
  return out
}

/** Standard deviation of what is there without features: from the middle of all distances from the middle. */
function noiseOf(values: Float32Array, inside: (i: number) => boolean): number {
  const some: number[] = []
  const every = Math.max(1, Math.floor(values.length / 60_000))
  for (let i = 0; i < values.length; i += every) {
    const value = values[i]!
    if (!Number.isNaN(value) && inside(i)) some.push(Math.abs(value))
  }
  return some.length === 0 ? 0 : 1.4826 * median(some)
}

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
const LEAST_LENGTH = 8
const LEAST_SLENDER = 4
/** A line goes on over a gap of this, and what lies so far beside it is of it, µm (judgement). */
const GAP = 8
const BESIDE = 4
/** Fainter than this nobody sees it (judgement). */
const LEAST_CONTRAST = 0.04
/** So much of a line's contrast to what lies beside it is its contrast to the fiber (judgement). */
const BY_ITSELF = 0.4

interface Line {
  ends: readonly [number, number, number, number]
  sign: number
}

/** Scratches on core and cladding, as lines in µm from the center. */
function findLines(whole: EvenFace): Line[] {
  const face = partOf(whole, CLADDING_ENDS, Math.max(1, Math.round(LINE_GRID / whole.scale)))
  const { width, height, scale: step } = face
  const grid = face.contrast.map((value, at) => (face.distance[at]! > CLADDING_ENDS ? NaN : value))
  const inside = (i: number) => !Number.isNaN(grid[i]!)
  const noise = Math.max(noiseOf(grid, inside), 5e-4)
  const half = Math.max(8, Math.round(LINE_LENGTH / 2 / step))
  const quarter = Math.floor(half / 2)
  const means = Array.from({ length: DIRECTIONS }, () => new Float32Array(width * height))
  const least = Array.from({ length: DIRECTIONS }, () => new Float32Array(width * height))
  const [known, filled] = [new Float32Array(grid.length), new Float32Array(grid.length)]
  for (let at = 0; at < grid.length; at++)
    if (inside(at)) {
      known[at] = 1
      filled[at] = grid[at]!
    }
  const [sums, counts] = [new Float64Array(4), new Float64Array(4)]
  for (let d = 0; d < DIRECTIONS; d++) {
    const angle = (Math.PI * d) / DIRECTIONS
    const offsets = Int32Array.from({ length: 4 * quarter }, (_, k) => {
      const along = k - 2 * quarter + 0.5
      return Math.round(along * Math.sin(angle)) * width + Math.round(along * Math.cos(angle))
    })
    for (let at = 0; at < grid.length; at++) {
      if (known[at] === 0) continue
      let [all, count, parts, weakest] = [0, 0, 0, Infinity]
      for (let part = 0; part < 4; part++) {
        let [sum, n] = [0, 0]
        for (let k = part * quarter; k < (part + 1) * quarter; k++) {
          const place = at + offsets[k]!
          if (place < 0 || place >= grid.length) continue
          sum += filled[place]!
          n += known[place]!
        }
        sums[part] = sum
        counts[part] = n
        all += sum
        count += n
      }
      const sign = Math.sign(all)
      // A line may end at the cladding's edge: what lies beyond does not count against it.
      for (let part = 0; part < 4; part++) {
        if (counts[part]! < quarter / 2) continue
        parts++
        weakest = Math.min(weakest, (sign * sums[part]!) / counts[part]!)
      }
      if (parts < 3) continue
      means[d]![at] = all / count
      least[d]![at] = Math.max(0, weakest) * sign
    }
  }
  const found = new Map<number, Candidate>()
  for (let at = 0; at < grid.length; at++) {
    if (known[at] === 0) continue
    let best = 0
    for (let d = 1; d < DIRECTIONS; d++) if (Math.abs(least[d]![at]!) > Math.abs(least[best]![at]!)) best = d
    const mean = means[best]![at]!
    const across = means[(best + DIRECTIONS / 2) % DIRECTIONS]![at]!
    if (Math.abs(least[best]![at]!) < (QUARTER * noise) / Math.sqrt(quarter)) continue
    if (Math.abs(mean) < Math.max(LEAST_CONTRAST / 2, (WHOLE * noise) / Math.sqrt(4 * quarter))) continue
    if (Math.abs(mean) < ALONG_TO_ACROSS * Math.abs(across)) continue
    found.set(at, { at, d: best, mean })
  }
  return traced(found, face)
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
    const ends: Line['ends'] = [...placed(Math.min(...along)), ...placed(Math.max(...along))]
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
function takeOut(left: Map<number, Candidate>, face: EvenFace, [x1, y1, x2, y2]: Line['ends'], d: number): void {
  const length = Math.max(1e-6, Math.hypot(x2 - x1, y2 - y1))
  for (const [at, candidate] of left) {
    const { x, y } = placeAt(face, at)
    const along = ((x - x1) * (x2 - x1) + (y - y1) * (y2 - y1)) / length
    const off = Math.abs((x - x1) * (y2 - y1) - (y - y1) * (x2 - x1)) / length
    if (off <= BESIDE && along >= -BESIDE && along <= length + BESIDE && turnOf(candidate.d, d) <= 3) left.delete(at)
  }
}

/** µm from the center. */
function placeAt({ width, x, y, scale }: EvenFace, at: number): { x: number; y: number } {
  return { x: ((at % width) - x) * scale, y: (Math.floor(at / width) - y) * scale }
}

function lengthOf({ ends: [x1, y1, x2, y2] }: Line): number {
  return Math.hypot(x2 - x1, y2 - y1)
}

/** Widths of scratches that are tried, µm. */
const WIDTHS = Array.from({ length: 60 }, (_, i) => 0.2 + 0.2 * i)
/** How far to the side of a line is looked, µm, and in which steps. */
const SIDE = 8
const SIDE_STEP = 0.25

/** Contrast across a line at places along it, averaged over a piece of it. */
function acrossAt(face: EvenFace, ends: Line['ends'], from: number, to: number): number[] {
  const [x1, y1, x2, y2] = ends
  const length = Math.hypot(x2 - x1, y2 - y1)
  const [ux, uy] = [(x2 - x1) / length, (y2 - y1) / length]
  const count = Math.max(2, Math.round((to - from) / 0.7))
  const stations = Array.from({ length: count }, (_, k) => from + ((to - from) * (k + 0.5)) / count)
  return Array.from({ length: Math.round((2 * SIDE) / SIDE_STEP) + 1 }, (_, i) => {
    const off = -SIDE + i * SIDE_STEP
    const values = stations.flatMap((along) => {
      const x = Math.round(face.x + (x1 + ux * along - uy * off) / face.scale)
      const y = Math.round(face.y + (y1 + uy * along + ux * off) / face.scale)
      const value = x < 0 || y < 0 || x >= face.width || y >= face.height ? NaN : face.contrast[y * face.width + x]!
      return Number.isNaN(value) ? [] : [value]
    })
    return values.length === 0 ? 0 : median(values)
  })
}

/** The line moved to where it is strongest along its way. */
function moved(face: EvenFace, { ends, sign }: Line): Line {
  const [x1, y1, x2, y2] = ends
  const length = Math.hypot(x2 - x1, y2 - y1)
  const pieces = Math.max(3, Math.min(14, Math.round(length / 3)))
  const places = Array.from({ length: pieces }, (_, k) => {
    const across = acrossAt(face, ends, (length * k) / pieces, (length * (k + 1)) / pieces)
    let best = { off: 0, value: -Infinity }
    for (const [i, value] of across.entries()) {
      const off = -SIDE + i * SIDE_STEP
      if (Math.abs(off) > 2.5) continue
      // The middle of three: one wild pixel does not lead it.
      const here = sign * (value + (across[i - 1] ?? value) + (across[i + 1] ?? value))
      if (here > best.value) best = { off, value: here }
    }
    return { along: (length * (k + 0.5)) / pieces, off: best.off }
  })
  const middle = median(places.map(({ off }) => off))
  const near = places.filter(({ off }) => Math.abs(off - middle) <= 1.2)
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
  blur: number,
  { ends, sign }: Line,
): { width: number; contrast: number; seen: number } {
  const [x1, y1, x2, y2] = ends
  const profile = acrossAt(face, ends, 0, Math.hypot(x2 - x1, y2 - y1)).map((value) => sign * value)
  const offsets = profile.map((_, i) => -SIDE + i * SIDE_STEP)
  const middle = Math.round(SIDE / SIDE_STEP)
  let top = middle
  for (let i = middle - 6; i <= middle + 6; i++) if (profile[i]! > profile[top]!) top = i
  // Only as far as it falls: what rises again beside it is another scratch.
  const bottom = (step: 1 | -1) => {
    let i = top
    while (i + step >= 0 && i + step < profile.length) {
      if (profile[i]! < profile[top]! / 3 && profile[i + step]! > profile[i]! + 0.05 * profile[top]!) break
      i += step
    }
    return i
  }
  const [from, to] = [bottom(-1), bottom(1)]
  const seen = profile.slice(from, to + 1)
  const sigma = Math.hypot(blur / FULL_WIDTH, face.scale / Math.sqrt(12))
  let best = { left: Infinity, width: WIDTHS[0]!, contrast: 0 }
  for (let shift = offsets[top]! - 1.5; shift <= offsets[top]! + 1.5; shift += 0.25)
    for (const width of WIDTHS) {
      const strip = offsets.slice(from, to + 1).map((off) => {
        const [a, b] = [off - shift + width / 2, off - shift - width / 2]
        return (errorFunction(a / (sigma * Math.SQRT2)) - errorFunction(b / (sigma * Math.SQRT2))) / 2
      })
      const { slope, left } = straightThrough(strip, seen)
      if (slope > 0 && left < best.left) best = { left, width, contrast: slope }
    }
  return { width: best.width, contrast: sign * best.contrast, seen: profile[top]! }
}

/** Pieces in which a line is followed on beyond where it was found, µm, and how far. */
const PIECE = 3
const FARTHER = 15

/** The line as far as it shows at least half of its contrast. */
function extended(face: EvenFace, { ends, sign }: Line): Line {
  const [x1, y1, x2, y2] = ends
  const length = Math.hypot(x2 - x1, y2 - y1)
  const middle = Math.round(SIDE / SIDE_STEP)
  const levelIn = (from: number, to: number) => {
    const across = acrossAt(face, ends, from, to)
    return sign * Math.max(...across.slice(middle - 3, middle + 4).map((value) => sign * value))
  }
  const own = levelIn(0, length)
  const goesOn = (from: number, to: number) => sign * levelIn(from, to) >= (sign * own) / 2
  let [first, last] = [0, length]
  while (first > -FARTHER && goesOn(first - PIECE, first)) first -= PIECE
  while (last < length + FARTHER && goesOn(last, last + PIECE)) last += PIECE
  const [ux, uy] = [(x2 - x1) / length, (y2 - y1) / length]
  const inside = (s: number) => Math.hypot(x1 + ux * s, y1 + uy * s) <= CLADDING_ENDS + PIECE
  while (!inside(first) && first < 0) first += PIECE
  while (!inside(last) && last > length) last -= PIECE
  return { ends: [x1 + ux * first, y1 + uy * first, x1 + ux * last, y1 + uy * last], sign }
}

/** How far a line's far side is from the center. */
function distancesOf([x1, y1, x2, y2]: Line['ends']): { inner: number; outer: number } {
  const [dx, dy] = [x2 - x1, y2 - y1]
  const t = Math.max(0, Math.min(1, -(x1 * dx + y1 * dy) / (dx * dx + dy * dy)))
  return {
    inner: Math.hypot(x1 + t * dx, y1 + t * dy),
    outer: Math.max(Math.hypot(x1, y1), Math.hypot(x2, y2)),
  }
}

/** A defect stands out by so many standard deviations at its strongest, and goes as far as so many. */
const STRONG = 6
const WEAK = 3
/** On the ferrule only what is large matters: it is smoothed over so much, µm. */
const FERRULE_SMOOTHING = 1.2

/** Apparent size of a blurred disc, between its half levels, as multiples of the blur's standard deviation, by true size. */
const APPARENT: readonly { size: number; seen: number }[] = Array.from({ length: 60 }, (_, i) => {
  const size = 0.25 * (i + 1)
  return { size, seen: seenSize(size / 2) }
})

/** Diameter at half the middle's level of a disc of this radius blurred by a Gaussian of standard deviation 1. */
function seenSize(radius: number): number {
  const half = blurredDisc(0, radius) / 2
  let [near, far] = [0, radius + 4]
  for (let i = 0; i < 40; i++) {
    const middle = (near + far) / 2
    if (blurredDisc(middle, radius) > half) near = middle
    else far = middle
  }
  return near + far
}

/** The true size of what is seen at this size through this blur; both µm. */
function withoutBlur(seen: number, sigma: number): number {
  const relative = seen / sigma
  if (relative <= APPARENT[0]!.seen) return APPARENT[0]!.size * sigma
  const i = APPARENT.findIndex((one) => one.seen >= relative)
  if (i < 0) return seen
  const [a, b] = [APPARENT[i - 1]!, APPARENT[i]!]
  return (a.size + ((relative - a.seen) / (b.seen - a.seen)) * (b.size - a.size)) * sigma
}

/** Spots on a region, those that lie on lines left out. */
function findDefects(
  face: EvenFace,
  blur: number,
  smoothing: number,
  inRegion: (distance: number) => boolean,
  scratches: readonly Feature[],
): Feature[] {
  const { width, height, distance } = face
  const inside = (i: number) => inRegion(distance[i]!)
  const onLine = linesMask(face, blur, scratches)
  const smooth = smoothed(face.contrast, width, height, smoothing / face.scale)
  for (let i = 0; i < smooth.length; i++)
    smooth[i] = Math.sign(smooth[i]!) * Math.max(0, Math.abs(smooth[i]!) - face.doubt[i]!)
  const noiseAt = noiseByDistance(smooth, distance, inside)
  const seen = new Uint8Array(smooth.length)
  const features: Feature[] = []
  for (let start = 0; start < smooth.length; start++) {
    if (
      seen[start] ||
      !inside(start) ||
      !(Math.abs(smooth[start]!) >= Math.max(LEAST_CONTRAST, STRONG * noiseAt(start)))
    )
      continue
    const sign = Math.sign(smooth[start]!)
    seen[start] = 1
    const spot = [start]
    for (let k = 0; k < spot.length; k++) {
      const at = spot[k]!
      const column = at % width
      for (let v = -1; v <= 1; v++)
        for (let u = -1; u <= 1; u++) {
          if (column + u < 0 || column + u >= width) continue
          const next = at + v * width + u
          if (next < 0 || next >= smooth.length || seen[next] || !inside(next)) continue
          if (!(smooth[next]! * sign >= Math.max(LEAST_CONTRAST / 2, WEAK * noiseAt(next)))) continue
          seen[next] = 1
          spot.push(next)
        }
    }
    if (spot.filter((at) => onLine[at]).length > spot.length / 2) continue
    features.push(spotOf(spot, smooth, face, Math.hypot(blur / FULL_WIDTH, smoothing)))
  }
  return features
}

/** Size and place of a spot: what reaches half of its level, in the smallest circle, without the blur's `sigma`, µm. */
function spotOf(spot: readonly number[], smooth: Float32Array, face: EvenFace, sigma: number): Feature {
  const levels = spot.map((at) => Math.abs(smooth[at]!)).sort((a, b) => b - a)
  // The level of its middle, not its one strongest pixel.
  const top = levels[Math.min(levels.length - 1, Math.floor(levels.length / 20))]!
  const half = spot.filter((at) => Math.abs(smooth[at]!) >= top / 2)
  const circle = packEnclose(half.map((at) => ({ ...placeAt(face, at), r: face.scale / 2 })))
  const size = withoutBlur(2 * circle.r, sigma)
  const distances = half.map((at) => face.distance[at]!)
  const grown = Math.max(0, circle.r - size / 2)
  return {
    kind: 'defect',
    size,
    inner: Math.max(0, Math.min(...distances) + grown),
    outer: Math.max(...distances) - grown,
    x: circle.x,
    y: circle.y,
    ends: null,
    contrast: Math.sign(smooth[spot[0]!]!) * top,
    cut: half.some((at) => face.distance[at]! > FARTHEST - face.scale || atBorder(at, face)),
  }
}

function atBorder(at: number, { width, height }: EvenFace): boolean {
  const [column, row] = [at % width, Math.floor(at / width)]
  return column === 0 || row === 0 || column === width - 1 || row === height - 1
}

/** Rings in which noise is taken to be the same, µm. */
const NOISE_RING = 6

/** Noise at a pixel: where it is darker there is more of it. */
function noiseByDistance(
  values: Float32Array,
  distance: Float32Array,
  inside: (at: number) => boolean,
): (at: number) => number {
  const rings: number[][] = []
  for (let at = 0; at < values.length; at++)
    if (!Number.isNaN(values[at]!) && inside(at))
      (rings[Math.floor(distance[at]! / NOISE_RING)] ??= []).push(Math.abs(values[at]!))
  const sigmas = Array.from(rings, (ring) => (ring && ring.length > 50 ? 1.4826 * median(ring) : 0))
  return (at) => {
    const ring = Math.floor(distance[at]! / NOISE_RING)
    return Math.max(sigmas[ring - 1] ?? 0, sigmas[ring] ?? 0, sigmas[ring + 1] ?? 0)
  }
}

/** On the ferrule only what is large matters: pixels of about this are enough, µm. */
const FERRULE_GRID = 0.6

/** Everything on the end face that is not round its center: scratches on the fiber, defects on fiber and ferrule. */
export function findFeatures(picture: Picture, fiber: FiberFound): Feature[] {
  const face = evenOut(picture, fiber)
  const lines = findLines(face).flatMap((found): Feature[] => {
    const line = extended(face, moved(face, found))
    if (lengthOf(line) < LEAST_LENGTH) return []
    const { width: size, contrast, seen } = acrossLine(face, fiber.blur, line)
    if (lengthOf(line) < LEAST_SLENDER * size) return []
    // Between two others a line seems to be where nothing is.
    if (seen < Math.max(LEAST_CONTRAST, Math.abs(contrast) * BY_ITSELF * Math.min(1, size / fiber.blur))) return []
    const { inner, outer } = distancesOf(line.ends)
    const [x1, y1, x2, y2] = line.ends
    return [
      {
        kind: 'scratch',
        size,
        inner: Math.max(0, inner - size / 2),
        outer,
        x: (x1 + x2) / 2,
        y: (y1 + y2) / 2,
        ends: line.ends,
        contrast,
        cut: false,
      },
    ]
  })
  const scratches = withoutEchoes(lines)
  const smoothing = Math.min(0.8, Math.max(0.35 * fiber.blur, fiber.scale))
  const ferrule = partOf(face, FARTHEST, Math.max(1, Math.round(FERRULE_GRID / face.scale)))
  return [
    ...scratches,
    ...findDefects(partOf(face, CLADDING_ENDS, 1), fiber.blur, smoothing, (r) => r <= CLADDING_ENDS, scratches),
    ...findDefects(ferrule, fiber.blur, FERRULE_SMOOTHING, (r) => r > FERRULE_BEGINS && r <= FARTHEST, scratches),
  ]
}

/** Scratches but those that lie along a stronger one: found twice. */
function withoutEchoes(lines: readonly Feature[]): Feature[] {
  const strength = ({ contrast, size, ends }: Feature) => {
    const [x1, y1, x2, y2] = ends!
    return Math.min(1, Math.abs(contrast)) * size * Math.hypot(x2 - x1, y2 - y1)
  }
  const kept: Feature[] = []
  for (const line of [...lines].sort((a, b) => strength(b) - strength(a))) {
    const [x1, y1, x2, y2] = line.ends!
    const places = Array.from({ length: 20 }, (_, i) => {
      const s = (i + 0.5) / 20
      return [x1 + s * (x2 - x1), y1 + s * (y2 - y1)] as const
    })
    const beside = places.filter(([x, y]) => kept.some(({ ends }) => offLine(ends!, x, y) <= BESIDE))
    if (beside.length <= places.length / 2) kept.push(line)
  }
  return kept
}

/** How far a place is from a line's piece, µm. */
function offLine([x1, y1, x2, y2]: Line['ends'], x: number, y: number): number {
  const [dx, dy] = [x2 - x1, y2 - y1]
  const s = Math.max(0, Math.min(1, ((x - x1) * dx + (y - y1) * dy) / (dx * dx + dy * dy)))
  return Math.hypot(x - x1 - s * dx, y - y1 - s * dy)
}

/** Pixels on scratches, with what is blurred beside them. */
function linesMask(face: EvenFace, blur: number, scratches: readonly Feature[]): Uint8Array {
  const mask = new Uint8Array(face.contrast.length)
  const beyond = 6
  for (const { ends, size } of scratches) {
    const [x1, y1, x2, y2] = ends!
    const [dx, dy] = [x2 - x1, y2 - y1]
    const length = Math.hypot(dx, dy)
    const reach = size / 2 + blur + 0.5
    for (let i = 0; i < mask.length; i++) {
      const x = ((i % face.width) - face.x) * face.scale - x1
      const y = (Math.floor(i / face.width) - face.y) * face.scale - y1
      const along = (x * dx + y * dy) / length
      if (along < -beyond || along > length + beyond) continue
      if (Math.abs(x * dy - y * dx) / length <= reach) mask[i] = 1
    }
  }
  return mask
}

/** How much of a ring the picture shows, 0 to 1; radii µm. */
export function shownOf(picture: Picture, { outline, scale }: FiberFound, from: number, to: number): number {
  let [shown, all] = [0, 0]
  for (let k = 0; k < 360; k++)
    for (let r = from; r <= to; r += (to - from) / 10) {
      const angle = (2 * Math.PI * k) / 360
      const distance = (r / scale / outline.radius) * radiusAt(outline, angle)
      const [x, y] = [outline.x + distance * Math.cos(angle), outline.y + distance * Math.sin(angle)]
      all++
      if (x >= 0 && y >= 0 && x <= picture.width - 1 && y <= picture.height - 1) shown++
    }
  return shown / all
}

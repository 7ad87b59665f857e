import { median } from 'simple-statistics'
import { radiusAt } from '../findFiber.ts'
import { spreadOf } from './blur.ts'
import { blurredDisc, straightThrough, throughTerms } from './fits.ts'
import type { FiberFound, Picture } from '../types.ts'

/** What is looked at, µm from the center: the contact zone to 125 (IEC 61300-3-35), and what reaches out of it. */
export const FARTHEST = 140
/** The cladding ends here, and the ferrule begins beyond the adhesive, µm. */
export const CLADDING_ENDS = 60
export const FERRULE_BEGINS = 66
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
export interface EvenFace {
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

/** What is lit in the middle: a small core, or one that is larger than most defects. */
export type CoreKind = 'single-mode' | 'multimode'

/**
 * What everything round the center at the same distance has in common is no feature: cladding, a lit core, adhesive and
 * ferrule. Light that comes from one side is evened out first.
 */
export function evenOut(picture: Picture, fiber: FiberFound, core: CoreKind): EvenFace {
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
    profile = profileOf(data, distance, light, step, core === 'multimode' ? null : spreadOf(fiber.blur))
    if (round < 2) lightOver(picture, distance, profile.levels, step, outline, light)
  }
  const { levels, core: coreLight } = profile
  const contrast = new Float32Array(width * height).fill(NaN)
  const doubt = new Float32Array(width * height)
  for (let i = 0; i < contrast.length; i++) {
    const r = distance[i]!
    if (r > FARTHEST) continue
    const level = Math.max(1, levelOf(levels, r / step))
    contrast[i] = data[i]! / (level * light[i]!) - 1
    const slope = Math.abs(levelOf(levels, r / step + 1) - levelOf(levels, Math.max(0, r / step - 1))) / (2 * step)
    doubt[i] = (slope * MISPLACED + (r < CORE_SEEN + 1 ? CORE_DOUBT * Math.abs(coreLight) : 0)) / level
  }
  return { width, height, x: outline.x, y: outline.y, scale, contrast, doubt, distance }
}

/** What lies within a distance from the center, µm, each pixel the mean of a square of so many. */
export function partOf(face: EvenFace, within: number, by: number): EvenFace {
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

/** Of a multimode core the inside is even: what lies nearer to the center is held against these rings, µm. */
const EVEN_CORE = { from: 12, to: 22 } as const

/**
 * The middle level at each distance from the center; in the very middle as a blurred core goes on inwards.
 * @param sigma standard deviation of the blur, µm; null for a multimode core, in which nothing small is lit by itself
 */
function profileOf(
  data: Picture['data'],
  distance: Float32Array,
  light: Float32Array,
  step: number,
  sigma: number | null,
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
  if (sigma === null) {
    const [from, to] = [Math.ceil(EVEN_CORE.from / step), Math.floor(EVEN_CORE.to / step)]
    profile.fill(median(profile.slice(from, to + 1)), 0, from)
    return { levels: profile, core: 0 }
  }
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
    terms = throughTerms(rows, values, kept)
    const off = rows.map((row, i) => Math.abs(values[i]! - row.reduce((sum, one, k) => sum + one * terms[k]!, 0)))
    const spread = 1.4826 * median(off)
    kept = rows.flatMap((_, i) => (off[i]! <= Math.max(1e-3, 3 * spread) ? [i] : []))
  }
  const [base, alongU, alongV, bendU, twist, bendV] = terms as [number, number, number, number, number, number]
  for (let row = 0, i = 0; i < light.length; row++) {
    const v = (row - outline.y) / outline.radius
    for (let column = 0; column < width; column++, i++) {
      const u = (column - outline.x) / outline.radius
      light[i] = Math.max(0.2, base + (alongU + bendU * u + twist * v) * u + (alongV + bendV * v) * v)
    }
  }
}

/** µm from the center. */
export function placeAt({ width, x, y, scale }: EvenFace, at: number): { x: number; y: number } {
  return { x: ((at % width) - x) * scale, y: (Math.floor(at / width) - y) * scale }
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

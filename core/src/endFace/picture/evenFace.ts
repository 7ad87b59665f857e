import { median } from 'simple-statistics'
import { radiusAt } from '../findFiber.ts'
import { coreLight, coreReach, type CoreKind, type LitPlace } from './coreLight.ts'
import { throughTerms } from './fits.ts'
import { evenLocally } from './localLight.ts'
import { offLine } from './pieces.ts'
import type { Feature, FiberFound, Picture } from '../types.ts'

/** What is looked at, µm from the center: the contact zone to 125 (IEC 61300-3-35), and what reaches out of it. */
export const FARTHEST = 140
/** The cladding ends here, and the ferrule begins beyond the adhesive, µm. */
export const CLADDING_ENDS = 60
export const FERRULE_BEGINS = 66
/** What is seen round the center is taken to be misplaced by up to so much, µm. */
const MISPLACED = 0.3

/** So far beyond a core's reach the glass round it is looked at, µm. */
const GLASS = 10

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
  /** So far from the center, µm, light of a core may be. */
  core: number
}

/**
 * What everything round the center at the same distance has in common is no feature: cladding, a lit core, adhesive and
 * ferrule. Light that comes from one side is evened out first.
 * @param scratches that are known already: over a small core they look like light, and do not count there
 */
export function evenOut(
  picture: Picture,
  fiber: FiberFound,
  core: CoreKind,
  scratches: readonly Feature[] = [],
): EvenFace {
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
  const beyondCore = coreReach(core)
  let levels: number[] = []
  for (let round = 0; round < 3; round++) {
    levels = profileOf(data, distance, light, step)
    if (round < 2) lightOver(picture, distance, levels, step, outline, beyondCore, light)
  }
  const places: LitPlace[] = []
  for (let i = 0; i < data.length; i++) {
    if (distance[i]! > beyondCore) continue
    const [x, y] = [((i % width) - outline.x) * scale, (Math.floor(i / width) - outline.y) * scale]
    if (scratches.some((one) => offLine(one.ends!, x, y) <= one.size / 2 + 0.6 * fiber.blur.width)) continue
    places.push({ x, y, level: data[i]! / light[i]! })
  }
  // The glass round the core: the middle of its rings, out to a sixth of the fiber farther.
  const base = median(levels.slice(Math.ceil(beyondCore / step), Math.floor((beyondCore + GLASS) / step)))
  const lit = coreLight(places, base, core, fiber.blur)
  const contrast = new Float32Array(width * height).fill(NaN)
  const doubt = new Float32Array(width * height)
  for (let i = 0; i < contrast.length; i++) {
    const r = distance[i]!
    if (r > FARTHEST) continue
    let level: number
    let slope: number
    if (r <= lit.reach) {
      const [x, y] = [((i % width) - outline.x) * scale, (Math.floor(i / width) - outline.y) * scale]
      level = lit.at(x, y)
      slope = Math.hypot(lit.at(x + scale, y) - level, lit.at(x, y + scale) - level) / scale
    } else {
      level = levelOf(levels, r / step)
      slope = Math.abs(levelOf(levels, r / step + 1) - levelOf(levels, Math.max(0, r / step - 1))) / (2 * step)
    }
    level = Math.max(1, level)
    contrast[i] = data[i]! / (level * light[i]!) - 1
    doubt[i] = (slope * MISPLACED) / level
  }
  // A large core is glass too, once its own light is taken away; a small one is smaller than what is evened out.
  const nearest = core === 'multimode' ? 0 : lit.reach
  const isGlass = (at: number) => distance[at]! >= nearest && distance[at]! < CLADDING_ENDS
  evenLocally({ width, height, scale, contrast }, isGlass)
  evenLocally({ width, height, scale, contrast }, (at) => distance[at]! > FERRULE_BEGINS)
  return { width, height, x: outline.x, y: outline.y, scale, contrast, doubt, distance, core: lit.reach }
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
    core: face.core,
  }
}

/** So many pixels of a ring are enough, about. */
const RING_PIXELS = 240

/** The middle level at each distance from the center. */
function profileOf(data: Picture['data'], distance: Float32Array, light: Float32Array, step: number): number[] {
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
  const profile: number[] = []
  for (const [i, levels] of bins.entries()) profile.push(levels.length >= 8 ? median(levels) : (profile[i - 1] ?? 0))
  return profile
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
  beyondCore: number,
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
    // Edges tell nothing about light, nor does a core that may be lit in part.
    if (r > FARTHEST || r < beyondCore || (r > CLADDING_ENDS - 2 && r < FERRULE_BEGINS + 2)) continue
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

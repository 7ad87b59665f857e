import { radiusAt } from './radialEdges.ts'
import { adhesiveReach, RAGGED_ENDS } from './adhesive.ts'
import { coreLight, coreReach, type CoreKind, type LitPlace } from './coreLight.ts'
import { evenLocally } from './localLight.ts'
import { throughMost } from './fits.ts'
import { offLine } from './pieces.ts'
import { CLADDING_ENDS, distanceAt, FARTHEST, FERRULE_BEGINS, ringLight, type RingLight } from './rings.ts'
import { CLADDING, type Feature, type FiberFound, type Picture } from '../types.ts'

/** What is seen round the center is taken to be misplaced by up to so much, µm. */
const MISPLACED = 0.3
/** So far beyond a core's reach the glass round it is looked at, µm. */
const GLASS = 10
/** The fiber is looked at with what is beside it, µm from the center: scratches are told across their ends, too. */
const BESIDE_FIBER = 74

/** The adhesive is blurred by so many times the blur beyond where it ends; farther than this, µm, it never shows. */
const ADHESIVE_BLUR = 0.8
const BESIDE_ADHESIVE = 12

/** The end face with the light evened out: how much brighter than its surroundings each pixel is. */
export interface EvenFace {
  width: number
  height: number
  /** The fiber's center, pixels, and µm a pixel. */
  x: number
  y: number
  scale: number
  /** NaN where nothing is looked at. */
  contrast: Float32Array
  /** How much of it may come from circles that are not quite where they are taken to be. */
  doubt: Float32Array
  /** µm from the center. */
  distance: Float32Array
  /** So far from the center, µm, light of a core may be. */
  core: number
}

/** An end face evened out, its fiber and its ferrule each for itself. */
export interface EvenEndFace {
  /** The level of its glass, 0 to 255. */
  glass: number
  /**
   * The fiber, pixel by pixel.
   * @param scratches that are known already: over a small core they look like light, and do not count there
   */
  fiber(scratches?: readonly Feature[]): EvenFace
  /** The ferrule, in pixels of about this size, µm: from where the adhesive ends, and what is blurred beside it. */
  ferrule(grid: number): EvenFace
}

/**
 * What everything round the center at the same distance has in common is no feature: cladding, a lit core, adhesive and
 * ferrule. Light that comes from one side is evened out first.
 */
export function evenOut(picture: Picture, fiber: FiberFound, core: CoreKind): EvenEndFace {
  const beyondCore = coreReach(core)
  const light = ringLight(picture, fiber, beyondCore)
  // The glass round the core: the middle of its rings, out to a sixth of the fiber farther.
  const base = light.middleOf(beyondCore, beyondCore + GLASS)
  const whole = faceWithin(picture, fiber, light, { from: 0, to: BESIDE_FIBER, by: 1 })
  const { width, scale, distance, levels } = whole
  const besideCore = planeAround(whole, beyondCore, beyondCore + GLASS)
  const inCore: { at: number; place: LitPlace }[] = []
  for (let at = 0; at < distance.length; at++) {
    if (distance[at]! > beyondCore) continue
    const { x, y } = placeAt(whole, at)
    inCore.push({ at, place: { x, y, level: levels[at]! / (1 + besideCore(x, y)) } })
  }
  return {
    glass: light.glass,
    fiber(scratches = []) {
      const places = inCore.map(({ place }) => place)
      const beside = fiber.blur.width * 0.6
      const free = places.filter(({ x, y }) =>
        scratches.every((one) => offLine(one.ends!, x, y) > one.size / 2 + beside),
      )
      const lit = coreLight(free, base, core, fiber.blur)
      const [contrast, doubt] = [whole.contrast.slice(), whole.doubt.slice()]
      for (const { at, place } of inCore) {
        if (distance[at]! > lit.reach) continue
        const { x, y } = place
        const here = lit.at(x, y)
        const level = Math.max(1, here)
        contrast[at] = place.level / level - 1
        const slope = Math.hypot(lit.at(x + scale, y) - here, lit.at(x, y + scale) - here) / scale
        doubt[at] = (slope * MISPLACED) / level
      }
      // A large core is glass too, once its own light is taken away; a small one is smaller than what is evened out.
      const nearest = core === 'multimode' ? 0 : lit.reach
      const isGlass = (at: number) => distance[at]! >= nearest && distance[at]! < CLADDING_ENDS
      const toItsEdge = (at: number) => distance[at]! >= nearest && distance[at]! < CLADDING / 2
      evenLocally({ width, height: whole.height, scale, contrast }, isGlass, toItsEdge)
      return { ...whole, contrast, doubt, core: lit.reach }
    },
    ferrule(grid) {
      const by = Math.max(1, Math.round(grid / fiber.scale))
      // Rings that ragged adhesive reaches into tell of it, too: there the ferrule goes on as it is beyond it.
      const beyond = light.middleOf(RAGGED_ENDS, RAGGED_ENDS + 4)
      const ferrule: RingLight = {
        ...light,
        levelAt: (r) => (r < RAGGED_ENDS ? beyond : light.levelAt(r)),
        slopeAt: (r) => (r < RAGGED_ENDS ? 0 : light.slopeAt(r)),
      }
      const face = faceWithin(picture, fiber, ferrule, { from: FERRULE_BEGINS, to: FARTHEST, by })
      const reach = adhesiveReach(picture, fiber, light)
      for (let at = 0; at < face.distance.length; at++) {
        const r = face.distance[at]!
        if (r < FERRULE_BEGINS || r > FERRULE_BEGINS + BESIDE_ADHESIVE) continue
        const { x, y } = placeAt(face, at)
        if (r < reach(Math.atan2(y, x)) + ADHESIVE_BLUR * fiber.blur.width) face.contrast[at] = NaN
      }
      evenLocally(face, () => true)
      return { ...face, core: 0 }
    },
  }
}

/** Light round the core goes on over it: the plane through what stands out between two distances from the center, dirt left out. */
function planeAround(face: Omit<EvenFace, 'core'>, from: number, to: number): (x: number, y: number) => number {
  const rows: number[][] = []
  const values: number[] = []
  for (let at = 0; at < face.distance.length; at++) {
    const value = face.contrast[at]!
    if (face.distance[at]! < from || face.distance[at]! > to || Number.isNaN(value)) continue
    const { x, y } = placeAt(face, at)
    rows.push([1, x, y])
    values.push(value)
  }
  if (rows.length < 50) return () => 0
  const [base, alongX, alongY] = throughMost(rows, values) as [number, number, number]
  return (x, y) => base + alongX * x + alongY * y
}

/**
 * How much what lies between two distances from the center, µm, stands out from its ring.
 * @param by each pixel the mean of a square of so many
 * @returns beside it the level of each pixel under even light
 */
function faceWithin(
  picture: Picture,
  fiber: FiberFound,
  light: RingLight,
  { from, to, by }: { from: number; to: number; by: number },
): Omit<EvenFace, 'core'> & { levels: Float32Array } {
  const { outline } = fiber
  const reach = (to / fiber.scale) * (1 + Math.hypot(outline.a, outline.b) / outline.radius) + by
  const [left, top] = [outline.x, outline.y].map((middle) => Math.max(0, Math.floor(middle - reach))) as [
    number,
    number,
  ]
  const width = Math.floor((Math.min(picture.width, Math.ceil(outline.x + reach)) - left) / by)
  const height = Math.floor((Math.min(picture.height, Math.ceil(outline.y + reach)) - top) / by)
  const made = () => new Float32Array(width * height)
  const [distance, doubt, levels, contrast] = [made(), made(), made(), made().fill(NaN)]
  // The middle of a square lies half a pixel of the finer ones before its corner.
  const half = (by - 1) / 2
  for (let row = 0, at = 0; row < height; row++)
    for (let column = 0; column < width; column++, at++) {
      const [x, y] = [left + column * by + half, top + row * by + half]
      const r = distanceAt(fiber, x, y)
      distance[at] = r
      if (r < from || r > to) continue
      levels[at] = meanOf(picture, left + column * by, top + row * by, by) / light.sideAt(x, y)
      const level = Math.max(1, light.levelAt(r))
      contrast[at] = levels[at]! / level - 1
      doubt[at] = (light.slopeAt(r) * MISPLACED) / level
    }
  return {
    width,
    height,
    x: (outline.x - left - half) / by,
    y: (outline.y - top - half) / by,
    scale: fiber.scale * by,
    contrast,
    doubt,
    distance,
    levels,
  }
}

/** The mean level of a square of pixels. */
function meanOf({ data, width }: Picture, x: number, y: number, by: number): number {
  if (by === 1) return data[y * width + x]!
  let sum = 0
  for (let v = 0; v < by; v++) for (let u = 0; u < by; u++) sum += data[(y + v) * width + x + u]!
  return sum / by ** 2
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

/** µm from the center. */
export function placeAt(
  { width, x, y, scale }: Pick<EvenFace, 'width' | 'x' | 'y' | 'scale'>,
  at: number,
): { x: number; y: number } {
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

import { median } from 'simple-statistics'
import { radiusAt } from './radialEdges.ts'
import { throughMost } from './fits.ts'
import { medianOf } from './noise.ts'
import type { FiberFound, Outline, Picture } from '../types.ts'

/** What is looked at, µm from the center: the contact zone to 125 (IEC 61300-3-35), and what reaches out of it. */
export const FARTHEST = 140
/** The cladding ends here, and the ferrule begins beyond the adhesive, µm. */
export const CLADDING_ENDS = 60
export const FERRULE_BEGINS = 66

/** So many pixels of a ring tell what it has in common, at most; fewer than the least tell nothing. */
const RING_PIXELS = 180
const LEAST_PIXELS = 8
/** Rings are no closer to each other than this, µm. */
const FINEST = 0.25
/** Of so many places, about, light that comes from one side is told, and never taken for less than this. */
const LIGHT_PLACES = 2500
const LEAST_LIGHT = 0.2

/** Light on an end face: what all places at a distance from the center have in common, and what comes from one side. */
export interface RingLight {
  /** The middle level of the glass as the picture shows it, 0 to 255. */
  glass: number
  /** Light that changes slowly over the picture, at a pixel: about 1. */
  sideAt(x: number, y: number): number
  /** The middle level at a distance from the center, µm, and how much it changes, in µm. */
  levelAt(distance: number): number
  slopeAt(distance: number): number
  /** The middle of the levels of rings between two distances. */
  middleOf(from: number, to: number): number
}

/** How far a pixel is from the fiber's center, µm, as it would be if the cladding were seen as a circle. */
export function distanceAt({ outline, scale }: FiberFound, x: number, y: number): number {
  const [dx, dy] = [x - outline.x, y - outline.y]
  const square = dx * dx + dy * dy
  // The outline in this direction, by cos 2θ and sin 2θ.
  const edge = outline.radius + (outline.a * (dx * dx - dy * dy) + outline.b * 2 * dx * dy) / Math.max(1e-9, square)
  return (Math.sqrt(square) * outline.radius * scale) / edge
}

/**
 * Light by turns: what rings have in common under the light from the side, and that light by what they have not.
 * @param coreEnds nearer to the center nothing tells of the light from the side, µm: a core may be lit in part
 */
export function ringLight(picture: Picture, fiber: FiberFound, coreEnds: number): RingLight {
  const { data, width } = picture
  const { outline } = fiber
  const step = Math.max(fiber.scale, FINEST)
  const rings = ringsOf(picture, fiber, step)
  const places = lightPlaces(picture, fiber, coreEnds)
  let terms: readonly number[] = [1, 0, 0, 0, 0, 0]
  let levels: number[] = []
  const sideAt = (x: number, y: number) => {
    const [u, v] = [(x - outline.x) / outline.radius, (y - outline.y) / outline.radius]
    const side = terms[0]! + (terms[1]! + terms[3]! * u + terms[4]! * v) * u + (terms[2]! + terms[5]! * v) * v
    return Math.max(LEAST_LIGHT, side)
  }
  const levelAt = (distance: number) => {
    const at = distance / step
    const i = Math.min(levels.length - 2, Math.floor(at))
    return levels[i]! + (at - i) * (levels[i + 1]! - levels[i]!)
  }
  for (let round = 0; round < 3; round++) {
    const next: number[] = []
    for (const [i, ring] of rings.entries()) {
      const lit = new Float64Array(ring.length)
      for (const [k, at] of ring.entries()) lit[k] = data[at]! / sideAt(at % width, Math.floor(at / width))
      next.push(lit.length < LEAST_PIXELS ? (next[i - 1] ?? 0) : medianOf(lit))
    }
    levels = next
    if (round < 2) terms = throughLight(places, levelAt, outline) ?? terms
  }
  const glass = places.filter(({ distance }) => distance < CLADDING_ENDS).map(({ level }) => level)
  return {
    glass: glass.length > 0 ? median(glass) : 0,
    sideAt,
    levelAt,
    slopeAt: (distance) => Math.abs(levelAt(distance + step) - levelAt(Math.max(0, distance - step))) / (2 * step),
    middleOf: (from, to) => median(levels.slice(Math.ceil(from / step), Math.floor(to / step))),
  }
}

/** Pixels of rings round the center, so many of each all round, as far as the picture shows them. */
function ringsOf({ width, height }: Picture, { outline, scale }: FiberFound, step: number): number[][] {
  return Array.from({ length: Math.ceil(FARTHEST / step) + 2 }, (_, ring) => {
    const count = Math.max(LEAST_PIXELS, Math.min(RING_PIXELS, Math.round(2 * Math.PI * ring)))
    const pixels: number[] = []
    for (let k = 0; k < count; k++) {
      const angle = (2 * Math.PI * k) / count
      const r = ((ring * step) / scale / outline.radius) * radiusAt(outline, angle)
      const [x, y] = [Math.round(outline.x + r * Math.cos(angle)), Math.round(outline.y + r * Math.sin(angle))]
      if (x >= 0 && y >= 0 && x < width && y < height) pixels.push(y * width + x)
    }
    return pixels
  })
}

/** A place that tells of the light from the side. */
interface LitPlace {
  x: number
  y: number
  distance: number
  level: number
}

/** Places all over the end face, without edges and what is lit through the core. */
function lightPlaces(picture: Picture, fiber: FiberFound, coreEnds: number): LitPlace[] {
  const { width, data } = picture
  const every = Math.max(1, Math.floor(data.length / (2 * LIGHT_PLACES)))
  const places: LitPlace[] = []
  for (let i = 0; i < data.length; i += every * (1 + (i % 3))) {
    const [x, y] = [i % width, Math.floor(i / width)]
    const distance = distanceAt(fiber, x, y)
    const isEdge = distance > CLADDING_ENDS - 2 && distance < FERRULE_BEGINS + 2
    if (distance <= FARTHEST && distance >= coreEnds && !isEdge) places.push({ x, y, distance, level: data[i]! })
  }
  return places
}

/** Light that changes slowly over the picture, to the second order, leaving out what stands off; null by too few places. */
function throughLight(
  places: readonly LitPlace[],
  levelAt: (distance: number) => number,
  outline: Outline,
): number[] | null {
  if (places.length < 50) return null
  const rows = places.map(({ x, y }) => {
    const [u, v] = [(x - outline.x) / outline.radius, (y - outline.y) / outline.radius]
    return [1, u, v, u * u, u * v, v * v]
  })
  const values = places.map(({ level, distance }) => level / Math.max(1, levelAt(distance)))
  return throughMost(rows, values)
}

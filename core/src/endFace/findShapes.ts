import { packEnclose } from 'd3-hierarchy'
import { mean, median, quantile } from 'simple-statistics'
import { seededRandom } from '../math/random.ts'
import { placeAt, type EvenFace } from './picture/evenFace.ts'
import { CLADDING_ENDS } from './picture/rings.ts'
import type { Standing } from './picture/standing.ts'
import type { Blur } from './picture/blur.ts'
import { throughTerms } from './picture/fits.ts'
import { LEAST_CONTRAST } from './picture/noise.ts'
import type { Feature } from './types.ts'

/** Rings, cracks, lint and films: what hangs together, is neither a spot nor made of straight lines. */
export interface Shapes {
  features: Feature[]
  /** Whether a place, µm from the center, is on one of them, or nearer to it than the blur reaches. */
  holds(x: number, y: number): boolean
}

/** What hangs together must be so large, µm, and fill less of its circle than this to be no spot (judgement). */
const LEAST_SIZE = 12
const SPARSE = 0.35
/** A ring surrounds so much of its circle (judgement). */
const HOLE = 0.15
/** A scratch runs through so much of what hangs together (judgement): of a ring, a crack or lint no straight piece does. */
const STRAIGHT = 0.75
/** A scratch wanders from a smooth bow by less than this, µm (judgement). */
const MOST_WANDER = 0.7
/** A scratch is bowed by less than this, as part of its length (judgement). */
const MOST_SAG = 0.1
/** It is followed in pieces of so many µm. */
const PIECE = 2
/** A film is light and dark by turns: of each so much (judgement), and as large as this, µm. */
const BOTH = 0.2
const LEAST_FILM = 15
/** Gaps in a line are passed over, µm; a scratch bends by so much of its length, and lies so near to its middle, µm. */
const GAP = 4
const BEND = 0.01
const NEAR = 0.4
/** Straight pieces are looked for through so many pairs of so many places. */
const PAIRS = 250
const PLACES = 350

interface Place {
  at: number
  x: number
  y: number
}

/**
 * Shapes on the fiber.
 * @param noiseAt a pixel's noise where nothing is
 */
export function findShapes({ face, smooth, sharpness }: Standing, blur: Blur, noiseAt: (at: number) => number): Shapes {
  const isInside = (at: number) => face.distance[at]! <= CLADDING_ENDS
  const level = (at: number) => Math.abs(smooth[at]!)
  const shows = (at: number) => level(at) >= Math.max(LEAST_CONTRAST / 2, 3 * noiseAt(at))
  const strong = (at: number) => level(at) >= Math.max(LEAST_CONTRAST, 6 * noiseAt(at))
  const left = new Uint8Array(smooth.length)
  for (let at = 0; at < left.length; at++) if (isInside(at) && shows(at)) left[at] = 1
  const reach = Math.max(1, Math.min(3, Math.round(0.5 / face.scale)))
  const features: Feature[] = []
  const held = new Uint8Array(smooth.length)
  for (let start = 0; start < left.length; start++) {
    if (!left[start] || !strong(start)) continue
    const pixels = together(start, left, face.width, reach)
    for (const one of pixels) left[one] = 0
    for (const shape of shapesIn(pixels, face, blur, smooth)) {
      const on = shape.map(({ at }) => at)
      if (sharpness.isSoft(on, sizeOf(shape), 'thin')) continue
      features.push(featureOf(shape, face, blur, smooth))
      for (const { at } of shape) held[at] = 1
    }
  }
  const beyond = Math.ceil(blur.width / face.scale)
  return {
    features,
    holds(x, y) {
      const [column, row] = [Math.round(face.x + x / face.scale), Math.round(face.y + y / face.scale)]
      for (let v = Math.max(0, row - beyond); v <= Math.min(face.height - 1, row + beyond); v++)
        for (let u = Math.max(0, column - beyond); u <= Math.min(face.width - 1, column + beyond); u++)
          if (held[v * face.width + u]) return true
      return false
    },
  }
}

/** Pixels that hang together with one, over gaps of so many. */
function together(start: number, left: Uint8Array, width: number, reach: number): number[] {
  const found = [start]
  left[start] = 0
  for (let k = 0; k < found.length; k++) {
    const at = found[k]!
    const column = at % width
    for (let v = -reach; v <= reach; v++)
      for (let u = Math.max(-reach, -column); u <= Math.min(reach, width - 1 - column); u++) {
        const next = at + v * width + u
        if (next < 0 || next >= left.length || !left[next]) continue
        left[next] = 0
        found.push(next)
      }
  }
  return found
}

/** Of what hangs together the parts that are neither spots nor straight lines. */
function shapesIn(pixels: readonly number[], face: EvenFace, blur: Blur, smooth: Float32Array): Place[][] {
  if (pixels.length * face.scale ** 2 < LEAST_SIZE) return []
  const places = pixels.map((at) => ({ at, ...placeAt(face, at) }))
  const size = sizeOf(places)
  if (size < LEAST_SIZE) return []
  const fill = (pixels.length * face.scale ** 2) / ((Math.PI / 4) * size ** 2)
  if (fill >= SPARSE && holeIn(pixels, face) * face.scale ** 2 < HOLE * (Math.PI / 4) * size ** 2) {
    const light = pixels.filter((at) => smooth[at]! > 0).length / pixels.length
    return size >= LEAST_FILM && light >= BOTH && light <= 1 - BOTH ? [places] : []
  }
  const line = longestLine(places, 0.35 * blur.width + NEAR + BEND * size)
  if (line.length < STRAIGHT * size || wander(places, line, far(line.margin, blur)) > MOST_WANDER) return [places]
  // A scratch runs through it: what is left beside it is looked at by itself.
  const rest = new Uint8Array(face.contrast.length)
  const beside = places.filter((place) => Math.abs(line.off(place)) > far(line.margin, blur))
  for (const { at } of beside) rest[at] = 1
  return beside.flatMap(({ at }) => {
    if (!rest[at]) return []
    const part = together(at, rest, face.width, 1)
    return shapesIn(part, face, blur, smooth)
  })
}

/** So many pixels are surrounded by others: from them no way leads out of what is around them. */
function holeIn(pixels: readonly number[], { width }: EvenFace): number {
  const columns = pixels.map((at) => at % width)
  const rows = pixels.map((at) => Math.floor(at / width))
  const least = (values: readonly number[]) => values.reduce((a, b) => Math.min(a, b))
  const most = (values: readonly number[]) => values.reduce((a, b) => Math.max(a, b))
  // With a border all round.
  const [left, top] = [least(columns) - 1, least(rows) - 1]
  const [across, down] = [most(columns) - left + 2, most(rows) - top + 2]
  const seen = new Uint8Array(across * down)
  for (const [i, column] of columns.entries()) seen[(rows[i]! - top) * across + column - left] = 1
  const outside = [0]
  seen[0] = 1
  for (let k = 0; k < outside.length; k++) {
    const at = outside[k]!
    const column = at % across
    for (const next of [column > 0 ? at - 1 : -1, column < across - 1 ? at + 1 : -1, at - across, at + across]) {
      if (next < 0 || next >= seen.length || seen[next]) continue
      seen[next] = 1
      outside.push(next)
    }
  }
  return seen.length - seen.reduce((sum, one) => sum + one, 0)
}

/** What lies farther from a line is not of it, nor blurred beside it, µm. */
function far(margin: number, blur: Blur): number {
  return margin + blur.width + 1
}

/** Diameter of the smallest circle around places, µm. */
function sizeOf(places: readonly Place[]): number {
  const every = Math.max(1, Math.floor(places.length / 1500))
  return 2 * packEnclose(places.filter((_, i) => i % every === 0).map(({ x, y }) => ({ x, y, r: 0 }))).r
}

/** A straight piece: how far places are beside it, to one side or the other, and along it, µm. */
interface Line {
  length: number
  margin: number
  off(place: Place): number
  along(place: Place): number
}

/** How far what lies along a line is from a smooth bow, µm: the middle of its pieces. @param reach to each side */
function wander(places: readonly Place[], line: Line, reach: number): number {
  const pieces = new Map<number, number[]>()
  for (const place of places) {
    const off = line.off(place)
    if (Math.abs(off) > reach) continue
    const piece = Math.floor(line.along(place) / PIECE)
    pieces.set(piece, [...(pieces.get(piece) ?? []), off])
  }
  const told = [...pieces].filter(([, offs]) => offs.length >= 3)
  if (told.length < 6) return 0
  const middle = mean(told.map(([piece]) => piece))
  const rows = told.map(([piece]) => [1, piece - middle, (piece - middle) ** 2])
  const offs = told.map(([, all]) => median(all))
  const [base, slope, bow] = throughTerms(rows, offs) as [number, number, number]
  const sag = (Math.abs(bow) * told.length ** 2) / 4
  if (sag > MOST_SAG * told.length * PIECE) return Infinity
  return 1.4826 * median(rows.map(([, u, square], i) => Math.abs(offs[i]! - base - slope * u! - bow * square!)))
}

/** The longest straight piece through places, within a margin to both sides, µm. */
function longestLine(places: readonly Place[], margin: number): Line {
  const random = seededRandom(places.length)
  const every = Math.max(1, Math.floor(places.length / PLACES))
  const some = places.filter((_, i) => i % every === 0)
  const any = () => some[Math.floor(random.uniform() * some.length)]!
  let best: Line = { length: 0, margin, off: () => 0, along: () => 0 }
  for (let i = 0; i < PAIRS; i++) {
    const [a, b] = [any(), any()]
    const apart = Math.hypot(b.x - a.x, b.y - a.y)
    if (apart < LEAST_SIZE / 2) continue
    const [ux, uy] = [(b.x - a.x) / apart, (b.y - a.y) / apart]
    const off = ({ x, y }: Place) => (x - a.x) * uy - (y - a.y) * ux
    const along = ({ x, y }: Place) => (x - a.x) * ux + (y - a.y) * uy
    const reached = some.filter((place) => Math.abs(off(place)) <= margin).map(along)
    reached.sort((one, other) => one - other)
    let from = reached[0]!
    for (let k = 1; k <= reached.length; k++) {
      if (k < reached.length && reached[k]! - reached[k - 1]! <= GAP) continue
      const length = reached[k - 1]! - from
      if (length > best.length) best = { length, margin, off, along }
      from = reached[k] ?? 0
    }
  }
  return best
}

/** A shape as one defect: the circle around what shows at least half of its strength, and all that it surrounds. */
function featureOf(places: readonly Place[], face: EvenFace, blur: Blur, smooth: Float32Array): Feature {
  const levels = places.map(({ at }) => Math.abs(smooth[at]!))
  const half = quantile(levels, 0.9) / 2
  const shown = places.filter((_, i) => levels[i]! >= half)
  const every = Math.max(1, Math.floor(shown.length / 1500))
  const circle = packEnclose(shown.filter((_, i) => i % every === 0).map(({ x, y }) => ({ x, y, r: 0 })))
  const distances = shown.map(({ at }) => face.distance[at]!)
  const flank = blur.width / 4
  return {
    kind: 'defect',
    size: Math.max(LEAST_SIZE / 2, 2 * (circle.r - flank)),
    inner: surroundsCenter(places, face) ? 0 : Math.max(0, Math.min(...distances) + flank),
    outer: Math.max(...distances) - flank,
    x: circle.x,
    y: circle.y,
    ends: null,
    contrast: Math.sign(levels.reduce((sum, _, i) => sum + smooth[places[i]!.at]!, 0)) * half * 2,
    cut: distances.some((distance) => distance > CLADDING_ENDS - face.scale),
  }
}

/** Whether the fiber's center lies on a shape or within it: from there no way leads out. */
function surroundsCenter(places: readonly Place[], face: EvenFace): boolean {
  const wall = new Uint8Array(face.contrast.length)
  for (const { at } of places) wall[at] = 1
  const start = Math.round(face.y) * face.width + Math.round(face.x)
  if (wall[start]) return true
  const ways = [start]
  wall[start] = 1
  for (let k = 0; k < ways.length; k++) {
    const at = ways[k]!
    if (face.distance[at]! > CLADDING_ENDS) return false
    for (const next of [at - face.width, at - 1, at + 1, at + face.width]) {
      if (next < 0 || next >= wall.length) return false
      if (wall[next]) continue
      wall[next] = 1
      ways.push(next)
    }
  }
  return true
}

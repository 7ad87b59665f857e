import { packEnclose } from 'd3-hierarchy'
import { mean } from 'simple-statistics'
import { placeAt, type EvenFace } from './picture/evenFace.ts'
import { CLADDING_ENDS, FARTHEST } from './picture/rings.ts'
import { noiseByDistance, type Standing } from './picture/standing.ts'
import { LEAST_LENGTH, scratchAt } from './findScratches.ts'
import { linesMask } from './picture/linesMask.ts'
import { FULL_WIDTH, spreadOf, withoutBlur, type Blur } from './picture/blur.ts'
import { LEAST_CONTRAST } from './picture/noise.ts'
import { CLADDING, type Feature } from './types.ts'

/** A defect stands out by so many standard deviations at its strongest, and goes as far as so many. */
export const STRONG = 6
const WEAK = 3

/** Spots on a region, those that lie on lines left out. */
export function findDefects(
  { face, smooth, smoothing, sharpness }: Standing,
  blur: Blur,
  inRegion: (distance: number) => boolean,
  scratches: readonly Feature[],
): Feature[] {
  const { width, distance } = face
  const inside = (i: number) => inRegion(distance[i]!)
  const blurred = { sizeOf: withoutBlur(blur, smoothing), sigma: Math.hypot(spreadOf(blur), smoothing) }
  const onLine = linesMask(face, blur.width, scratches)
  // A flank reaches as far as the picture's blur and the smoothing together.
  const reach = Math.hypot(blur.width, FULL_WIDTH * smoothing) / face.scale
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
          if (next < 0 || next >= smooth.length || seen[next]) continue
          if (!(smooth[next]! * sign >= Math.max(LEAST_CONTRAST / 2, WEAK * noiseAt(next)))) continue
          seen[next] = 1
          spot.push(next)
        }
    }
    const isStrong = (at: number) => Math.abs(smooth[at]!) >= Math.max(LEAST_CONTRAST, STRONG * noiseAt(at))
    const share = (pixels: readonly number[], lines: number) =>
      pixels.filter((at) => onLine[at]! >= lines).length / pixels.length
    const isLine = (pixels: readonly number[], { long }: { long: number }) => share(pixels, 1) > 0.5 && long > COMPACT
    if (isLine(spot, spotOf(spot, smooth, face, blurred))) continue
    for (const part of apart(spot, smooth, width, reach, isStrong)) {
      const found = spotOf(part, smooth, face, blurred)
      // Where scratches cross both darken the same place.
      const isCrossing = share(found.half, 2) > 0.5
      if (sharpness.isSoft(found.half, found.feature.size)) continue
      if (!isLine(part, found) && !isCrossing) features.push(thin(found.half, face, blur) ?? found.feature)
    }
  }
  return features
}

/**
 * Spots that touch, each for itself: what hangs together at half of the strongest level is one, and what is left farther
 * from it than the blur reaches is looked at again.
 * @param reach of the blur, pixels
 */
function apart(
  spot: readonly number[],
  smooth: Float32Array,
  width: number,
  reach: number,
  isStrong: (at: number) => boolean,
): number[][] {
  const peak = spot.reduce((a, b) => (Math.abs(smooth[b]!) > Math.abs(smooth[a]!) ? b : a))
  const level = topOf(spot, smooth) / 2
  const half = new Set(spot.filter((at) => Math.abs(smooth[at]!) >= level))
  const core = connected(peak, half, width)
  const { isWithin } = nearness(core, width, 2 * reach)
  const all = new Set(spot)
  const rest = new Set(spot.filter((at) => !isWithin(at, reach)))
  // A flank falls and ends; what rises again, or goes on, is another spot, or one that this one lies on.
  const goesOn = (part: readonly number[]) => part.some((at) => isStrong(at) && !isWithin(at, 2 * reach))
  const others: number[][] = []
  for (const at of rest) {
    const part = connected(at, rest, width)
    for (const one of part) rest.delete(one)
    if (part.some(isStrong) && (risesBy(part, all, smooth, width) > RISE || goesOn(part)))
      others.push(...apart(part, smooth, width, reach, isStrong))
  }
  const elsewhere = new Set(others.flat())
  const own = new Set(core)
  return [spot.filter((at) => !elsewhere.has(at) && (own.has(at) || !half.has(at))), ...others]
}

/**
 * Tells which pixels lie near to some others.
 * @param most the farthest that is asked for, pixels
 */
function nearness(
  pixels: readonly number[],
  width: number,
  most: number,
): { isWithin(at: number, reach: number): boolean } {
  let [left, right, top, bottom] = [Infinity, 0, Infinity, 0]
  for (const at of pixels) {
    const [x, y] = [at % width, Math.floor(at / width)]
    left = Math.min(left, x)
    right = Math.max(right, x)
    top = Math.min(top, y)
    bottom = Math.max(bottom, y)
  }
  const border = Math.ceil(most)
  left -= border
  const columns = right + border - left + 1
  // Of each place the way along its row to the next of the pixels.
  const along = new Float64Array(columns * (bottom - top + 1)).fill(Infinity)
  for (const at of pixels) along[(Math.floor(at / width) - top) * columns + (at % width) - left] = 0
  for (let row = 0; row <= bottom - top; row++) {
    const [first, last] = [row * columns, (row + 1) * columns - 1]
    for (let i = first + 1; i <= last; i++) along[i] = Math.min(along[i]!, along[i - 1]! + 1)
    for (let i = last - 1; i >= first; i--) along[i] = Math.min(along[i]!, along[i + 1]! + 1)
  }
  return {
    isWithin(at, reach) {
      const [x, y] = [(at % width) - left, Math.floor(at / width)]
      if (x < 0 || x >= columns) return false
      for (let row = Math.max(top, Math.ceil(y - reach)); row <= Math.min(bottom, y + reach); row++)
        if (along[(row - top) * columns + x]! ** 2 + (row - y) ** 2 <= reach ** 2) return true
      return false
    },
  }
}

/** A spot beside another rises so many times over the level at which they meet: its flank does not (judgement). */
const RISE = 1.5

/** The strongest level of a part of a spot over that where it meets the rest of it; infinite where it does not. */
function risesBy(part: readonly number[], all: ReadonlySet<number>, smooth: Float32Array, width: number): number {
  const own = new Set(part)
  const level = (at: number) => Math.abs(smooth[at]!)
  const meets = part.filter((at) => neighbours(at, width).some((next) => all.has(next) && !own.has(next)))
  return meets.length === 0 ? Infinity : Math.max(...part.map(level)) / Math.max(...meets.map(level))
}

function neighbours(at: number, width: number): number[] {
  return [-width - 1, -width, -width + 1, -1, 1, width - 1, width, width + 1].map((step) => at + step)
}

/** Pixels of a set that hang together with one of them. */
function connected(from: number, pixels: ReadonlySet<number>, width: number): number[] {
  const found = [from]
  const seen = new Set(found)
  for (let k = 0; k < found.length; k++)
    for (const next of neighbours(found[k]!, width)) {
      if (!pixels.has(next) || seen.has(next)) continue
      seen.add(next)
      found.push(next)
    }
  return found
}

/** The level of a spot's middle: of its strongest pixels, not the one that noise lifts most. */
function topOf(spot: readonly number[], smooth: Float32Array): number {
  const levels = spot.map((at) => Math.abs(smooth[at]!)).sort((a, b) => b - a)
  return mean(levels.slice(0, Math.max(2, Math.ceil(levels.length / 60))))
}

/** Over so much longer than wide it may be a scratch that was not followed as a line (judgement). */
const THIN = 4

/** A spot as the scratch that it is where it is long and thin and on the fiber; null where it is none. */
function thin(pixels: readonly number[], face: EvenFace, blur: Blur): Feature | null {
  const places = pixels.map((at) => placeAt(face, at))
  const [x, y] = [mean(places.map((one) => one.x)), mean(places.map((one) => one.y))]
  if (Math.hypot(x, y) > CLADDING_ENDS) return null
  const moment = (f: (u: number, v: number) => number) => mean(places.map((one) => f(one.x - x, one.y - y)))
  const [xx, xy, yy] = [moment((u) => u * u), moment((u, v) => u * v), moment((_, v) => v * v)]
  const angle = 0.5 * Math.atan2(2 * xy, xx - yy)
  const spread = Math.hypot((xx - yy) / 2, xy)
  const [along, across] = [(xx + yy) / 2 + spread, Math.max(0, (xx + yy) / 2 - spread)]
  // A stretch of even level is so many standard deviations long to each side.
  const half = Math.sqrt(3 * along)
  if (along < THIN ** 2 * across || 2 * half < LEAST_LENGTH) return null
  const [dx, dy] = [half * Math.cos(angle), half * Math.sin(angle)]
  const sign = Math.sign(mean(pixels.map((at) => face.contrast[at]!)))
  return scratchAt(face, blur, { ends: [x - dx, y - dy, x + dx, y + dy], sign })
}

/** Radius of the circle around a spot over that of its area: what lies on a line and is less long is no line (judgement). */
const COMPACT = 1.35

/** Size and place of a spot: what reaches half of its level, in the smallest circle, without the blur. */
function spotOf(
  spot: readonly number[],
  smooth: Float32Array,
  face: EvenFace,
  /** From seen to true size, and the standard deviation of all blur, µm. */
  { sizeOf, sigma }: { sizeOf(seen: number): number; sigma: number },
): { feature: Feature; long: number; half: number[] } {
  const top = topOf(spot, smooth)
  const half = spot.filter((at) => Math.abs(smooth[at]!) >= top / 2)
  const distances = half.map((at) => face.distance[at]!)
  const places = half.map((at) => ({ ...placeAt(face, at), r: 0 }))
  // A chip that is seen to near the glass's edge goes to it.
  const rim = places.flatMap(({ x, y }, i) =>
    isAtRim(distances[i]!, face.scale, sigma)
      ? [{ x: (x * GLASS) / distances[i]!, y: (y * GLASS) / distances[i]!, r: 0 }]
      : [],
  )
  const circle = packEnclose([...places, ...rim])
  const enclosing = circle.r + beyondPixels(circle.r / face.scale) * face.scale
  const byArea = Math.sqrt(half.length / Math.PI) * face.scale
  const long = Math.max(0, Math.min(1, (enclosing / byArea - ROUND) / (LONG - ROUND)))
  // Round: by its area, which noise hardly moves. Else by the circle around it, and what blur takes of its tips.
  const radius = byArea + (enclosing - byArea) * long
  const size = sizeOf(2 * radius) + TIPS * sigma * long
  const grown = Math.max(0, radius - size / 2)
  const feature: Feature = {
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
  return { feature, long: enclosing / byArea, half }
}

/** Radius of the glass, µm. */
const GLASS = CLADDING / 2

/** Whether a pixel is so near to the glass's edge that blur hides whether what is there goes on. @param sigma of the blur, µm */
function isAtRim(distance: number, scale: number, sigma: number): boolean {
  return distance <= GLASS && distance > GLASS - scale - sigma
}

/** Spots that are so nearly round are measured by their area, those that are so far from it by the circle around them. */
const ROUND = 1.03
const LONG = 1.1
/** What blur takes of a spot's size where it has tips, in standard deviations of it (judgement, from drawn ones). */
const TIPS = 0.6

/** How much farther a round spot reaches than the middles of its pixels, pixels: computed over discs laid at random. */
function beyondPixels(radius: number): number {
  return Math.min(0.25, 0.9 / (2 * radius + 0.2))
}

function atBorder(at: number, { width, height }: EvenFace): boolean {
  const [column, row] = [at % width, Math.floor(at / width)]
  return column === 0 || row === 0 || column === width - 1 || row === height - 1
}

import { errorFunction } from 'simple-statistics'
import { blurredDisc } from './fits.ts'

/** What a point is blurred to: a Gaussian, or a disc as by a lens out of focus. */
export type BlurShape = 'gaussian' | 'disc'

/** How much a picture is blurred. */
export interface Blur {
  shape: BlurShape
  /** Full width at half height of what a line is blurred to, µm. */
  width: number
}

/** Of a Gaussian: full width at half height over standard deviation. */
export const FULL_WIDTH = 2 * Math.sqrt(2 * Math.LN2)

/** Edges are looked up between places this close: they are asked for so often that it matters. */
const PLACES = 2048
const ENDS = 2.6

/** An edge from 0 to 1 by a table over all of it, a straight line between two places: within 2e-5 of it. */
function tabulated(edge: (x: number) => number): (x: number) => number {
  const table = Float64Array.from({ length: 2 * PLACES + 2 }, (_, i) => edge((i / PLACES - 1) * ENDS))
  return (x) => {
    if (x <= -ENDS) return 0
    if (x >= ENDS) return 1
    const at = (x / ENDS + 1) * PLACES
    const i = Math.floor(at)
    return table[i]! + (at - i) * (table[i + 1]! - table[i]!)
  }
}

/**
 * The two shapes, for a width of 1: how an edge looks (0 before it, 1 behind it), and the standard deviation along one axis.
 * A disc spreads a line to half an ellipse, √3 radii wide at half height; its standard deviation is half a radius.
 */
export const BLURS: Readonly<Record<BlurShape, { edge(x: number): number; spread: number }>> = {
  gaussian: {
    edge: tabulated((x) => 0.5 * (1 + errorFunction((x * FULL_WIDTH) / Math.SQRT2))),
    spread: 1 / FULL_WIDTH,
  },
  disc: {
    edge: tabulated((x) => {
      const at = Math.max(-1, Math.min(1, x * Math.sqrt(3)))
      return 0.5 + (at * Math.sqrt(1 - at ** 2) + Math.asin(at)) / Math.PI
    }),
    spread: 1 / (2 * Math.sqrt(3)),
  },
}

/** Standard deviation of a blur along one axis, µm. */
export function spreadOf({ shape, width }: Blur): number {
  return BLURS[shape].spread * width
}

/** True sizes of which the apparent one is computed: so many, in so large steps of the blur's standard deviation. */
const SIZES = 60
const SIZE_STEP = 0.25

/**
 * How large round spots are that are seen at some size, between half of their middle's level.
 * @param smoothing standard deviation of the Gaussian that the picture was smoothed by beside its own blur, µm
 * @returns from apparent to true diameter, µm
 */
export function withoutBlur(blur: Blur, smoothing: number): (seen: number) => number {
  const sigma = Math.hypot(spreadOf(blur), smoothing)
  const level =
    blur.shape === 'gaussian'
      ? (r: number, radius: number) => blurredDisc(r / sigma, radius / sigma)
      : (r: number, radius: number) => smoothedLens(r, radius, blur.width / Math.sqrt(3), smoothing)
  const table = Array.from({ length: SIZES }, (_, i) => {
    const size = SIZE_STEP * (i + 1) * sigma
    return { size, seen: seenSize((r) => level(r, size / 2), size / 2 + 4 * sigma) }
  })
  return (seen) => {
    if (seen <= table[0]!.seen) return table[0]!.size
    const i = table.findIndex((one) => one.seen >= seen)
    if (i < 0) return seen
    const [a, b] = [table[i - 1]!, table[i]!]
    return a.size + ((seen - a.seen) / (b.seen - a.seen)) * (b.size - a.size)
  }
}

/** Diameter at half the middle's level. @param beyond where it is surely less */
function seenSize(level: (r: number) => number, beyond: number): number {
  const half = level(0) / 2
  let [near, far] = [0, beyond]
  for (let i = 0; i < 24; i++) {
    const middle = (near + far) / 2
    if (level(middle) > half) near = middle
    else far = middle
  }
  return near + far
}

/** Gauss–Laguerre nodes and weights (Abramowitz and Stegun, table 25.9, from memory): of r²/2 of a Gaussian in a plane. */
const LAGUERRE = [
  [0.322547689619, 0.603154104342],
  [1.745761101158, 0.357418692438],
  [4.536620296921, 0.038887908515],
  [9.395070912301, 0.000539294705561],
] as const
const DIRECTIONS = Array.from({ length: 12 }, (_, k) => (2 * Math.PI * (k + 0.5)) / 12)

/** A disc blurred by a disc, then by a Gaussian, at a distance from its middle. */
function smoothedLens(r: number, radius: number, blurRadius: number, sigma: number): number {
  let sum = 0
  for (const [t, weight] of LAGUERRE) {
    const away = sigma * Math.sqrt(2 * t)
    for (const angle of DIRECTIONS)
      sum += weight * lens(Math.hypot(r + away * Math.cos(angle), away * Math.sin(angle)), radius, blurRadius)
  }
  return sum / DIRECTIONS.length
}

/** What two circles, so far apart, have in common, as part of the second one's area. */
function lens(apart: number, a: number, b: number): number {
  if (apart >= a + b) return 0
  if (apart <= Math.abs(a - b)) return Math.min(a, b) ** 2 / b ** 2
  const x = (apart ** 2 + a ** 2 - b ** 2) / (2 * apart)
  const segment = (radius: number, at: number) =>
    radius ** 2 * Math.acos(Math.max(-1, Math.min(1, at / radius))) - at * Math.sqrt(Math.max(0, radius ** 2 - at ** 2))
  return (segment(a, x) + segment(b, apart - x)) / (Math.PI * b ** 2)
}

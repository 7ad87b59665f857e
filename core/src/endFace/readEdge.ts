import { levenbergMarquardt } from 'ml-levenberg-marquardt'
import { BLURS, type BlurShape } from './picture/blur.ts'

/** Steps of the profile across the edge, on each side of it, and how long one is, in radii of the cladding. */
export const PROFILE_STEPS = 40
export const STEP = 1 / 400
/** What is tried first, in steps: widths of the blur at half height, places of the edge, widths of the adhesive. */
const WIDTHS = [2.8, 3.8, 4.7, 5.9, 7, 8.5, 10, 12, 14.5, 17.5, 21, 25, 30, 36, 43]
const PLACES = Array.from({ length: 13 }, (_, i) => 2 * (i - 6))
const ADHESIVES = [1, 2, 3, 4, 6, 8, 10, 12, 14, 16, 19, 22, 26]
/** So many of the widths that fit best, of each shape, are fitted closer. */
const CLOSER = 3

/** An edge blurred by a width: level so far behind where it was. */
type Edge = (x: number, width: number) => number

/** What is read between two pixels is blurred by this, in pixels: at a part p of the way by √(p·(1 − p)), on average √(1/6). */
const BETWEEN_PIXELS = Math.sqrt(1 / 6)
/** Gauss–Hermite nodes and weights (Abramowitz and Stegun, table 25.10, from memory). */
const HERMITE = [
  [0, 0.945308720483],
  [0.958572464614, 0.393619323152],
  [2.020182870456, 0.0199532420591],
] as const

/** An edge as pixels show it. @param sigma of the pixels, steps */
function sampled(edge: (x: number) => number, sigma: number): Edge {
  const nodes = HERMITE.flatMap(([at, weight]) =>
    (at === 0 ? [0] : [at, -at]).map((t) => ({ off: Math.SQRT2 * sigma * t, weight: weight / Math.sqrt(Math.PI) })),
  )
  return (x, width) => nodes.reduce((sum, { off, weight }) => sum + weight * edge((x + off) / width), 0)
}

/** An edge as it is fitted: blur, place of the cladding's edge, width of the adhesive, all in steps, and three levels. */
type EdgeFit = [width: number, place: number, adhesive: number, cladding: number, glue: number, ferrule: number]

/**
 * Blur, and where exactly the cladding ends: the profile across its edge is two steps (cladding, adhesive, ferrule) blurred
 * by a Gaussian or by a disc, whichever fits better; nothing is darker than black. A narrow adhesive that is much blurred
 * looks nearly like a wide one that is less: only the edges' shape tells them apart.
 * @param profile levels from inside to outside, {@link PROFILE_STEPS} on each side of where the edge is thought to be
 * @param pixel of the picture, in radii: reading between pixels takes the corners off a sharp picture's edges
 * @returns in radii: the blur's full width at half height, and by how much the edge lies farther outside
 */
export function readEdge(profile: readonly number[], pixel: number): { shape: BlurShape; width: number; off: number } {
  let best: { left: number; fit: EdgeFit; shape: BlurShape } | null = null
  for (const shape of ['gaussian', 'disc'] as const) {
    const edge = sampled(BLURS[shape].edge, (BETWEEN_PIXELS * pixel) / STEP)
    const tried = WIDTHS.flatMap((width) => bestOfWidth(profile, edge, width) ?? [])
    for (const { fit } of tried.sort((a, b) => a.left - b.left).slice(0, CLOSER)) {
      const closer = fittedCloser(profile, edge, fit)
      if (!best || closer.left < best.left) best = { ...closer, shape }
    }
  }
  // What nothing fits is as blurred as anything that is tried.
  const [width, place] = best?.fit ?? [WIDTHS.at(-1)!, 0]
  return { shape: best?.shape ?? 'gaussian', width: width * STEP, off: place * STEP }
}

function bestOfWidth(profile: readonly number[], edge: Edge, width: number): { left: number; fit: EdgeFit } | null {
  const rise = Array.from({ length: 4 * PROFILE_STEPS + 60 }, (_, i) => edge(i - 2 * PROFILE_STEPS - 30, width))
  let best: { left: number; fit: EdgeFit } | null = null
  for (const place of PLACES)
    for (const adhesive of ADHESIVES) {
      const first = PROFILE_STEPS + 30 - place
      const found = levelsOf(profile, rise, first, first - adhesive)
      if (!found || found.levels[1] < 0 || (best && found.left >= best.left)) continue
      best = { left: found.left, fit: [width, place, adhesive, ...found.levels] }
    }
  return best
}

function fittedCloser(profile: readonly number[], edge: Edge, from: EdgeFit): { left: number; fit: EdgeFit } {
  const { parameterValues, parameterError } = levenbergMarquardt(
    { x: profile.map((_, i) => i - PROFILE_STEPS), y: [...profile] },
    ([width, place, adhesive, cladding, glue, ferrule]) =>
      (x) => {
        const [a, b] = [edge(x - place!, width!), edge(x - place! - adhesive!, width!)]
        return cladding! * (1 - a) + glue! * (a - b) + ferrule! * b
      },
    {
      initialValues: from,
      minValues: [1, -20, 0.5, 0, 0, 0],
      maxValues: [50, 20, 35, 255, 255, 255],
      maxIterations: 25,
      damping: 0.1,
      gradientDifference: 0.01,
    },
  )
  return { left: parameterError, fit: parameterValues as EdgeFit }
}

/**
 * The levels of cladding, adhesive and ferrule that fit a profile best, and the sum of squares that they leave.
 * @param rise an edge blurred, from well before it to well behind it
 * @param first where the cladding ends, as what is added to a place of the profile to find it in `rise`
 * @param second where the adhesive does
 * @returns null where they can't be told apart
 */
function levelsOf(
  profile: readonly number[],
  rise: readonly number[],
  first: number,
  second: number,
): { left: number; levels: [number, number, number] } | null {
  let [aa, ab, ac, bb, bc, cc, ay, by, cy, yy] = [0, 0, 0, 0, 0, 0, 0, 0, 0, 0]
  for (let i = 0; i < profile.length; i++) {
    const [cladding, ferrule] = [rise[i + first]!, rise[i + second]!]
    const [a, b, c] = [1 - cladding, cladding - ferrule, ferrule]
    const y = profile[i]!
    aa += a * a
    ab += a * b
    ac += a * c
    bb += b * b
    bc += b * c
    cc += c * c
    ay += a * y
    by += b * y
    cy += c * y
    yy += y * y
  }
  // A little is added so that an adhesive too narrow to be seen has a level all the same.
  bb += 1e-3
  const determinant = aa * (bb * cc - bc * bc) - ab * (ab * cc - bc * ac) + ac * (ab * bc - bb * ac)
  if (Math.abs(determinant) < 1e-12) return null
  const p = (ay * (bb * cc - bc * bc) - ab * (by * cc - bc * cy) + ac * (by * bc - bb * cy)) / determinant
  const q = (aa * (by * cc - bc * cy) - ay * (ab * cc - bc * ac) + ac * (ab * cy - by * ac)) / determinant
  const r = (aa * (bb * cy - by * bc) - ab * (ab * cy - by * ac) + ay * (ab * bc - bb * ac)) / determinant
  return { left: yy - p * ay - q * by - r * cy, levels: [p, q, r] }
}

import { median } from 'simple-statistics'
import { edgesOf, likelyCenter, showsAnother } from './picture/circles.ts'
import { throughTerms } from './picture/fits.ts'
import { medianOf } from './picture/noise.ts'
import { foreignRing, whyNone } from './picture/notAFiber.ts'
import { edgesByRadius, levelAt, levelIn, radiusAt, RAYS, topsOf, WEAK_EDGE } from './picture/radialEdges.ts'
import { PROFILE_STEPS, readEdge, STEP } from './readEdge.ts'
import { CLADDING, PictureError, type FiberFound, type Outline, type Picture } from './types.ts'

/** One standard uncertainty of a cladding's diameter as part of it: anywhere within its tolerance. */
const CLADDING_SIGMA = 1 / Math.sqrt(3) / CLADDING
/** Coarser pictures don't show what the limits ask for, µm a pixel. */
export const COARSEST = 0.5
/** A picture more blurred than this is out of focus, µm: limits go down to 2 µm (judgement). */
export const MOST_BLUR = 3

/** Of these so many must show the edge, and so closely, as part of the radius (judgement). */
const LEAST_RAYS = 0.6
const MOST_ROUGH = 0.02
/** Where only so many show it, and so smoothly, dirt hides the rest (judgement). */
const HIDDEN_RAYS = 0.35
const SMOOTH = 0.004
/** An end face cut at 8° and seen straight is longer one way by 1 %; by more than so much, to each side, none is (judgement). */
const MOST_ASKEW = 0.014
/** The cladding and the far side of the adhesive round it are at most so far apart, as part of the radius (judgement). */
const ONE_RING = 0.1

/** The cladding's edge: of the outermost ring of strong edges the innermost. */
function claddingRadius(edges: readonly number[], least: number): { r: number; sign: number } | null {
  const tops = topsOf(edges, least)
  if (tops.length === 0) return null
  const strong = tops.filter(({ strength }) => Math.abs(strength) >= WEAK_EDGE * Math.abs(tops[0]!.strength))
  const outermost = Math.max(...strong.map(({ r }) => r))
  const ring = strong.filter(({ r }) => r >= outermost * (1 - ONE_RING))
  const inner = ring.reduce((a, b) => (a.r < b.r ? a : b))
  return { r: inner.r, sign: Math.sign(inner.strength) }
}

interface EdgePoint {
  angle: number
  r: number
}

/** In each direction where the level changes most, in this sense and near this radius. */
function edgePoints(picture: Picture, outline: Outline, sign: number, reach: number): EdgePoint[] {
  const step = 0.5
  const aside = 1.5 / step
  const points: EdgePoint[] = []
  const count = Math.round((2 * reach) / step) + 1
  const [levels, change] = [new Float64Array(count + 2 * aside), new Float64Array(count)]
  for (let k = 0; k < RAYS; k++) {
    const angle = (2 * Math.PI * k) / RAYS
    const [cos, sin] = [Math.cos(angle), Math.sin(angle)]
    const middle = radiusAt(outline, angle)
    const at = (i: number) => middle - reach + i * step
    const outermost = at(count - 1 + aside)
    if (Number.isNaN(levelIn(picture, outline.x + outermost * cos, outline.y + outermost * sin))) continue
    for (let i = 0; i < count + 2 * aside; i++)
      levels[i] = levelAt(picture, outline.x + at(i - aside) * cos, outline.y + at(i - aside) * sin)
    for (let i = 0; i < count; i++) change[i] = sign * (levels[i + 2 * aside]! - levels[i]!)
    let best = 1
    for (let i = 1; i < count - 1; i++) if (change[i]! > change[best]!) best = i
    const [before, here, after] = [change[best - 1]!, change[best]!, change[best + 1]!]
    if (here <= 0) continue
    // The top of the parabola through three values.
    const bend = before - 2 * here + after
    const off = bend < 0 ? Math.max(-1, Math.min(1, (before - after) / (2 * bend))) : 0
    points.push({ angle, r: at(best) + off * step })
  }
  return points
}

interface OutlineFit {
  outline: Outline
  /** Points that lie on it, as part of all directions. */
  share: number
  /** Root mean square distance of those from it, pixels. */
  rough: number
}

/**
 * An ellipse through edge points, by least squares on r(θ) = r₀ + x·cos θ + y·sin θ + a·cos 2θ + b·sin 2θ (its Fourier
 * series to the second order, for a small offset and little tilt); points that lie off are left out, step by step.
 */
export function fitOutline(points: readonly EdgePoint[], from: Pick<Outline, 'x' | 'y'>): OutlineFit | null {
  let used = [...points]
  for (let round = 0; round < 8; round++) {
    if (used.length < 12) return null
    const rows = used.map(({ angle }) => [
      1,
      Math.cos(angle),
      Math.sin(angle),
      Math.cos(2 * angle),
      Math.sin(2 * angle),
    ])
    const [radius, x, y, a, b] = throughTerms(
      rows,
      used.map(({ r }) => r),
    ) as [number, number, number, number, number]
    const offOf = ({ angle, r }: EdgePoint) =>
      r - (radius + x * Math.cos(angle) + y * Math.sin(angle) + a * Math.cos(2 * angle) + b * Math.sin(2 * angle))
    const spread = 1.4826 * median(used.map((point) => Math.abs(offOf(point))))
    const kept = points.filter((point) => Math.abs(offOf(point)) <= Math.max(0.25, 3 * spread))
    const same = kept.length === used.length && kept.every((point, i) => point === used[i])
    if (same || round === 7) {
      const rough = Math.sqrt(used.reduce((sum, point) => sum + offOf(point) ** 2, 0) / used.length)
      return { outline: { x: from.x + x, y: from.y + y, radius, a, b }, share: used.length / RAYS, rough }
    }
    used = kept
  }
  return null
}

/** Of all directions so many must step the same way across the edge: in mere noise it is half of them (judgement). */
const SAME_WAY = 0.8

/** Whether the level really steps at an outline: nearly all round, one way. */
function isStep(picture: Picture, outline: Outline): boolean {
  const beside = Math.max(2, 0.03 * outline.radius)
  const steps = Array.from({ length: RAYS }, (_, k) => {
    const angle = (2 * Math.PI * k) / RAYS
    const level = (r: number) => levelAt(picture, outline.x + r * Math.cos(angle), outline.y + r * Math.sin(angle))
    const r = radiusAt(outline, angle)
    return level(r) - level(r - beside)
  })
  const up = steps.filter((step) => step > 0).length
  return Math.max(up, RAYS - up) >= SAME_WAY * RAYS && Math.abs(median(steps)) >= 1
}

/** The level across the outline, inside to outside, in steps of {@link STEP} radii: the median of all directions. */
function edgeProfile(picture: Picture, outline: Outline): number[] {
  const levels = new Float64Array(RAYS)
  return Array.from({ length: 2 * PROFILE_STEPS + 1 }, (_, i) => {
    for (let k = 0; k < RAYS; k++) {
      const angle = (2 * Math.PI * k) / RAYS
      const r = radiusAt(outline, angle) + (i - PROFILE_STEPS) * STEP * outline.radius
      levels[k] = levelAt(picture, outline.x + r * Math.cos(angle), outline.y + r * Math.sin(angle))
    }
    return medianOf(levels)
  })
}

/** Circles of fewer pixels are none, and so many edges are followed. */
const LEAST_RADIUS = 20
const CANDIDATES = 8

/** An outline followed closer and closer from a circle that may be it; null where it turns out to be none. */
function followed(picture: Picture, circle: Outline, way: number): OutlineFit | null {
  let [outline, sign] = [circle, way]
  for (const part of [0.12, 0.06, 0.04, 0.03]) {
    const near = fitOutline(edgePoints(picture, outline, sign, Math.max(4, part * outline.radius)), outline)
    if (!near) return null
    outline = near.outline
    // Seen from the right middle its edges are sharp: which of them is the cladding's is asked again.
    const again = claddingRadius(
      edgesByRadius(picture, outline, 0.68 * outline.radius, 1.35 * outline.radius),
      0.7 * outline.radius,
    )
    if (again) {
      const factor = again.r / outline.radius
      if (Math.abs(factor - 1) > 0.015)
        outline = { ...outline, radius: again.r, a: outline.a * factor, b: outline.b * factor }
      sign = again.sign
    }
  }
  const fit = fitOutline(edgePoints(picture, outline, sign, Math.max(4, 0.03 * outline.radius)), outline)
  return fit && fit.rough <= MOST_ROUGH * fit.outline.radius ? fit : null
}

/**
 * Finds the fiber's cladding in a picture; scale and blur come from it.
 * @param picture gray, of any size above some pixels
 * @throws PictureError where there is no whole fiber, it is out of focus, or too coarse
 */
export function findFiber(picture: Picture): FiberFound {
  const { width, height } = picture
  const edgesSeen = edgesOf(picture)
  const center = likelyCenter(edgesSeen)
  if (!center || Math.min(width, height) < 60)
    throw new PictureError('No fiber is found in the picture: it has hardly any pixels.')
  const start: Outline = { ...center, radius: 1, a: 0, b: 0 }
  const most = Math.hypot(Math.max(start.x, width - start.x), Math.max(start.y, height - start.y))
  // From the middle that was guessed edges look smeared, and noise may look like one: the likeliest first, then from outside.
  const edges = edgesByRadius(picture, start, LEAST_RADIUS - 2, most)
  const strongest = topsOf(edges, LEAST_RADIUS).slice(0, CANDIDATES)
  const likeliest = claddingRadius(edges, LEAST_RADIUS)
  const candidates = [
    ...(likeliest ? [likeliest] : []),
    ...strongest.sort((a, b) => b.r - a.r).map(({ r, strength }) => ({ r, sign: Math.sign(strength) })),
  ]
  let found: OutlineFit | null = null
  let hidden = 0
  for (const candidate of candidates) {
    const fit = followed(picture, { ...start, radius: candidate.r }, candidate.sign)
    if (!fit) continue
    found = fit.share >= LEAST_RAYS && isStep(picture, fit.outline) ? fit : null
    if (found) break
    if (fit.share >= HIDDEN_RAYS && fit.rough <= SMOOTH * fit.outline.radius) hidden = Math.max(hidden, 1 - fit.share)
  }
  if (!found) throw new PictureError(whyNone(picture, center, hidden))
  let { outline } = found
  const reach = outline.radius + Math.hypot(outline.a, outline.b)
  if (outline.x < reach || outline.y < reach || outline.x > width - reach || outline.y > height - reach)
    throw new PictureError('The fiber is not whole in the picture: move it to the middle.')
  const askew = Math.hypot(outline.a, outline.b) / outline.radius
  if (askew > MOST_ASKEW)
    throw new PictureError(
      `The picture is smeared, or taken askew: the fiber looks ${Math.round(200 * askew)} % longer one way than across. Hold still, and take it again.`,
    )
  if (showsAnother(edgesSeen, outline))
    throw new PictureError(
      'The picture shows more than one fiber: show one by itself, of a ribbon or a plug of many each in turn.',
    )
  const ring = foreignRing(picture, outline)
  if (ring?.isLine)
    throw new PictureError(
      'Circles are drawn into the picture, and hide what is under them: take it as the microscope sees it.',
    )
  if (ring)
    throw new PictureError(
      `This is no fiber by itself: it has a round edge at ${Math.round(100 * ring.part)} % of its radius, where no fiber has one. A connector’s front looks so: take the picture with more magnification.`,
    )
  const edge = readEdge(edgeProfile(picture, outline), 1 / outline.radius)
  outline = { ...outline, radius: outline.radius * (1 + edge.off) }
  const scale = CLADDING / 2 / outline.radius
  if (scale > COARSEST)
    throw new PictureError(
      `The picture is too coarse: ${scale.toFixed(2)} µm a pixel, at most ${COARSEST} µm. Take it with more magnification.`,
    )
  const blur = { shape: edge.shape, width: (edge.width * CLADDING) / 2 }
  if (blur.width > MOST_BLUR)
    throw new PictureError(
      `The picture is out of focus: points are blurred to ${blur.width.toFixed(1)} µm. Focus, and take it again.`,
    )
  return { outline, scale, scaleSigma: scale * CLADDING_SIGMA, blur }
}

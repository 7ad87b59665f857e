import { medianOf } from './noise.ts'
import { edgesByRadius, levelIn, radiusAt, RAYS, topsOf, WEAK_EDGE } from './radialEdges.ts'
import { CLADDING, type Outline, type Picture } from '../types.ts'

/** Levels of 255 at which a picture is white or black, and by how few it may differ all over and be empty (judgement). */
const WHITE = 250
const BLACK = 12
const EMPTY = 6
/** A circle that the border cuts off must show so much of itself, and rise the same way in so many directions (judgement). */
const LEAST_SHOWN = 0.3
const SAME_WAY = 0.9
/** It must step by so many levels. */
const LEAST_STEP = 6
/** Round edges that a fiber may have, µm from its center: of a single-mode core, of cores of 50 and 62.5 µm, and its own, which may be blurred. */
const OWN_EDGES = [
  [0, 8],
  [22, 35],
  [48, CLADDING],
] as const
/** A line that is drawn has the level beyond it again within so many pixels. */
const LINE = 6

/**
 * Why no fiber is found in a picture, in a sentence that says what to do.
 * @param center where one was looked for
 * @param hidden so much of an edge is not seen, of which the rest is; 0: of none
 */
export function whyNone(picture: Picture, center: { x: number; y: number }, hidden: number): string {
  const some = Float64Array.from(
    { length: 4000 },
    (_, i) => picture.data[Math.floor((i / 4000) * picture.data.length)]!,
  )
  some.sort()
  const part = (share: number) => some[Math.floor(share * some.length)]!
  if (part(0.5) > WHITE)
    return 'The picture is overexposed: most of it is white. Give it less light, and take it again.'
  if (part(0.95) < BLACK) return 'The picture is black: switch on the light, and take it again.'
  if (part(0.99) - part(0.01) < EMPTY) return 'The picture is empty: nothing stands out in it.'
  if (isCutOff(picture, center)) return 'The fiber is not whole in the picture: move it to the middle.'
  if (hidden > 0)
    return `The end face is too dirty to be graded: ${Math.round(100 * hidden)} % of the fiber’s edge is hidden. Clean it, and look again.`
  return 'No fiber is found in the picture: its edge is not seen all round.'
}

/** Whether round this middle a circle is seen that the picture's border cuts off. */
function isCutOff(picture: Picture, { x, y }: { x: number; y: number }): boolean {
  const { width, height } = picture
  const round: Outline = { x, y, radius: 1, a: 0, b: 0 }
  const nearest = Math.min(x, y, width - x, height - y)
  const edges = edgesByRadius(picture, round, 20, Math.max(width, height) / 2, LEAST_SHOWN)
  return topsOf(edges, 20)
    .slice(0, 4)
    .some(({ r, strength }) => {
      if (r < nearest) return false
      const { shown, up, middle } = stepsAt(picture, { ...round, radius: r }, Math.max(3, 0.05 * r))
      return (
        shown >= LEAST_SHOWN * RAYS &&
        Math.max(up, shown - up) >= SAME_WAY * shown &&
        Math.abs(middle) >= LEAST_STEP &&
        Math.sign(middle) === Math.sign(strength)
      )
    })
}

/** How the level steps at an outline, from inside to outside, in the directions that the picture shows. */
function stepsAt(picture: Picture, outline: Outline, beside: number): { shown: number; up: number; middle: number } {
  const steps = new Float64Array(RAYS)
  let [shown, up] = [0, 0]
  for (let k = 0; k < RAYS; k++) {
    const angle = (2 * Math.PI * k) / RAYS
    const [cos, sin] = [Math.cos(angle), Math.sin(angle)]
    const level = (r: number) => levelIn(picture, outline.x + r * cos, outline.y + r * sin)
    const r = radiusAt(outline, angle)
    const step = level(r + beside) - level(r - beside)
    if (Number.isNaN(step)) continue
    steps[shown++] = step
    if (step > 0) up++
  }
  return { shown, up, middle: shown === 0 ? 0 : medianOf(steps.subarray(0, shown)) }
}

/**
 * A round edge about a fiber's center that no fiber has, as strong as its own: what was found is something else.
 * @returns its radius as part of the outline's, and whether it is a mere line, as drawn, with the same level on both sides;
 * null where there is none
 */
export function foreignRing(picture: Picture, outline: Outline): { part: number; isLine: boolean } | null {
  const edges = edgesByRadius(picture, outline, 2, 1.05 * outline.radius)
  const own = Math.max(...edges.slice(Math.floor(0.95 * outline.radius)).map(Math.abs))
  for (const { r, strength } of topsOf(edges, 2)) {
    const at = (r / outline.radius) * (CLADDING / 2)
    if (OWN_EDGES.some(([from, to]) => at >= from && at <= to)) continue
    if (Math.abs(strength) < Math.max(LEAST_STEP, WEAK_EDGE * own)) continue
    const factor = r / outline.radius
    const circle = { ...outline, radius: r, a: outline.a * factor, b: outline.b * factor }
    const { shown, up, middle } = stepsAt(picture, circle, 2)
    if (Math.max(up, shown - up) < SAME_WAY * shown) continue
    const beyond = stepsAt(picture, circle, LINE).middle
    return { part: factor, isLine: Math.abs(beyond) < Math.abs(middle) / 3 }
  }
  return null
}

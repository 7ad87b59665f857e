import { CLADDING, type FiberFound, type Picture } from '../types.ts'
import { levelIn, radiusAt } from './radialEdges.ts'
import { FARTHEST, type RingLight } from './rings.ts'

/** The adhesive reaches to here, µm from the center (IEC 61300-3-35: its zone is 120 to 130 µm across). */
export const ADHESIVE_ENDS = 65
/** Where its edge is ragged, it reaches so far at most (judgement): what goes on beyond that is dirt. */
export const RAGGED_ENDS = 71
/** Directions in which it is followed, rays in each, and steps along them, µm. */
const DIRECTIONS = 120
const RAYS = 3
const STEP = 0.4
/** What differs by less from the ferrule is no adhesive (judgement). */
const LEAST = 0.05

/**
 * How far the adhesive reaches in each direction, by where its level ends that it has beside the cladding.
 * @returns from a direction, radians, to µm from the center: {@link ADHESIVE_ENDS} or more
 */
export function adhesiveReach(picture: Picture, fiber: FiberFound, light: RingLight): (angle: number) => number {
  const { outline, scale } = fiber
  const ferrule = light.middleOf(RAGGED_ENDS, (RAGGED_ENDS + FARTHEST) / 2)
  const levelAt = (angle: number, r: number) => {
    let [sum, count] = [0, 0]
    for (let k = 0; k < RAYS; k++) {
      const ray = angle + ((k - (RAYS - 1) / 2) * 2 * Math.PI) / DIRECTIONS / RAYS
      const pixels = (r / scale / outline.radius) * radiusAt(outline, ray)
      const [x, y] = [outline.x + pixels * Math.cos(ray), outline.y + pixels * Math.sin(ray)]
      const level = levelIn(picture, x, y)
      if (Number.isNaN(level)) continue
      sum += level / light.sideAt(x, y)
      count++
    }
    return count === 0 ? NaN : sum / count / ferrule - 1
  }
  const ends = Array.from({ length: DIRECTIONS }, (_, direction) => {
    const angle = (2 * Math.PI * direction) / DIRECTIONS
    let most = 0
    for (let r = CLADDING / 2 + 1; r <= ADHESIVE_ENDS; r += STEP) {
      const level = levelAt(angle, r)
      if (Math.abs(level) > Math.abs(most)) most = level
    }
    if (Math.abs(most) < LEAST) return ADHESIVE_ENDS
    for (let r = ADHESIVE_ENDS; r <= RAGGED_ENDS; r += STEP) if (levelAt(angle, r) / most < 0.5) return r
    return ADHESIVE_ENDS
  })
  return (angle) => {
    const at = (((angle / (2 * Math.PI)) % 1) + 1) * DIRECTIONS
    const end = (k: number) => ends[k % DIRECTIONS]!
    const [before, after] = [Math.floor(at), Math.ceil(at)]
    return Math.max(end(before), end(after))
  }
}

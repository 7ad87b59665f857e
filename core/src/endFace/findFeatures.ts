import { CLADDING_ENDS, evenOut, FARTHEST, FERRULE_BEGINS, partOf } from './evenFace.ts'
import { spreadOf } from './blur.ts'
import { findDefects } from './findDefects.ts'
import { findScratches } from './findScratches.ts'
import type { Feature, FiberFound, Picture } from './types.ts'

/** On the ferrule only what is large matters: it is smoothed over so much, and pixels of about this are enough, µm. */
const FERRULE_SMOOTHING = 1.2
const FERRULE_GRID = 0.6

/** Everything on the end face that is not round its center: scratches on the fiber, defects on fiber and ferrule. */
export function findFeatures(picture: Picture, fiber: FiberFound): Feature[] {
  const face = evenOut(picture, fiber)
  const scratches = findScratches(face, fiber.blur)
  const smoothing = Math.min(0.8, Math.max(0.8 * spreadOf(fiber.blur), fiber.scale))
  const ferrule = partOf(face, FARTHEST, Math.max(1, Math.round(FERRULE_GRID / face.scale)))
  return [
    ...scratches,
    ...findDefects(partOf(face, CLADDING_ENDS, 1), fiber.blur, smoothing, (r) => r <= CLADDING_ENDS, scratches),
    ...findDefects(ferrule, fiber.blur, FERRULE_SMOOTHING, (r) => r > FERRULE_BEGINS && r <= FARTHEST, scratches),
  ]
}

import { CLADDING_ENDS, evenOut, FARTHEST, FERRULE_BEGINS, partOf, type CoreKind } from './evenFace.ts'
import { spreadOf } from './blur.ts'
import { findDefects } from './findDefects.ts'
import { findScratches } from './findScratches.ts'
import type { Feature, FiberFound, Picture } from './types.ts'

/** On the ferrule only what is large matters: it is smoothed over so much, and pixels of about this are enough, µm. */
const FERRULE_SMOOTHING = 1.2
const FERRULE_GRID = 0.6

/** Everything on the end face that is not round its center: scratches on the fiber, defects on fiber and ferrule. */
export function findFeatures(picture: Picture, fiber: FiberFound, core: CoreKind = 'single-mode'): Feature[] {
  const face = evenOut(picture, fiber, core)
  const lines = findScratches(face, fiber.blur)
  const smoothing = Math.min(0.8, Math.max(0.8 * spreadOf(fiber.blur), fiber.scale))
  const ferrule = partOf(face, FARTHEST, Math.max(1, Math.round(FERRULE_GRID / face.scale)))
  const onFiber = findDefects(partOf(face, CLADDING_ENDS, 1), fiber.blur, smoothing, (r) => r <= CLADDING_ENDS, lines)
  // Dirt that is long enough looks like a line too: what is mostly one compact spot is that.
  const scratches = lines.filter((line) => !onFiber.some((spot) => covers(spot, line, fiber.blur.width)))
  return [
    ...scratches,
    ...onFiber,
    ...findDefects(ferrule, fiber.blur, FERRULE_SMOOTHING, (r) => r > FERRULE_BEGINS && r <= FARTHEST, scratches),
  ]
}

/** Whether a spot covers at least half of a line. */
function covers(spot: Feature, { ends }: Feature, blur: number): boolean {
  const [x1, y1, x2, y2] = ends!
  const steps = 40
  const reach = (spot.size + blur) / 2
  const covered = Array.from({ length: steps }, (_, i) => (i + 0.5) / steps).filter(
    (t) => Math.hypot(x1 + t * (x2 - x1) - spot.x, y1 + t * (y2 - y1) - spot.y) <= reach,
  )
  return covered.length >= steps / 2
}

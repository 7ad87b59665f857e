import { CLADDING_ENDS, evenOut, FARTHEST, FERRULE_BEGINS, partOf, type EvenFace } from './picture/evenFace.ts'
import { spreadOf } from './picture/blur.ts'
import type { CoreKind } from './picture/coreLight.ts'
import { findDefects, noiseByDistance, standingOut } from './findDefects.ts'
import { findScratches, scratchAt } from './findScratches.ts'
import { findShapes, type Shapes } from './findShapes.ts'
import { addPiece, withoutEchoes } from './picture/pieces.ts'
import type { Feature, FiberFound, Picture } from './types.ts'

/** On the ferrule only what is large matters: it is smoothed over so much, and pixels of about this are enough, µm. */
const FERRULE_SMOOTHING = 1.2
const FERRULE_GRID = 0.6

/** Everything on the end face that is not round its center: scratches on the fiber, defects on fiber and ferrule. */
export function findFeatures(picture: Picture, fiber: FiberFound, core: CoreKind = 'single-mode'): Feature[] {
  let face = evenOut(picture, fiber, core)
  let found = withoutEchoes(findScratches(face, fiber.blur))
  // A scratch over a small core covers so much of it that its light is told anew without the scratch.
  const over = core === 'single-mode' ? found.filter(({ inner }) => inner < face.core) : []
  if (over.length > 0) {
    face = evenOut(picture, fiber, core, over)
    found = withoutEchoes(findScratches(face, fiber.blur))
  }
  const smoothing = Math.min(0.8, Math.max(0.8 * spreadOf(fiber.blur), fiber.scale))
  const ferrule = partOf(face, FARTHEST, Math.max(1, Math.round(FERRULE_GRID / face.scale)))
  const isOnFiber = (r: number) => r <= CLADDING_ENDS
  const part = partOf(face, CLADDING_ENDS, 1)
  const smooth = standingOut(part, smoothing)
  const lag = Math.max(2, Math.round((2.5 * smoothing) / part.scale))
  const noiseAt = noiseByDistance(smooth, part.distance, (at) => isOnFiber(part.distance[at]!), lag)
  const shapes = findShapes(part, fiber.blur, smooth, noiseAt)
  const lines = found.filter((line) => !isOfShape(line, shapes))
  const onFiber = findDefects(part, fiber.blur, smoothing, isOnFiber, lines).filter((one) => !isOfShape(one, shapes))
  const spots = onFiber.filter(({ kind }) => kind === 'defect')
  for (const one of onFiber) if (one.kind === 'scratch') addPiece(lines, one)
  // Dirt that is long enough, or lies in a row, looks like a line too: a scratch is there without its compact spots as well.
  const bare = withoutSpots(face, spots, fiber.blur.width)
  const scratches = withoutEchoes(lines).filter(
    (line) => scratchAt(bare, fiber.blur, { ends: line.ends!, sign: Math.sign(line.contrast) }) !== null,
  )
  return [
    ...scratches,
    ...shapes.features,
    ...spots,
    ...findDefects(ferrule, fiber.blur, FERRULE_SMOOTHING, (r) => r > FERRULE_BEGINS && r <= FARTHEST, scratches),
  ]
}

/** A spot that lies on a shape, or a line most of which does, is part of it. */
function isOfShape({ ends, x, y }: Feature, shapes: Shapes): boolean {
  if (!ends) return shapes.holds(x, y)
  const [x1, y1, x2, y2] = ends
  const places = Array.from({ length: 20 }, (_, i) => (i + 0.5) / 20)
  return places.filter((t) => shapes.holds(x1 + t * (x2 - x1), y1 + t * (y2 - y1))).length > places.length / 2
}

/** The face with nothing where spots are, and what is blurred beside them. */
function withoutSpots(face: EvenFace, spots: readonly Feature[], blur: number): EvenFace {
  const contrast = face.contrast.slice()
  for (const { x, y, size } of spots) {
    const reach = (size / 2 + 0.6 * blur) / face.scale
    const [column, row] = [face.x + x / face.scale, face.y + y / face.scale]
    for (let v = Math.max(0, Math.floor(row - reach)); v <= Math.min(face.height - 1, row + reach); v++)
      for (let u = Math.max(0, Math.floor(column - reach)); u <= Math.min(face.width - 1, column + reach); u++)
        if (Math.hypot(u - column, v - row) <= reach) contrast[v * face.width + u] = NaN
  }
  return { ...face, contrast }
}

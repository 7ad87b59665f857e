import { CLADDING_ENDS, evenOut, FARTHEST, FERRULE_BEGINS, partOf, type EvenFace } from './picture/evenFace.ts'
import { spreadOf } from './picture/blur.ts'
import type { CoreKind } from './picture/coreLight.ts'
import { findDefects, noiseByDistance, standingOut } from './findDefects.ts'
import { CLADDING } from './findFiber.ts'
import { findScratches, scratchAt } from './findScratches.ts'
import { findShapes, type Shapes } from './findShapes.ts'
import { addPiece, withoutEchoes } from './picture/pieces.ts'
import type { Feature, FiberFound, Picture } from './types.ts'

/** The adhesive reaches to here at most, µm (IEC 61300-3-35: its zone is 120 to 130 µm across). */
const ADHESIVE_ENDS = 65
/** On the ferrule only what is large matters: it is smoothed over so much, and pixels of about this are enough, µm. */
const FERRULE_SMOOTHING = 1.2
const FERRULE_GRID = 0.6

/** Everything on the end face that is not round its center: scratches on the fiber, defects on fiber and ferrule. */
export function findFeatures(picture: Picture, fiber: FiberFound, core: CoreKind = 'single-mode'): Feature[] {
  const smoothing = Math.min(0.8, Math.max(0.8 * spreadOf(fiber.blur), fiber.scale))
  let seen = shapesAndLines(picture, fiber, core, smoothing)
  // A scratch over a small core covers so much of it that its light is told anew without the scratch.
  const over = core === 'single-mode' ? seen.lines.filter(({ inner }) => inner < seen.face.core) : []
  if (over.length > 0) seen = shapesAndLines(picture, fiber, core, smoothing, over)
  const { face, part, shapes, lines } = seen
  const onFiber = findDefects(part, fiber.blur, smoothing, isOnFiber, lines).filter((one) => !isOfShape(one, shapes))
  const spots = onFiber.filter(({ kind }) => kind === 'defect')
  for (const one of onFiber) if (one.kind === 'scratch') addPiece(lines, one)
  // Dirt that is long enough, or lies in a row, looks like a line too: a scratch is there without its compact spots as well.
  const bare = withoutSpots(face, spots, fiber.blur.width)
  const scratches = withoutEchoes(lines).filter(
    (line) =>
      // What runs along the cladding's edge, nowhere farther in, is its flank.
      line.inner < CLADDING_ENDS - FLANK &&
      scratchAt(bare, fiber.blur, { ends: line.ends!, sign: Math.sign(line.contrast) }) !== null,
  )
  // The adhesive's edge, which may reach to where the contact zone begins, is no defect of it, nor what is blurred beside it.
  const nearest = Math.max(FERRULE_BEGINS, ADHESIVE_ENDS + 0.8 * fiber.blur.width)
  const coarser = partOf(face, FARTHEST, Math.max(1, Math.round(FERRULE_GRID / face.scale)))
  const ferrule = within(nearest, FARTHEST, coarser)
  return [
    ...scratches,
    ...shapes.features,
    ...spots,
    ...findDefects(ferrule, fiber.blur, FERRULE_SMOOTHING, (r) => r > nearest && r <= FARTHEST, scratches),
  ]
}

/** A face with nothing nearer to its center than one distance, or farther than another, µm. */
function within(from: number, to: number, face: EvenFace): EvenFace {
  const { contrast, distance } = face
  return { ...face, contrast: contrast.map((value, at) => (distance[at]! < from || distance[at]! > to ? NaN : value)) }
}

function isOnFiber(r: number): boolean {
  return r <= CLADDING_ENDS
}

/** So near to the edge of the cladding that is looked at its own flank shows, µm (judgement). */
const FLANK = 2.5
/** Noise of the smoothed face is told by pixels so many smoothings apart: what is large does not widen it. */
const LAG = 2.5

/** The face evened out, and on the fiber what is neither spot nor straight line, and straight lines beside it. */
function shapesAndLines(
  picture: Picture,
  fiber: FiberFound,
  core: CoreKind,
  smoothing: number,
  scratches: readonly Feature[] = [],
): { face: EvenFace; part: EvenFace; shapes: Shapes; lines: Feature[] } {
  const face = evenOut(picture, fiber, core, scratches)
  // Near its edge glass is blurred with what is beyond it.
  const glassEnds = Math.max(CLADDING_ENDS, CLADDING / 2 - 0.6 * fiber.blur.width)
  const part = within(0, glassEnds, partOf(face, CLADDING_ENDS, 1))
  const smooth = standingOut(part, smoothing)
  const lag = Math.max(2, Math.round((LAG * smoothing) / part.scale))
  const noiseAt = noiseByDistance(smooth, part.distance, (at) => isOnFiber(part.distance[at]!), lag)
  const shapes = findShapes(part, fiber.blur, { smooth, smoothing, noiseAt })
  const lines = withoutEchoes(findScratches(face, fiber.blur)).filter((line) => !isOfShape(line, shapes))
  return { face, part, shapes, lines }
}

/** Circles that differ by less than this, as part of one, are around the same (judgement). */
const AGAIN = 0.25

/** A spot that lies on a shape, or a line most of which does, is part of it. */
function isOfShape({ ends, x, y, size }: Feature, shapes: Shapes): boolean {
  // A ring that was taken for a spot as well has the same circle around it.
  const isAgain = (shape: Feature) =>
    Math.hypot(shape.x - x, shape.y - y) + Math.abs(shape.size - size) / 2 < AGAIN * shape.size
  if (!ends) return shapes.holds(x, y) || shapes.features.some(isAgain)
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

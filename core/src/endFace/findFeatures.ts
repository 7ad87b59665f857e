import { evenOut, partOf, type EvenEndFace, type EvenFace } from './picture/evenFace.ts'
import { spreadOf } from './picture/blur.ts'
import type { CoreKind } from './picture/coreLight.ts'
import { findDefects, STRONG } from './findDefects.ts'
import { findScratches, scratchAt } from './findScratches.ts'
import { findShapes, type Shapes } from './findShapes.ts'
import { LEAST_CONTRAST } from './picture/noise.ts'
import { addPiece, withoutEchoes } from './picture/pieces.ts'
import { CLADDING_ENDS, FARTHEST, FERRULE_BEGINS } from './picture/rings.ts'
import { noiseByDistance, standingOut, type Standing } from './picture/standing.ts'
import { CLADDING, PictureError, type Feature, type FiberFound, type OnStep, type Picture } from './types.ts'

/** On the ferrule only what is large matters: it is smoothed over so much, and pixels of about this are enough, µm. */
const FERRULE_SMOOTHING = 1.2
const FERRULE_GRID = 0.6
/** Where only half of what is smoothed is known noise is larger: nothing begins there, µm from the center. */
const SEEN_TO = FARTHEST - 2 * FERRULE_SMOOTHING

/** Of 255 levels: where the glass is darker one level is more than what is looked for, where it is lighter it may be cut off. */
const DARKEST = Math.ceil(1 / LEAST_CONTRAST)
const LIGHTEST = 250
/** Grain that hides what stands out by less than this hides dirt (judgement). */
const MOST_HIDDEN = 0.25

/**
 * Everything on the end face that is not round its center: scratches on the fiber, defects on fiber and ferrule.
 * @throws PictureError where the picture is too dark, too light or too grainy to show them
 */
export function findFeatures(
  picture: Picture,
  fiber: FiberFound,
  core: CoreKind = 'single-mode',
  onStep?: OnStep,
): Feature[] {
  onStep?.('Evening out the light')
  const even = evenOut(picture, fiber, core)
  const { blur } = fiber
  if (even.glass < DARKEST)
    throw new PictureError(
      `The picture is too dark: the fiber shows at ${Math.round(even.glass)} of 255 levels. Give it more light, and take it again.`,
    )
  if (even.glass > LIGHTEST)
    throw new PictureError('The picture is overexposed: the fiber is white. Give it less light, and take it again.')
  onStep?.('Looking for scratches')
  let seen = shapesAndLines(even, fiber)
  // A scratch over a small core covers so much of it that its light is told anew without the scratch.
  const over = core === 'single-mode' ? seen.lines.filter(({ inner }) => inner < seen.face.core) : []
  if (over.length > 0) seen = shapesAndLines(even, fiber, over)
  onStep?.('Looking for dirt')
  const { face, standing, shapes, lines } = seen
  const onFiber = findDefects(standing, blur, isOnFiber, lines).filter((one) => !isOfShape(one, shapes))
  const spots = onFiber.filter(({ kind }) => kind === 'defect')
  for (const one of onFiber) if (one.kind === 'scratch') addPiece(lines, one)
  // Dirt that is long enough, or lies in a row, looks like a line too: a scratch is there without its compact spots as well.
  const bare = withoutSpots(face, spots, blur.width)
  const scratches = withoutEchoes(lines).filter(
    (line) =>
      // What runs along the cladding's edge, nowhere farther in, is its flank.
      line.inner < CLADDING_ENDS - FLANK &&
      scratchAt(bare, blur, { ends: line.ends!, sign: Math.sign(line.contrast) }) !== null,
  )
  const ferrule = standingOut(even.ferrule(FERRULE_GRID), blur, FERRULE_SMOOTHING)
  return [
    ...scratches,
    ...shapes.features,
    ...spots,
    ...findDefects(ferrule, blur, (r) => r >= FERRULE_BEGINS && r <= SEEN_TO, scratches),
  ]
}

function isOnFiber(r: number): boolean {
  return r <= CLADDING_ENDS
}

/** So near to the edge of the cladding that is looked at its own flank shows, µm (judgement). */
const FLANK = 2.5
/** Noise of the smoothed face is told by pixels so many smoothings apart: what is large does not widen it. */
const LAG = 2.5
/** Grain is told halfway to the edge of the cladding, µm from the center. */
const MIDDLE = 31

/** The fiber evened out, and on it what is neither spot nor straight line, and straight lines beside it. */
function shapesAndLines(
  even: EvenEndFace,
  { blur, scale }: FiberFound,
  scratches: readonly Feature[] = [],
): { face: EvenFace; standing: Standing; shapes: Shapes; lines: Feature[] } {
  const face = even.fiber(scratches)
  // Near its edge glass is blurred with what is beyond it.
  const glassEnds = Math.max(CLADDING_ENDS, CLADDING / 2 - 0.3 * blur.width)
  const smoothing = Math.min(0.8, Math.max(0.8 * spreadOf(blur), scale))
  const standing = standingOut(upTo(glassEnds, partOf(face, CLADDING_ENDS, 1)), blur, smoothing)
  const lag = Math.max(2, Math.round((LAG * smoothing) / scale))
  const { distance } = standing.face
  const noiseAt = noiseByDistance(standing.smooth, distance, (at) => isOnFiber(distance[at]!), lag)
  const hidden = STRONG * noiseAt(distance.findIndex((r) => r > MIDDLE && r < MIDDLE + 1))
  if (hidden > MOST_HIDDEN)
    throw new PictureError(
      `The picture is too grainy: what stands out by less than ${Math.round(100 * hidden)} % is hidden. Give it more light, and take it again.`,
    )
  const shapes = findShapes(standing, blur, noiseAt)
  const lines = withoutEchoes(findScratches(face, blur)).filter((line) => !isOfShape(line, shapes))
  return { face, standing, shapes, lines }
}

/** A face with nothing farther from its center than this, µm. */
function upTo(most: number, face: EvenFace): EvenFace {
  const { contrast, distance } = face
  return { ...face, contrast: contrast.map((value, at) => (distance[at]! > most ? NaN : value)) }
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

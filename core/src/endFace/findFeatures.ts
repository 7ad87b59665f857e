import {
  CLADDING_ENDS,
  evenOut,
  FARTHEST,
  FERRULE_BEGINS,
  partOf,
  type CoreKind,
  type EvenFace,
} from './picture/evenFace.ts'
import { spreadOf } from './picture/blur.ts'
import { findDefects } from './findDefects.ts'
import { findScratches, scratchAt } from './findScratches.ts'
import { addPiece, withoutEchoes } from './picture/pieces.ts'
import type { Feature, FiberFound, Picture } from './types.ts'

/** On the ferrule only what is large matters: it is smoothed over so much, and pixels of about this are enough, µm. */
const FERRULE_SMOOTHING = 1.2
const FERRULE_GRID = 0.6

/** Everything on the end face that is not round its center: scratches on the fiber, defects on fiber and ferrule. */
export function findFeatures(picture: Picture, fiber: FiberFound, core: CoreKind = 'single-mode'): Feature[] {
  const face = evenOut(picture, fiber, core)
  const lines = withoutEchoes(findScratches(face, fiber.blur))
  const smoothing = Math.min(0.8, Math.max(0.8 * spreadOf(fiber.blur), fiber.scale))
  const ferrule = partOf(face, FARTHEST, Math.max(1, Math.round(FERRULE_GRID / face.scale)))
  const onFiber = findDefects(partOf(face, CLADDING_ENDS, 1), fiber.blur, smoothing, (r) => r <= CLADDING_ENDS, lines)
  const spots = onFiber.filter(({ kind }) => kind === 'defect')
  for (const one of onFiber) if (one.kind === 'scratch') addPiece(lines, one)
  // Dirt that is long enough, or lies in a row, looks like a line too: a scratch is there without its compact spots as well.
  const bare = withoutSpots(face, spots, fiber.blur.width)
  const scratches = withoutEchoes(lines).filter(
    (line) => scratchAt(bare, fiber.blur, { ends: line.ends!, sign: Math.sign(line.contrast) }) !== null,
  )
  return [
    ...scratches,
    ...spots,
    ...findDefects(ferrule, fiber.blur, FERRULE_SMOOTHING, (r) => r > FERRULE_BEGINS && r <= FARTHEST, scratches),
  ]
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

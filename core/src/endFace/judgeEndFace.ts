import { shownOf } from './picture/evenFace.ts'
import { FARTHEST } from './picture/rings.ts'
import { findFeatures } from './findFeatures.ts'
import { findFiber } from './findFiber.ts'
import { coarser } from './picture/coarser.ts'
import { gradeEndFace, type EndFaceGrade } from './verdict/grade.ts'
import { endFaceRule, type ConnectorClass, type ZoneRule } from './verdict/rules.ts'
import type { Feature, FiberFound, OnStep, Picture } from './types.ts'

/** Finer pictures are made coarser: more pixels cost time and show nothing more, µm a pixel. */
const FINE_ENOUGH = 0.2

/** What was seen in a picture of an end face. */
export interface EndFaceView {
  fiber: FiberFound
  features: Feature[]
  grade: EndFaceGrade
  /** The picture that it was found in: of a very fine one so many pixels together each way. */
  picture: Picture
  coarsened: number
  /** How much of each zone the picture shows, 0 to 1; empty without a table. */
  shown: Partial<Record<ZoneRule['zone'], number>>
}

/**
 * Finds fiber, scratches and defects in a picture, and grades them by the table of the connector's class.
 * @throws PictureError where it can't be judged
 */
export function judgeEndFace(picture: Picture, connector: ConnectorClass, onStep?: OnStep): EndFaceView {
  onStep?.('Finding the fiber')
  const first = findFiber(picture)
  const by = Math.max(1, Math.floor(FINE_ENOUGH / first.scale))
  const used = by === 1 ? picture : coarser(picture, by)
  const fiber = by === 1 ? first : findFiber(used)
  const features = findFeatures(
    ...around(used, fiber),
    connector === 'multimode PC' ? 'multimode' : 'single-mode',
    onStep,
  )
  const shown: EndFaceView['shown'] = Object.fromEntries(
    (endFaceRule(connector)?.zones ?? []).map(({ zone, from, to }) => [zone, shownOf(used, fiber, from / 2, to / 2)]),
  )
  return {
    fiber,
    features,
    grade: gradeEndFace(features, { blur: fiber.blur.width, scale: fiber.scaleSigma / fiber.scale }, connector, shown),
    picture: used,
    coarsened: by,
    shown,
  }
}

/** The part of a picture that is looked at, with the fiber where it is in it. */
function around(picture: Picture, fiber: FiberFound): [Picture, FiberFound] {
  const { outline, scale } = fiber
  const reach = (1.03 * FARTHEST) / scale + 4
  const [left, top] = [outline.x, outline.y].map((middle) => Math.max(0, Math.floor(middle - reach))) as [
    number,
    number,
  ]
  const right = Math.min(picture.width, Math.ceil(outline.x + reach))
  const bottom = Math.min(picture.height, Math.ceil(outline.y + reach))
  const [width, height] = [right - left, bottom - top]
  const data = new Uint8Array(width * height)
  for (let row = 0; row < height; row++) {
    const from = (top + row) * picture.width + left
    data.set(picture.data.subarray(from, from + width), row * width)
  }
  return [
    { width, height, data },
    { ...fiber, outline: { ...outline, x: outline.x - left, y: outline.y - top } },
  ]
}

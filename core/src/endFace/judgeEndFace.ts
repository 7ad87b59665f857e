import { shownOf } from './picture/evenFace.ts'
import { findFeatures } from './findFeatures.ts'
import { coarser, findFiber } from './findFiber.ts'
import { gradeEndFace, type EndFaceGrade } from './verdict/grade.ts'
import { endFaceRule, type ConnectorClass, type ZoneRule } from './verdict/rules.ts'
import type { Feature, FiberFound, Picture } from './types.ts'

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
export function judgeEndFace(picture: Picture, connector: ConnectorClass): EndFaceView {
  const first = findFiber(picture)
  const by = Math.max(1, Math.floor(FINE_ENOUGH / first.scale))
  const used = by === 1 ? picture : coarser(picture, by)
  const fiber = by === 1 ? first : findFiber(used)
  const features = findFeatures(used, fiber, connector === 'multimode PC' ? 'multimode' : 'single-mode')
  const shown: EndFaceView['shown'] = Object.fromEntries(
    (endFaceRule(connector)?.zones ?? []).map(({ zone, from, to }) => [zone, shownOf(used, fiber, from / 2, to / 2)]),
  )
  return {
    fiber,
    features,
    grade: gradeEndFace(features, fiber.blur.width, connector, shown),
    picture: used,
    coarsened: by,
    shown,
  }
}

import type { EndFaceView } from './judgeEndFace.ts'
import type { FeatureMark } from './verdict/grade.ts'
import { endFaceRule, type ConnectorClass, type ZoneRule } from './verdict/rules.ts'

/** What `grade` prints of one picture: sizes and places in µm, the fiber in pixels of the file. */
export interface GradeDocument {
  file: string
  verdict: 'pass' | 'close' | 'fail' | 'no-rule'
  reasons: string[]
  fiber: { x: number; y: number; radius: number }
  scale: number
  scaleSigma: number
  blur: number
  /** How much of each zone the picture shows, 0 to 1. */
  zonesInPicture: Partial<Record<ZoneRule['zone'], number>>
  findings: {
    kind: 'scratch' | 'defect'
    /** The innermost zone that it touches; null where it lies outside all of them, or no table is here. */
    zone: ZoneRule['zone'] | null
    size: number
    x: number
    y: number
    mark: FeatureMark | null
  }[]
}

/** @param file as it was named on the command line */
export function gradeDocument(file: string, view: EndFaceView, connector: ConnectorClass): GradeDocument {
  const { fiber, grade, features, coarsened, shown } = view
  const zones = endFaceRule(connector)?.zones ?? []
  return {
    file,
    verdict: grade.verdict === 'no rule' ? 'no-rule' : grade.verdict,
    reasons: grade.reasons,
    // A picture that was made coarser has its pixels' middles elsewhere than the file's.
    fiber: {
      x: (fiber.outline.x + 0.5) * coarsened - 0.5,
      y: (fiber.outline.y + 0.5) * coarsened - 0.5,
      radius: fiber.outline.radius * coarsened,
    },
    scale: fiber.scale / coarsened,
    scaleSigma: fiber.scaleSigma / coarsened,
    blur: fiber.blur.width,
    zonesInPicture: shown,
    findings: features.map(({ kind, size, x, y, inner }, i) => ({
      kind,
      zone: zones.find(({ from, to }) => inner >= from / 2 && inner < to / 2)?.zone ?? null,
      size,
      x,
      y,
      mark: grade.marks[i] ?? null,
    })),
  }
}

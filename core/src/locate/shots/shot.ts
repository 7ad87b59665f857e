import type { Direction } from '../../plant/types.ts'
import type { TraceAnalysis } from '../../trace/analyze.ts'

/** An analyzed trace with how it was shot at the link. */
export interface Shot {
  /** How messages name it: a file's name. */
  name: string
  direction: Direction
  analysis: TraceAnalysis
  /** m of fiber of the cord next to the instrument and of the one at the far end; null when not known. */
  launch: number | null
  receive: number | null
  /** Where the launch cord ends on the trace's own scale, told from other traces of its survey; m, one standard deviation. */
  launchEnd?: { distance: number; sigma: number }
  /** The link's far connection, where it was found together with `launchEnd` by all traces of its survey. */
  farEnd?: { distance: number; sigma: number }
}

/** Whether two traces were shot by one instrument on one day. */
export function isOfSameSurvey({ analysis: { trace: a } }: Shot, { analysis: { trace: b } }: Shot): boolean {
  return a.instrument === b.instrument && a.takenAt.slice(0, DATE) === b.takenAt.slice(0, DATE)
}
const DATE = 'YYYY-MM-DD'.length

/** Whether two traces of one survey were shot from one end. */
export function isOfSameGo(one: Shot, other: Shot): boolean {
  return one.direction === other.direction && isOfSameSurvey(one, other)
}

export interface LocateWarning {
  code: string
  message: string
}

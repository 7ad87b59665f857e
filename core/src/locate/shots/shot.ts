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
}

/** Whether two traces were shot from one end by one instrument on one day. */
export function isOfSameGo(one: Shot, other: Shot): boolean {
  const [a, b] = [one.analysis.trace, other.analysis.trace]
  return (
    one.direction === other.direction &&
    a.instrument === b.instrument &&
    a.takenAt.slice(0, DATE) === b.takenAt.slice(0, DATE)
  )
}
const DATE = 'YYYY-MM-DD'.length

export interface LocateWarning {
  code: string
  message: string
}

import { standing, type LoggedEntry } from '../log/standing.ts'
import { PAIR_LIMIT } from './budget.ts'
import { lossTestsOf } from './log.ts'
import { badEnd, measuredLoss, type TurnedJudgement } from './reading.ts'

/** A cable or cord read by itself both ways round, with which of its ends is the bad one. */
export interface LoggedTurned extends TurnedJudgement {
  id: string
  by: string
  at: string
  what: string
}

interface TurnedEntry {
  kind: 'turned-reading'
  referenceId: string
  what: string
  /** dBm, with the first end at the launch cord, then turned round. */
  first: number
  turned: number
}

/** Cables and cords of a log that were read both ways round; each by its last reading. */
export function turnedReadingsOf(log: readonly LoggedEntry[]): LoggedTurned[] {
  const { references } = lossTestsOf(log)
  const found = new Map<string, LoggedTurned>()
  for (const { id, by, observedAt: at, entry } of standing(log, (earlier, later) => earlier.kind === later.kind)) {
    const one = entry as TurnedEntry | { kind: 'other' }
    if (one.kind !== 'turned-reading') continue
    const reference = references.find((candidate) => candidate.id === one.referenceId)
    if (!reference) continue
    const of = (level: number) => measuredLoss(level, at, reference, reference.means)
    found.set(one.what, { id, by, at, what: one.what, ...badEnd(of(one.first), of(one.turned), PAIR_LIMIT.value) })
  }
  return [...found.values()]
}

import type { ProofEvent, ProofTotal } from './proof.ts'
import { holdsAgainst, type Holds, type RuleBook } from '../../ruleBook/rules.ts'
import { cordSpread, type Connection } from '../../locate/shots/connections.ts'
import type { Direction } from '../../plant/types.ts'
import { connectionsSeen, linkLoss, type WithConnections } from '../joints/linkLoss.ts'
import type { Survey } from '../joints/sites.ts'
import { twoWayLoss } from '../../trace/twoWay.ts'

/** Instruments and cords differ by about this much in a link's total, dB (common practice). */
const TOTAL_REPEATABILITY_DB = 0.2

/**
 * The link's total at one wavelength, and what the old total and the repair allow. Like is compared with like: over the stretch
 * that all surveys saw, with the link's own connections where all cords let them be read and the cords are the same.
 * @param budget what the link may lose by its record with so many more splices, dB: it is allowed where no baseline tells
 */
export function judgeTotal(
  wavelength: number,
  before: readonly Survey[],
  after: readonly Survey[],
  events: readonly ProofEvent[],
  rules: RuleBook,
  budget: (moreSplices: number) => number | null,
): ProofTotal {
  const from = (surveys: readonly Survey[], direction: Direction) =>
    surveys.find((s) => s.shot.direction === direction && s.shot.analysis.trace.wavelength === wavelength)
  const pairs = DIRECTIONS.flatMap((direction) => {
    const now = from(after, direction)
    return now ? [{ direction, now, old: from(before, direction) }] : []
  })
  const ends = counted(pairs)
  const lossOf = (direction: Direction, of: 'now' | 'old') => {
    const one = pairs.find((pair) => pair.direction === direction)?.[of]
    return one ? linkLoss(one, direction === 'ab' ? ends : { near: ends.far, far: ends.near }) : null
  }
  const now = twoWayLoss(lossOf('ab', 'now'), lossOf('ba', 'now'))
  // The baseline is read from the directions that were shot after the repair.
  const shared = (direction: Direction) => (lossOf(direction, 'now') ? lossOf(direction, 'old') : null)
  const old = twoWayLoss(shared('ab'), shared('ba'))
  const added = events
    .filter((event) => event.wavelength === wavelength && event.status === 'new')
    .reduce((sum, { joints }) => sum + joints, 0)
  const { nodes } = (after[0] ?? before[0])!.calibration.threads.ab
  const without = [...(ends.near ? [] : [nodes[0]!.name]), ...(ends.far ? [] : [nodes.at(-1)!.name])]
  // A connection that is not in the total is not in its budget either.
  const whole = budget(added)
  const most = whole === null ? null : whole - without.length * rules.pair.value
  return {
    before: old?.loss ?? null,
    after: now?.loss ?? null,
    afterSigma: now?.sigma ?? null,
    without,
    orlBefore: leastReturnLoss(before, wavelength),
    orlAfter: leastReturnLoss(after, wavelength),
    allowed: old ? old.loss + added * rules.splice.limit.value + TOTAL_REPEATABILITY_DB : most,
    allowedSigma: old?.sigma ?? null,
    budget: most,
  }
}

const DIRECTIONS = ['ab', 'ba'] as const

/** Which of the link's connections, by its `from` and its `to`, every trace tells alike. */
function counted(pairs: readonly { now: Survey; old: Survey | undefined }[]): WithConnections {
  const alike = (connection: Connection) =>
    pairs.every(({ now, old }) => {
      const here = now.shot.direction === 'ab' ? connection : OPPOSITE[connection]
      const isSeen = [now, ...(old ? [old] : [])].every((one) => connectionsSeen(one)[here])
      const thread = now.calibration.threads[now.shot.direction]
      return isSeen && (!old || cordSpread(old.shot, now.shot, here, thread) === 0)
    })
  return { near: alike('near'), far: alike('far') }
}

const OPPOSITE: Record<Connection, Connection> = { near: 'far', far: 'near' }

/** What a total is of: the whole link, or without the connections that not every trace saw alike. */
export function totalName({ without = [] }: ProofTotal): string {
  return without.length === 0 ? 'Whole link' : `Link without ${without.join(' and ')}`
}

/** Whether a total is within what is allowed, both with what they may be off by. */
export function totalHolds({ after, afterSigma, allowed, allowedSigma }: ProofTotal): Holds {
  return allowed === null ? 'unknown' : holdsAgainst(after, Math.hypot(afterSigma ?? 0, allowedSigma ?? 0), allowed)
}

/** The lesser return loss of the shots at a wavelength, dB; null where none tells it. */
function leastReturnLoss(surveys: readonly Survey[], wavelength: number): number | null {
  const own = surveys.flatMap(({ shot: { analysis } }) =>
    analysis.trace.wavelength === wavelength && analysis.orl !== null ? [analysis.orl] : [],
  )
  return own.length > 0 ? Math.min(...own) : null
}

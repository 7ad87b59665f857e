import { cordSpread, type Connection } from '../../locate/shots/connections.ts'
import type { ThreadNode } from '../../plant/thread.ts'
import type { Direction } from '../../plant/types.ts'
import type { ProofEvent } from '../verdict/proof.ts'
import { holdsAgainst, type RuleBook } from '../../ruleBook/rules.ts'
import { readSite, type SiteReading, type Survey } from './sites.ts'
import { twoWayLoss } from '../../trace/twoWay.ts'

/** A figure moved by less than this many standard deviations is noise. */
const SIGNIFICANT = 3
/** One joint of the record at one wavelength, after against before. */
export function judgeJoint(
  node: ThreadNode,
  before: readonly Survey[],
  after: readonly Survey[],
  rules: RuleBook,
): ProofEvent {
  const isConnector = node.joint === 'connector'
  const old = readBothWays(node, before)
  const now = readBothWays(node, after)
  const fresh = fairComparison(old, now, cordSigmas(node, before, after))
  const repeatability = isConnector ? rules.repeatability.connector : rules.repeatability.splice
  const delta = fresh ? fresh.now - fresh.old : null
  const deltaSigma = fresh?.sigma ?? 0
  const changed = delta !== null && Math.abs(delta) > Math.max(repeatability.value, SIGNIFICANT * deltaSigma)
  const most = isConnector ? rules.pair : rules.splice.limit
  // An untouched joint is held to its own baseline, by its change from the same directions; one that was redone to the limit of
  // its kind.
  const lossBefore = fresh && now.mean ? now.mean.loss - delta! : (old.mean?.loss ?? null)
  const held = fresh !== null && !changed
  const anew = held && isMatedAnew(node, after)
  // A connection that was mated anew, perhaps with other cords, is as it was within what that may change.
  const band = anew ? Math.max(repeatability.value, SIGNIFICANT * deltaSigma) : repeatability.value
  const limit = held ? Math.max(lossBefore! + band, 0) : most.value
  return {
    wavelength: wavelengthOf(after, before),
    chainage: node.chainage,
    node: node.id,
    place: node.name,
    kind: node.joint === 'through' ? 'splice' : node.joint,
    joints: 1,
    status: now.mean === null ? 'open' : changed ? 'changed' : 'unchanged',
    lossBefore,
    lossAfter: now.mean?.loss ?? null,
    lossTwoWay: now.mean?.twoWay ? now.mean.loss : null,
    lossSigma: now.mean?.sigma ?? null,
    change: delta,
    changeSigma: fresh?.sigma ?? null,
    reflectanceBefore: old.reflectance,
    reflectanceAfter: now.reflectance,
    limit,
    limitSource: anew
      ? `baseline + ${band.toFixed(2)} dB: mated anew${band > repeatability.value ? ', with other cords' : ''}`
      : held
        ? `baseline + ${repeatability.value} dB (${repeatability.source})`
        : most.source,
    // Held to its baseline, what that may be off by counts as well.
    holds: anew ? 'yes' : holdsAgainst(now.mean?.loss ?? null, held ? fresh.sigma : (now.mean?.sigma ?? null), limit),
  }
}

function wavelengthOf(...surveys: (readonly Survey[])[]): number {
  return surveys.flat()[0]!.shot.analysis.trace.wavelength
}

interface BothWays {
  ab: SiteReading | null
  ba: SiteReading | null
  mean: ReturnType<typeof twoWayLoss>
  /** The stronger reflectance of the two directions. */
  reflectance: number | null
}

function readBothWays(node: ThreadNode, surveys: readonly Survey[]): BothWays {
  const from = (direction: 'ab' | 'ba') => {
    const one = surveys.find((candidate) => candidate.shot.direction === direction)
    return one ? readSite(one, node) : null
  }
  const [ab, ba] = [from('ab'), from('ba')]
  const reflectances = [ab?.reflectance, ba?.reflectance].filter((value) => value != null)
  return { ab, ba, mean: twoWayLoss(ab, ba), reflectance: reflectances.length > 0 ? Math.max(...reflectances) : null }
}

/** The link's own connections are mated anew for each survey. */
function isMatedAnew(node: ThreadNode, surveys: readonly Survey[]): boolean {
  return node.joint === 'connector' && surveys.some((one) => ownConnection(node, one) !== null)
}

/** Which of the link's own connections a node is, seen from the end that was shot from; null where it is none. */
function ownConnection(node: ThreadNode, { shot, calibration }: Survey): Connection | null {
  const { nodes } = calibration.threads[shot.direction]
  return node.id === nodes[0]!.id ? 'near' : node.id === nodes.at(-1)!.id ? 'far' : null
}

/** What other cords may change of a reading of the link's own connections, dB, by the end that was shot from. */
function cordSigmas(node: ThreadNode, before: readonly Survey[], after: readonly Survey[]): Record<Direction, number> {
  const from = (direction: Direction) => {
    const [then, now] = [before, after].map((some) => some.find(({ shot }) => shot.direction === direction))
    const connection = now ? ownConnection(node, now) : null
    return then && now && connection
      ? cordSpread(then.shot, now.shot, connection, now.calibration.threads[direction])
      : 0
  }
  return { ab: from('ab'), ba: from('ba') }
}

/** Only the same directions may be compared: a one-way reading holds the backscatter difference. */
function fairComparison(
  old: BothWays,
  now: BothWays,
  cords: Record<Direction, number>,
): { old: number; now: number; sigma: number } | null {
  const shared = (['ab', 'ba'] as const).filter((direction) => old[direction] && now[direction])
  if (shared.length === 0) return null
  const mean = (side: BothWays) => shared.reduce((sum, direction) => sum + side[direction]!.loss, 0) / shared.length
  const squares = shared.flatMap((direction) =>
    [old[direction]!.sigma, now[direction]!.sigma, cords[direction]].map((sigma) => sigma ** 2),
  )
  return { old: mean(old), now: mean(now), sigma: Math.sqrt(squares.reduce((a, b) => a + b, 0)) / shared.length }
}

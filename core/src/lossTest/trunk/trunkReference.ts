import type { LoggedEntry } from '../../log/standing.ts'
import { ruleBook } from '../../ruleBook/rules.ts'
import { amongNeighbours } from '../neighbours.ts'
import { MOST_DRIFT } from '../reference.ts'

/** What a multi-fiber tester saw through its reference cord alone, channel by channel; null where it saw nothing. */
export interface TrunkReference {
  /** The end of the trunk at which this tester's source is. */
  end: 'first' | 'second'
  fiber: 'single-mode' | 'multimode'
  /** nm */
  wavelength: number
  /** Not set at this end, but taken from the tester at the other one. */
  copied: boolean
  channels: {
    /** dBm */
    level: number | null
    /** The cord's own, dB. */
    returnLoss: number | null
  }[]
}

export interface TrunkReferenceJudgement {
  /** Channels on which nothing can be read against it, with why. */
  doubts: { channel: number; reason: string }[]
  good: boolean
  /** What it is, in figures. */
  told: string
  next: string
}

/** Standard uncertainty of one channel against another, dB: what clean pins of one cord differ by (judgement). */
const SIGMA = 0.1
/**
 * A cord's own reflection adds to what it measures: of 10 dB less it puts a reading at the limit 10·lg(1 + 10^−1) = 0.41 dB
 * too low.
 */
const OWN_MARGIN = 10

/** Judges a reference before a trunk is read against it: light on every channel, none off the others, a cord that reflects little. */
export function judgeTrunkReference({ fiber, channels, copied }: TrunkReference): TrunkReferenceJudgement {
  const { reflectance } = ruleBook('standard')
  const least = -reflectance[fiber === 'multimode' ? 'multimode' : 'singleMode'].value + OWN_MARGIN
  const doubts = channels.flatMap(({ level, returnLoss }, i) => {
    const doubt = (reason: string) => [{ channel: i + 1, reason }]
    if (level === null) return doubt('no light through the reference cord')
    // As a loss: the weaker the more.
    const others = channels.flatMap((other, k) => (k !== i && other.level !== null ? [-other.level] : []))
    const beside = amongNeighbours(-level, others, SIGMA)
    if (beside?.stands) return doubt(`${(-level - beside.middle).toFixed(2)} dB weaker than the middle of the others`)
    if (returnLoss !== null && returnLoss < least)
      return doubt(`the cord’s own return loss is ${returnLoss.toFixed(1)} dB, at least ${least} dB to tell the limit`)
    return []
  })
  const levels = channels.flatMap(({ level }) => level ?? [])
  const returnLosses = channels.flatMap(({ returnLoss }) => returnLoss ?? [])
  const told = [
    levels.length === 0
      ? 'no light on any channel'
      : `${levels.length} of ${channels.length} channels, ${Math.min(...levels).toFixed(2)} to ${Math.max(...levels).toFixed(2)} dBm`,
    returnLosses.length === 0
      ? 'return loss not referenced'
      : `return loss of the cord ${Math.min(...returnLosses).toFixed(1)} dB or more`,
    ...(copied ? ['copied from the tester at the other end'] : []),
  ].join('; ')
  const which = doubts.map(({ channel }) => channel).join(', ')
  return {
    doubts,
    good: doubts.length === 0,
    told,
    next:
      doubts.length === 0
        ? 'read the trunk; the reference cord stays on the tester'
        : `channel${doubts.length === 1 ? '' : 's'} ${which}: clean and inspect the reference cord and the tester’s port, and set it again`,
  }
}

/** A reference of a trunk tester as it was logged. */
export interface LoggedTrunkReference extends TrunkReference {
  id: string
  by: string
  at: string
}

/** References of trunk testers in a log that stand, in its order. */
export function trunkReferencesOf(log: readonly LoggedEntry[]): LoggedTrunkReference[] {
  return log.flatMap(({ id, by, observedAt: at, superseded, entry }) => {
    if (superseded || entry.kind !== 'trunk-reference') return []
    return [{ ...(entry as { kind: string; reference: TrunkReference }).reference, id, by, at }]
  })
}

/** The newest reference that a trunk of so many channels can be read against at an end; null where there is none. */
export function trunkReferenceFor(
  references: readonly LoggedTrunkReference[],
  { end, wavelength, count }: { end: TrunkReference['end']; wavelength: number; count: number },
): LoggedTrunkReference | null {
  return (
    references.findLast((one) => one.end === end && one.wavelength === wavelength && one.channels.length === count) ??
    null
  )
}

/** Channels whose level moved by more than a reference may, from one look to the next. */
export function movedChannels(
  before: Pick<TrunkReference, 'channels'>,
  after: Pick<TrunkReference, 'channels'>,
): number[] {
  return before.channels.flatMap(({ level }, i) => {
    const now = after.channels[i]?.level ?? null
    return level !== null && (now === null || Math.abs(now - level) > MOST_DRIFT + 1e-9) ? [i + 1] : []
  })
}

/**
 * Channels of a reference that the next look at it after a reading found moved: the same tester, cord and wavelength,
 * referenced again. @returns null where nobody looked since
 */
export function movedSince(
  reference: LoggedTrunkReference,
  references: readonly LoggedTrunkReference[],
  at: string,
): number[] | null {
  const { id, end, wavelength, channels } = reference
  const later = references
    .filter((one) => one.id !== id && !one.copied && one.end === end && one.wavelength === wavelength && one.at >= at)
    .filter((one) => one.channels.length === channels.length)
    .sort((a, b) => a.at.localeCompare(b.at))[0]
  return later ? movedChannels(reference, later) : null
}

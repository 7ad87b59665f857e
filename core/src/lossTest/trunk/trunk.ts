import { CodedError } from '../../errors/index.ts'
import type { LoggedEntry } from '../../log/standing.ts'
import { holdsAgainst, ruleBook } from '../../ruleBook/rules.ts'
import { judgePolarity, type Polarity, type PolarityJudgement } from './mpo.ts'
import { amongNeighbours } from '../neighbours.ts'
import { judgeTrunkReference, movedSince, trunkReferencesOf, type LoggedTrunkReference } from './trunkReference.ts'

/** Channels of multi-fiber connectors. */
export const TRUNK_COUNTS = [8, 12, 16, 24] as const

/** What was read of one channel; null where it was not. */
export interface TrunkChannel {
  /** Where its light came out at the other end, counted from 1; 0: nowhere. */
  at: number | null
  /** dB */
  loss: number | null
  returnLoss: number | null
}

/** A multi-fiber trunk, read from one of its ends. */
export interface TrunkTest {
  /** What the trunk is called. */
  trunk: string
  /** The end at which the source was. */
  end: 'first' | 'second'
  fiber: 'single-mode' | 'multimode'
  /** nm */
  wavelength: number
  /** As the record has it. */
  polarity: Polarity
  /** Log entry of the tester's reference; absent where none is on record. */
  referenceId?: string | undefined
  channels: TrunkChannel[]
}

/** The reference that a trunk was read against, and whether it held. */
export interface HeldReference {
  reference: LoggedTrunkReference
  /** Channels that a later look found moved; null where nobody looked since. */
  moved: number[] | null
}

/** A trunk test with the reference that it was read against, where one is on record. */
export type ReadTrunk = TrunkTest & { held?: HeldReference | null }

export type ChannelWord = 'within' | 'close' | 'over' | 'dark' | 'reflects' | 'elsewhere' | 'suspect' | 'not read'

export interface ChannelJudgement {
  channel: number
  word: ChannelWord
  reason: string
}

export interface TrunkJudgement {
  /** What the two end connections may lose, dB. */
  allowed: number
  /** Standard uncertainty of a channel's loss, dB. */
  sigma: number
  polarity: PolarityJudgement | null
  channels: ChannelJudgement[]
  good: boolean
  next: string
}

/**
 * Standard uncertainty of a channel's loss, dB: ordinary cords, reference set at this end; more where it was copied from
 * another tester, or is not on record (judgement).
 */
export const TRUNK_SIGMA = { own: 0.1, other: 0.15 } as const

/**
 * Judges a trunk channel by channel: light where the polarity has it, loss of two mated pairs at most, return loss, none
 * that stands off the others, none whose reference can't be trusted.
 * @throws CodedError for fewer than two channels
 */
export function judgeTrunk({ fiber, polarity, channels, held = null }: ReadTrunk): TrunkJudgement {
  const sigma = held && !held.reference.copied ? TRUNK_SIGMA.own : TRUNK_SIGMA.other
  const doubts = held ? judgeTrunkReference(held.reference).doubts : []
  if (channels.length < 2) throw new CodedError('not-enough', `${channels.length} channels are no trunk`)
  const { pair, reflectance } = ruleBook('standard')
  const allowed = 2 * pair.value
  const worst = reflectance[fiber === 'multimode' ? 'multimode' : 'singleMode']
  const mapped = channels.every(({ at }) => at !== null)
  const map = mapped
    ? judgePolarity(
        channels.map(({ at }) => (at === 0 ? null : at)),
        polarity,
      )
    : null
  const judged = channels.map((one, i): ChannelJudgement => {
    const channel = i + 1
    const { at, loss, returnLoss } = one
    const say = (word: ChannelWord, reason: string): ChannelJudgement => ({ channel, word, reason })
    const doubt = doubts.find((other) => other.channel === channel)
    if (at === 0 && doubt) return say('suspect', `no light came out, but of its reference: ${doubt.reason}`)
    if (at === 0) return say('dark', 'no light came out at the other end')
    const wrong = map?.wrong.find((other) => other.channel === channel)
    // All of another polarity is said once, not channel by channel.
    if (wrong && map!.instead === null)
      return say('elsewhere', `came out at ${at}, polarity ${polarity} has ${wrong.expected}`)
    if (loss === null) return say('not read', 'no loss was read')
    const told = `${loss.toFixed(2)} ± ${(2 * sigma).toFixed(2)} dB`
    if (doubt) return say('suspect', `${told}, but of its reference: ${doubt.reason}`)
    if (held?.moved?.includes(channel))
      return say('suspect', `${told}, but its reference moved before it was looked at again`)
    if (loss < -2 * sigma) return say('suspect', `${told}: more light than at the reference`)
    const holds = holdsAgainst(loss, sigma, allowed)
    if (holds === 'no') return say('over', `${told}, over ${allowed.toFixed(2)} dB (${pair.source}, two pairs)`)
    if (returnLoss !== null && returnLoss < -worst.value)
      return say('reflects', `return loss ${returnLoss.toFixed(1)} dB, at least ${-worst.value} dB (${worst.source})`)
    if (holds === 'close') return say('close', `${told}, close to ${allowed.toFixed(2)} dB (${pair.source}, two pairs)`)
    const others = channels.flatMap((other, k) => (k !== i && other.loss !== null ? [other.loss] : []))
    const beside = amongNeighbours(loss, others, sigma)
    return beside?.stands
      ? say('close', `${told}: ${(loss - beside.middle).toFixed(2)} dB over the middle of the others`)
      : say('within', `${told}, at most ${allowed.toFixed(2)} dB`)
  })
  const bad = judged.filter(({ word }) => word !== 'within' && word !== 'not read')
  const unread = judged.filter(({ word }) => word === 'not read').length
  const good = bad.length === 0 && unread === 0 && (map === null || map.holds)
  return { allowed, sigma, polarity: map, channels: judged, good, next: nextOf(map, bad, unread) }
}

function nextOf(map: PolarityJudgement | null, bad: readonly ChannelJudgement[], unread: number): string {
  if (map && !map.holds && map.instead !== null)
    return `${map.words}: the wrong trunk, cassette or adapter, or the record`
  const dark = bad.filter(({ word }) => word === 'dark')
  const told = `channel${bad.length === 1 ? '' : 's'} ${bad.map(({ channel }) => channel).join(', ')}`
  if (bad.length > 0 && bad.every(({ word }) => word === 'suspect'))
    return `${told}: set the reference again, with clean ends, and read again`
  if (bad.length > 0 && bad.every(({ word }) => word === 'elsewhere'))
    return `${told}: follow these fibers through trunk and cassettes to where they cross, put them right, and read again`
  if (bad.length > 0)
    return `${told}: clean and inspect both ends, key up, and read again${dark.length > 0 ? '; what stays dark is broken or not pinned' : ''}`
  if (unread > 0) return `${unread} ${unread === 1 ? 'channel is' : 'channels are'} not read yet`
  return map === null ? 'say where each channel came out, for the polarity' : 'swap the ends and read again'
}

/** A trunk test as it was logged. */
export interface LoggedTrunk extends TrunkTest {
  id: string
  by: string
  at: string
  held: HeldReference | null
}

/** Trunk tests of a log: of each trunk, end and wavelength the last one. */
export function trunkTestsOf(log: readonly LoggedEntry[]): LoggedTrunk[] {
  const references = trunkReferencesOf(log)
  const tests = new Map<string, LoggedTrunk>()
  for (const { id, by, observedAt: at, superseded, entry } of log) {
    if (superseded || entry.kind !== 'trunk-test') continue
    const { test } = entry as { kind: string; test: TrunkTest }
    const reference = references.find((one) => one.id === test.referenceId)
    const held = reference ? { reference, moved: movedSince(reference, references, at) } : null
    tests.set(`${test.trunk} ${test.end} ${test.wavelength}`, { ...test, id, by, at, held })
  }
  return [...tests.values()]
}

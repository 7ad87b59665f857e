import type { LoggedEntry } from '../../log/standing.ts'
import { holdsAgainst, ruleBook } from '../rules.ts'
import { judgePolarity, type Polarity, type PolarityJudgement } from './mpo.ts'
import { amongNeighbours } from './neighbours.ts'

/** Channels of multi-fiber connectors. */
export const TRUNK_COUNTS = [8, 12, 24] as const

/** What was read of one channel; null where it was not. */
export interface TrunkChannel {
  /** Where its light came out at the other end, counted from 1; 0: nowhere. */
  at: number | null
  /** dB */
  loss: number | null
  returnLoss: number | null
}

/** Where a trunk tester's reference comes from. */
export const TRUNK_REFERENCES = ['own', 'copied'] as const
export type TrunkReference = (typeof TRUNK_REFERENCES)[number]

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
  /** The tester's reference: set at this end, or copied from a tester at the other one; absent where nobody said. */
  reference?: TrunkReference | undefined
  channels: TrunkChannel[]
}

export type ChannelWord = 'within' | 'close' | 'over' | 'dark' | 'reflects' | 'elsewhere' | 'not read'

export interface ChannelJudgement {
  channel: number
  word: ChannelWord
  reason: string
}

export interface TrunkJudgement {
  /** What the two end connections may lose, dB. */
  allowed: number
  polarity: PolarityJudgement | null
  channels: ChannelJudgement[]
  good: boolean
  next: string
}

/** Standard uncertainty of a channel's loss, dB: ordinary cords, reference just set; more where it was copied (judgement). */
const SIGMA: Record<TrunkReference, number> = { own: 0.1, copied: 0.15 }

/**
 * Judges a trunk channel by channel: light where the polarity has it, loss of two mated pairs at most, return loss, and
 * none that stands off the others.
 * @throws RangeError for fewer than two channels
 */
export function judgeTrunk({ fiber, polarity, channels, reference = 'own' }: TrunkTest): TrunkJudgement {
  const sigma = SIGMA[reference]
  if (channels.length < 2) throw new RangeError(`${channels.length} channels are no trunk`)
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
    if (at === 0) return say('dark', 'no light came out at the other end')
    const wrong = map?.wrong.find((other) => other.channel === channel)
    // All of another polarity is said once, not channel by channel.
    if (wrong && map!.instead === null)
      return say('elsewhere', `came out at ${at}, polarity ${polarity} has ${wrong.expected}`)
    if (loss === null) return say('not read', 'no loss was read')
    const holds = holdsAgainst(loss, sigma, allowed)
    const told = `${loss.toFixed(2)} ± ${(2 * sigma).toFixed(2)} dB`
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
  return { allowed, polarity: map, channels: judged, good, next: nextOf(map, bad, unread) }
}

function nextOf(map: PolarityJudgement | null, bad: readonly ChannelJudgement[], unread: number): string {
  if (map && !map.holds && map.instead !== null)
    return `${map.words}: the wrong trunk, cassette or adapter, or the record`
  const dark = bad.filter(({ word }) => word === 'dark')
  const told = `channel${bad.length === 1 ? '' : 's'} ${bad.map(({ channel }) => channel).join(', ')}`
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
}

/** Trunk tests of a log: of each trunk, end and wavelength the last one. */
export function trunkTestsOf(log: readonly LoggedEntry[]): LoggedTrunk[] {
  const tests = new Map<string, LoggedTrunk>()
  for (const { id, by, observedAt: at, superseded, entry } of log) {
    if (superseded || entry.kind !== 'trunk-test') continue
    const { test } = entry as { kind: string; test: TrunkTest }
    tests.set(`${test.trunk} ${test.end} ${test.wavelength}`, { ...test, id, by, at })
  }
  return [...tests.values()]
}

/**
 * Reads pasted rows: channel, where it came out, loss and return loss, or loss alone, or loss and return loss; units in
 * cells and decimal commas are understood.
 * @returns channels, or why nothing was taken
 */
export function readTrunkRows(text: string, count: number): { channels: TrunkChannel[] } | { problem: string } {
  const rows = text
    .split(/\r?\n/)
    .filter((line) => line.trim() !== '')
    .map((line) => line.split(/[\t;]/).map((cell) => cell.trim()))
  if (rows.length !== count) return { problem: `${rows.length} rows were pasted, the trunk has ${count} channels` }
  const channels: (TrunkChannel | undefined)[] = Array.from({ length: count })
  for (const [i, cells] of rows.entries()) {
    const numbers = cells.map((cell) => {
      if (/^(dark|none|–|-)?$/i.test(cell)) return null
      const value = Number(
        cell
          .replace(/\s*dB$/i, '')
          .replace(',', '.')
          .replace('\u2212', '-'),
      )
      return Number.isFinite(value) ? value : 'bad'
    })
    const bad = numbers.indexOf('bad')
    if (bad >= 0) return { problem: `row ${i + 1}: “${cells[bad]}” is no figure` }
    const figures = numbers as (number | null)[]
    if (figures.length > 4) return { problem: `row ${i + 1} has ${figures.length} columns, at most 4 are understood` }
    const [channel, at, loss, returnLoss] =
      figures.length === 4
        ? figures
        : figures.length === 3
          ? [figures[0], null, figures[1], figures[2]]
          : [i + 1, null, figures[0], figures[1] ?? null]
    if (channel == null || !Number.isInteger(channel) || channel < 1 || channel > count)
      return { problem: `row ${i + 1}: there is no channel “${cells[0]}”` }
    if (channels[channel - 1]) return { problem: `row ${i + 1}: channel ${channel} is there twice` }
    if (at != null && (!Number.isInteger(at) || at < 0 || at > count))
      return { problem: `row ${i + 1}: there is no channel “${cells[1]}” to come out at` }
    channels[channel - 1] = { at: at ?? null, loss: loss ?? null, returnLoss: returnLoss ?? null }
  }
  return { channels: channels as TrunkChannel[] }
}

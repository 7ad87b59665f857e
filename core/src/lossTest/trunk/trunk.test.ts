import { CodedError } from '../../errors/index.ts'
import { describe, expect, it } from 'vitest'
import {
  farChannel,
  judgeTrunk,
  readTrunkRows,
  trunkTestsOf,
  type TrunkChannel,
  type TrunkReference,
  type TrunkTest,
} from '../index.ts'

const LOSSES = [0.35, 0.4, 0.3, 0.42, 0.38, 0.33, 0.36, 0.41, 0.37, 0.34, 0.39, 0.36]
const trunk = (
  change: (one: TrunkChannel, channel: number) => Partial<TrunkChannel> = () => ({}),
  some: Partial<TrunkTest> = {},
): TrunkTest => ({
  trunk: 'T1',
  end: 'first',
  fiber: 'multimode',
  wavelength: 850,
  polarity: 'B',
  channels: LOSSES.map((loss, i) => {
    const one = { at: farChannel(some.polarity ?? 'B', i + 1, 12), loss, returnLoss: 32 }
    return { ...one, ...change(one, i + 1) }
  }),
  ...some,
})
const held = (some: Partial<TrunkReference> = {}, moved: number[] | null = null) => ({
  reference: {
    id: 'r',
    by: 'a',
    at: '2026-01-01T02:00:00Z',
    end: 'first' as const,
    fiber: 'multimode' as const,
    wavelength: 850,
    copied: false,
    channels: LOSSES.map((loss) => ({ level: -12 - loss / 10, returnLoss: 45 })),
    ...some,
  },
  moved,
})
const words = (test: TrunkTest) => judgeTrunk(test).channels.map(({ word }) => word)
const only = (channel: number, some: Partial<TrunkChannel>) => trunk((_one, at) => (at === channel ? some : {}))

describe('a trunk of twelve channels', () => {
  it('all well: two mated pairs at 0.75 dB by TIA-568.3-D, and the other end is next', () => {
    const judged = judgeTrunk({ ...trunk(), held: held() })
    expect(judged).toMatchObject({ allowed: 1.5, good: true, next: 'swap the ends and read again' })
    expect(words(trunk()).every((word) => word === 'within')).toBe(true)
  })

  it.each<[string, Partial<TrunkChannel>, string, RegExp]>([
    ['too much loss', { loss: 1.9 }, 'over', /1\.90 ± 0\.20 dB, over 1\.50 dB/],
    ['near the limit', { loss: 1.45 }, 'close', /close to 1\.50/],
    // Multimode −20 dB, single-mode −35 dB: TIA-568.3-D, from memory.
    ['too much reflected', { returnLoss: 18 }, 'reflects', /18\.0 dB, at least 20 dB/],
    ['dark', { at: 0, loss: null }, 'dark', /no light/],
    ['not read', { loss: null }, 'not read', /no loss/],
    ['within, but far from the others', { loss: 1.1 }, 'close', /0\.7\d dB over the middle/],
  ])('one channel with %s', (_name, some, word, reason) => {
    const judged = judgeTrunk({ ...only(7, some), held: held() })
    expect(judged.channels[6]).toMatchObject({ channel: 7, word })
    expect(judged.channels[6]!.reason).toMatch(reason)
    expect(judged.good).toBe(false)
    expect(judged.channels.filter((one) => one.word !== 'within')).toHaveLength(1)
    expect(judged.next).toMatch(
      word === 'not read' ? /1 channel is not read/ : /channel 7: clean and inspect both ends, key up/,
    )
  })

  it('read against a copied reference, or none on record, it is less certain: JCGM 100, k = 2', () => {
    const told = (some: Parameters<typeof judgeTrunk>[0]['held']) =>
      judgeTrunk({ ...trunk(), held: some ?? null }).channels[0]!.reason
    expect(told(held())).toMatch(/^0\.35 ± 0\.20 dB/)
    expect(told(held({ copied: true }))).toMatch(/^0\.35 ± 0\.30 dB/)
    expect(told(null)).toMatch(/^0\.35 ± 0\.30 dB/)
  })

  it('a loss below zero counts within twice its uncertainty, and is suspect beyond', () => {
    const below = (loss: number) => judgeTrunk({ ...only(3, { loss }), held: held() })
    expect(below(-0.19).channels[2]!.word).toBe('within')
    const suspect = below(-0.21)
    expect(suspect.channels[2]).toMatchObject({
      word: 'suspect',
      reason: expect.stringMatching(/more light/) as string,
    })
    expect(suspect).toMatchObject({
      good: false,
      next: expect.stringMatching(/channel 3: set the reference/) as string,
    })
  })

  it('channels whose reference was no good, or moved, are suspect; the others stand', () => {
    const uneven = held()
    uneven.reference.channels[4] = { level: -13.4, returnLoss: 45 }
    const suspects = (test: Parameters<typeof judgeTrunk>[0]) =>
      judgeTrunk(test).channels.flatMap(({ channel, word }) => (word === 'suspect' ? [channel] : []))
    expect(suspects({ ...trunk(), held: uneven })).toEqual([5])
    // Dark against a dark reference tells nothing of the trunk.
    expect(suspects({ ...only(5, { at: 0, loss: null }), held: uneven })).toEqual([5])
    expect(suspects({ ...trunk(), held: held({}, [2, 9]) })).toEqual([2, 9])
    expect(suspects({ ...trunk(), held: held({}, []) })).toEqual([])
  })

  it('single-mode asks for more return loss', () => {
    expect(words(trunk(() => ({ returnLoss: 33 }), { fiber: 'single-mode' }))[0]).toBe('reflects')
  })

  it('another polarity is said once, a swapped pair channel by channel', () => {
    const asA = judgeTrunk(trunk((_one, channel) => ({ at: channel })))
    expect(asA.next).toMatch(/this is polarity A, the record says B/)
    expect(asA.channels.every(({ word }) => word === 'within')).toBe(true)
    const swapped = judgeTrunk(trunk((one, channel) => (channel === 2 ? { at: 10 } : channel === 3 ? { at: 11 } : one)))
    expect(swapped.channels.filter(({ word }) => word === 'elsewhere').map(({ channel }) => channel)).toEqual([2, 3])
    expect(swapped.polarity!.words).toBe('channels 2 and 3 are swapped')
  })

  it('without a map nothing is said of the polarity; a trunk has two channels at least', () => {
    const judged = judgeTrunk(trunk(() => ({ at: null })))
    expect(judged).toMatchObject({
      polarity: null,
      good: true,
      next: expect.stringMatching(/for the polarity/) as string,
    })
    expect(() => judgeTrunk({ ...trunk(), channels: [] })).toThrow(CodedError)
  })
})

describe('pasted rows', () => {
  const rows = (line: (channel: number) => string, count = 8) =>
    readTrunkRows(Array.from({ length: count }, (_, i) => line(i + 1)).join('\n'), 8, null)
  it.each<[string, (channel: number) => string, Partial<TrunkChannel>]>([
    ['four columns', (k) => `${k}\t${9 - k}\t0,4${k}\t31 dB`, { at: 8, loss: 0.41, returnLoss: 31 }],
    ['channel, loss and return loss', (k) => `${k};0.4;30.5`, { at: null, loss: 0.4, returnLoss: 30.5 }],
    ['loss alone, with its unit', () => '0,35 dB', { at: null, loss: 0.35, returnLoss: null }],
    ['names of columns above', (k) => `${k === 1 ? 'channel;loss;return loss\n' : ''}${k};0.4;30`, { loss: 0.4 }],
    ['a dark one', (k) => `${k}\t0\tdark\t`, { at: 0, loss: null, returnLoss: null }],
  ])('%s', (_name, line, first) => {
    expect(rows(line)).toMatchObject({ channels: { 0: first, length: 8 } })
  })

  it.each<[string, (channel: number) => string, number, RegExp]>([
    [
      'a level without its unit',
      () => '-11.2',
      8,
      /row 1: “-11.2” is no loss; levels are told apart by their unit, dBm/,
    ],
    ['a level without a reference', () => '-11.2 dBm', 8, /row 1: “-11.2 dBm” is a level, and its channel has no ref/],
    ['an empty unit', () => 'dB', 8, /row 1: “dB” is no figure/],
    ['too few', () => '0.4', 7, /7 rows were pasted, the trunk has 8/],
    ['words', () => 'good', 8, /row 1: “good” is no figure/],
    ['twice the same', () => '3;0.4;30', 8, /row 2: channel 3 is there twice/],
    ['a channel that is none', () => '9;0.4;30', 8, /no channel “9”/],
    ['out at one that is none', (k) => `${k};12;0.4;30`, 8, /no channel “12” to come out at/],
    ['too many columns', (k) => `${k};1;2;3;4`, 8, /5 columns/],
  ])('%s: nothing is taken, and why', (_name, line, count, why) => {
    expect((rows(line, count) as { problem: string }).problem).toMatch(why)
  })
})

it('a level in dBm stands for the loss against its channel’s reference', () => {
  const { reference } = held()
  const lines = LOSSES.map((_, i) => `${12 - i};${-12.5 - i / 10} dBm;31`).join('\n')
  const { channels } = readTrunkRows(lines, 12, reference) as { channels: TrunkChannel[] }
  // By hand: channel 12 was −12.036 dBm and is −12.5 dBm; channel 1 was −12.035 dBm and is −13.6 dBm.
  expect(channels[11]).toEqual({ at: null, loss: 0.464, returnLoss: 31 })
  expect(channels[0]).toEqual({ at: null, loss: 1.565, returnLoss: 31 })
})

it('of a log the last test of each trunk, end and wavelength stands', () => {
  const logged = (id: string, some: Partial<TrunkTest>) => ({
    id,
    by: 'a',
    observedAt: '2026-01-01T03:00:00Z',
    supersedes: null,
    superseded: false,
    entry: { kind: 'trunk-test', test: trunk(undefined, some) },
  })
  const log = [logged('1', {}), logged('2', { end: 'second' }), logged('3', {})]
  expect(trunkTestsOf(log).map(({ id }) => id)).toEqual(['3', '2'])
})

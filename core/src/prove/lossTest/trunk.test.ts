import { describe, expect, it } from 'vitest'
import { farChannel, judgeTrunk, readTrunkRows, trunkTestsOf, type TrunkChannel, type TrunkTest } from './index.ts'

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
const words = (test: TrunkTest) => judgeTrunk(test).channels.map(({ word }) => word)
const only = (channel: number, some: Partial<TrunkChannel>) => trunk((_one, at) => (at === channel ? some : {}))

describe('a trunk of twelve channels', () => {
  it('all well: two mated pairs at 0.75 dB by TIA-568.3-D, and the other end is next', () => {
    const judged = judgeTrunk(trunk())
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
    const judged = judgeTrunk(only(7, some))
    expect(judged.channels[6]).toMatchObject({ channel: 7, word })
    expect(judged.channels[6]!.reason).toMatch(reason)
    expect(judged.good).toBe(false)
    expect(judged.channels.filter((one) => one.word !== 'within')).toHaveLength(1)
    expect(judged.next).toMatch(
      word === 'not read' ? /1 channel is not read/ : /channel 7: clean and inspect both ends, key up/,
    )
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
    expect(() => judgeTrunk({ ...trunk(), channels: [] })).toThrow(RangeError)
  })
})

describe('pasted rows', () => {
  const rows = (line: (channel: number) => string, count = 8) =>
    readTrunkRows(Array.from({ length: count }, (_, i) => line(i + 1)).join('\n'), 8)
  it.each<[string, (channel: number) => string, TrunkChannel]>([
    ['four columns', (k) => `${k}\t${9 - k}\t0,4${k}\t31 dB`, { at: 8, loss: 0.41, returnLoss: 31 }],
    ['channel, loss and return loss', (k) => `${k};0.4;30.5`, { at: null, loss: 0.4, returnLoss: 30.5 }],
    ['loss alone, with its unit', () => '0,35 dB', { at: null, loss: 0.35, returnLoss: null }],
    ['a dark one', (k) => `${k}\t0\tdark\t`, { at: 0, loss: null, returnLoss: null }],
  ])('%s', (_name, line, first) => {
    expect(rows(line)).toMatchObject({ channels: { 0: first, length: 8 } })
  })

  it.each<[string, (channel: number) => string, number, RegExp]>([
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

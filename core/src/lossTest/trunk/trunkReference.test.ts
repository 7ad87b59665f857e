import { describe, expect, it } from 'vitest'
import { readTrunkCordStandIn } from '../../sim/index.ts'
import {
  judgeTrunk,
  judgeTrunkReference,
  readReferenceRows,
  trunkReferenceFor,
  trunkReferencesOf,
  trunkTestsOf,
  type TrunkReference,
} from '../index.ts'

const reference = (
  change: Partial<TrunkReference['channels'][number]> = {},
  at = 0,
  some: Partial<TrunkReference> = {},
): TrunkReference => ({
  end: 'first',
  fiber: 'single-mode',
  wavelength: 1310,
  copied: false,
  channels: Array.from({ length: 12 }, (_, i) => ({
    level: -12 - (i % 3) / 20,
    returnLoss: 55,
    ...(i + 1 === at ? change : {}),
  })),
  ...some,
})

describe('the reference of a trunk tester', () => {
  it('even on every channel, with what it is in figures', () => {
    expect(judgeTrunkReference(reference())).toEqual({
      doubts: [],
      good: true,
      told: '12 of 12 channels, -12.10 to -12.00 dBm; return loss of the cord 55.0 dB or more',
      next: 'read the trunk; the reference cord stays on the tester',
    })
  })

  it.each<[string, Partial<TrunkReference['channels'][number]>, RegExp]>([
    ['dark', { level: null }, /no light through the reference cord/],
    ['weak', { level: -13.1 }, /1\.05 dB weaker than the middle of the others/],
    // TIA-568.3-D, from memory: single-mode −35 dB. Of 10 dB less, 10·lg(1 + 10^−1) = 0.41 dB are added to what is read.
    ['reflecting', { returnLoss: 44 }, /own return loss is 44\.0 dB, at least 45 dB/],
  ])('a %s channel is doubted, and what to do', (_name, change, why) => {
    const { doubts, good, next } = judgeTrunkReference(reference(change, 7))
    expect(good).toBe(false)
    expect(doubts).toEqual([{ channel: 7, reason: expect.stringMatching(why) as string }])
    expect(next).toMatch(/^channel 7: clean and inspect the reference cord/)
  })

  it('multimode is held to its own limit, −20 dB; return loss that was not referenced is said', () => {
    expect(judgeTrunkReference(reference({ returnLoss: 31 }, 7, { fiber: 'multimode' })).good).toBe(true)
    const without = reference({}, 0, { copied: true })
    for (const channel of without.channels) channel.returnLoss = null
    expect(judgeTrunkReference(without).told).toMatch(/return loss not referenced; copied from the tester/)
  })

  it('the stand-in’s clean cord is even, its dirty one is found, by forty seeds each', () => {
    for (let seed = 0; seed < 40; seed++) {
      const of = (fault: 'none' | 'one pin dirty') =>
        judgeTrunkReference({ ...reference(), channels: readTrunkCordStandIn(12, fault, seed) }).doubts
      expect(of('none')).toEqual([])
      expect(of('one pin dirty')).toHaveLength(1)
    }
  })
})

describe('in a log', () => {
  const logged = (id: string, minute: number, entry: object) => ({
    id,
    by: 'a',
    observedAt: `2026-01-01T02:${String(minute).padStart(2, '0')}:00Z`,
    supersedes: null,
    superseded: false,
    entry: entry as { kind: string },
  })
  const set = (id: string, minute: number, some: TrunkReference) =>
    logged(id, minute, { kind: 'trunk-reference', reference: some })
  const test = (id: string, minute: number, referenceId?: string) =>
    logged(id, minute, {
      kind: 'trunk-test',
      test: {
        trunk: 'T',
        end: 'first',
        fiber: 'single-mode',
        wavelength: 1310,
        polarity: 'A',
        referenceId,
        channels: Array.from({ length: 12 }, (_, i) => ({ at: i + 1, loss: 0.4, returnLoss: 45 })),
      },
    })

  it('the newest of an end, wavelength and count is read against', () => {
    const references = trunkReferencesOf([
      set('1', 0, reference()),
      set('2', 1, reference({}, 0, { end: 'second', copied: true })),
      set('3', 2, reference({}, 0, { wavelength: 1550 })),
      { ...set('4', 3, reference()), superseded: true },
    ])
    const wanted = { end: 'first', wavelength: 1310, count: 12 } as const
    expect(trunkReferenceFor(references, wanted)!.id).toBe('1')
    expect(trunkReferenceFor(references, { ...wanted, end: 'second' })!.copied).toBe(true)
    expect(trunkReferenceFor(references, { ...wanted, count: 24 })).toBeNull()
  })

  it('one that was found moved when it was set again makes what was read between suspect', () => {
    const log = [set('1', 0, reference()), test('t', 5, '1')]
    const held = (later: ReturnType<typeof set>[]) => trunkTestsOf([...log, ...later])[0]!
    expect(held([]).held!.moved).toBeNull()
    // 0.10 dB are allowed.
    expect(held([set('2', 9, reference({ level: -12.1 }, 1))]).held!.moved).toEqual([])
    const moved = held([set('2', 9, reference({ level: -12.21 }, 1)), set('3', 12, reference())])
    expect(moved.held!.moved).toEqual([1])
    expect(judgeTrunk(moved).channels.filter(({ word }) => word === 'suspect')).toMatchObject([{ channel: 1 }])
    // Copied again, nobody looked at it.
    expect(held([set('2', 9, reference({ level: -14 }, 1, { copied: true }))]).held!.moved).toBeNull()
    expect(trunkTestsOf([test('t', 5)])[0]!.held).toBeNull()
  })
})

describe('a pasted reference', () => {
  it.each<[string, (channel: number) => string, object]>([
    ['with channel, level and return loss', (k) => `${k}\t−12,0${k}\t55 dB`, { level: -12.01, returnLoss: 55 }],
    ['with level and return loss', () => '-12.01 dBm;55', { level: -12.01, returnLoss: 55 }],
    ['with levels alone', () => '-12.01', { level: -12.01, returnLoss: null }],
    ['with a dark channel', (k) => `${k};dark;`, { level: null, returnLoss: null }],
  ])('%s', (_name, line, first) => {
    const rows = Array.from({ length: 8 }, (_, i) => line(i + 1)).join('\n')
    expect(readReferenceRows(rows, 8)).toMatchObject({ channels: { 0: first, length: 8 } })
  })

  it.each<[string, string, RegExp]>([
    ['too few rows', '-12', /1 rows were pasted, the trunk has 2/],
    ['too many columns', '1;2;3;4\n1;2;3;4', /row 1 has 4 columns, at most 3/],
    ['a channel twice', '1;-12;50\n1;-12;50', /row 2: channel 1 is there twice/],
    ['no level', '-120\n-12', /row 1: “-120” is no level in dBm/],
    ['words', '-12\nfine', /row 2: “fine” is no figure/],
  ])('of %s: nothing is taken, and why', (_name, rows, why) => {
    expect((readReferenceRows(rows, 2) as { problem: string }).problem).toMatch(why)
  })
})

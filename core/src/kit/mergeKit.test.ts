import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { EMPTY_KIT, type Kit, type KitItem } from './kit.ts'
import { mergeKit } from './mergeKit.ts'

const item = (id: string, some: Partial<KitItem> = {}): KitItem => ({
  id,
  kind: 'cleaver',
  name: `no. ${id}`,
  count: 1,
  place: 'Van 1',
  fits: [],
  fibers: null,
  wear: null,
  calibratedUntil: null,
  ...some,
})
const kitOf = (...items: KitItem[]): Kit => ({ ...EMPTY_KIT, items })
const NOTHING = new Map<string, 'mine' | 'theirs'>()

describe('two changes of one kit', () => {
  it('of different things both stand, added and taken out ones too', () => {
    const base = kitOf(item('a'), item('b'), item('c'))
    const mine = kitOf(item('a', { count: 2 }), item('c'), item('d'))
    const theirs = kitOf(item('a'), item('b'), item('c', { place: 'Van 2' }), item('e'))
    const { clashes, settle } = mergeKit({ base, mine, theirs })
    expect(clashes).toEqual([])
    expect(
      settle(NOTHING)
        .items.map(({ id, count, place }) => [id, count, place])
        .sort(),
    ).toEqual([
      ['a', 2, 'Van 1'],
      ['c', 1, 'Van 2'],
      ['d', 1, 'Van 1'],
      ['e', 1, 'Van 1'],
    ])
  })

  it('of one thing are asked, both in words', () => {
    const base = kitOf(item('a'))
    const sides = { base, mine: kitOf(item('a', { count: 3 })), theirs: kitOf(item('a', { place: 'Store' })) }
    const { clashes, settle } = mergeKit(sides)
    expect(clashes).toEqual([{ path: 'items/a', mine: '3 × cleaver no. a, Van 1', theirs: '1 × cleaver no. a, Store' }])
    expect(settle(new Map([['items/a', 'theirs']])).items[0]).toMatchObject({ count: 1, place: 'Store' })
    expect(settle(NOTHING).items[0]).toMatchObject({ count: 3, place: 'Van 1' })
  })

  it('one takes out what the other changed: asked, and either stands', () => {
    const base = kitOf(item('a'))
    const { clashes, settle } = mergeKit({ base, mine: kitOf(), theirs: kitOf(item('a', { count: 5 })) })
    expect(clashes).toEqual([{ path: 'items/a', mine: null, theirs: '5 × cleaver no. a, Van 1' }])
    expect(settle(NOTHING).items).toEqual([])
    expect(settle(new Map([['items/a', 'theirs']])).items).toHaveLength(1)
  })

  it('of hours and rest', () => {
    const hours = (restHours: number | null): Kit => ({ ...EMPTY_KIT, hours: { ...EMPTY_KIT.hours, restHours } })
    expect(mergeKit({ base: hours(8), mine: hours(8), theirs: hours(11) }).settle(NOTHING).hours.restHours).toBe(11)
    const { clashes } = mergeKit({ base: hours(8), mine: hours(9), theirs: hours(null) })
    expect(clashes).toEqual([{ path: 'restHours', mine: '9 h of rest after a shift', theirs: 'no rest is kept' }])
  })

  const some = fc
    .uniqueArray(fc.constantFrom('a', 'b', 'c', 'd'))
    .chain((ids) => fc.tuple(...ids.map((id) => fc.nat(2).map((count) => item(id, { count })))))
    .map((items) => kitOf(...items))
  const set = (kit: Kit) => kit.items.map((one) => JSON.stringify(one)).sort()

  it('one side that changed nothing loses nothing, whichever it is', () => {
    fc.assert(
      fc.property(some, some, (base, changed) => {
        const mine = mergeKit({ base, mine: changed, theirs: base })
        const theirs = mergeKit({ base, mine: base, theirs: changed })
        expect([mine.clashes, theirs.clashes]).toEqual([[], []])
        expect(set(mine.settle(NOTHING))).toEqual(set(changed))
        expect(set(theirs.settle(NOTHING))).toEqual(set(changed))
      }),
      { endOnFailure: true },
    )
  })

  it('whatever is chosen everywhere, each clash has that side’s record', () => {
    fc.assert(
      fc.property(some, some, some, fc.constantFrom('mine' as const, 'theirs' as const), (base, mine, theirs, side) => {
        const { clashes, settle } = mergeKit({ base, mine, theirs })
        const merged = settle(new Map(clashes.map(({ path }) => [path, side])))
        const from = side === 'mine' ? mine : theirs
        for (const { path } of clashes) {
          const id = path.split('/')[1]
          expect(merged.items.find((one) => one.id === id)).toEqual(from.items.find((one) => one.id === id))
        }
      }),
      { endOnFailure: true },
    )
  })
})

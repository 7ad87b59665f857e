import { describe, expect, it } from 'vitest'
import type { Kit } from '../../kit/index.ts'
import { chooseTermination } from './chooseTermination.ts'

const ALL = [
  'splicer',
  'cleaver',
  'polishing set',
  'pigtail',
  'splice sleeve',
  'splice-on connector',
  'mechanical connector',
  'connector body',
  'anaerobic kit',
  'hot-melt kit',
  'epoxy kit',
]
const kitOf = (kinds: readonly string[]): Kit => ({
  format: 'cold-thread/kit',
  version: 1,
  people: [],
  items: kinds.map((kind) => ({
    id: kind,
    kind,
    name: kind,
    count: 1,
    note: '',
    wear: null,
    calibratedUntil: null,
    fibers: null,
  })) as unknown as Kit['items'],
  hours: { windows: [], shifts: [], restHours: null },
})
const order = (some: Partial<Parameters<typeof chooseTermination>[0]> = {}) =>
  chooseTermination({ fiber: 'single-mode', polish: 'UPC', kit: kitOf(ALL), first: 'time', ...some })

// Common practice, no published source: what is quick, what is low in loss, what is made in a factory.
describe('the way of a new connector', () => {
  it('by time a pre-polished one comes first and epoxy last', () => {
    const ways = order().map(({ way }) => way)
    expect(ways[0]).toBe('mechanical')
    expect(ways.at(-1)).toBe('epoxy')
  })

  it('by loss a pre-polished one comes last; of equal ones the quicker is first', () => {
    const choices = order({ first: 'loss' })
    expect(choices.at(-1)!.way).toBe('mechanical')
    expect(choices.slice(0, 2).map(({ way }) => way)).toEqual(['pigtail', 'epoxy'])
  })

  it('by reflectance what a factory polished comes first, by cost what is polished here, by hand what asks for least', () => {
    expect(order({ first: 'reflectance' }).map(({ end }) => end)).toEqual([
      'factory',
      'factory',
      'by hand',
      'by hand',
      'by hand',
      'cleaved',
    ])
    expect(order({ first: 'cost' })[0]).toMatchObject({ way: 'anaerobic', cost: 'little' })
    expect(order({ first: 'cost' }).at(-1)).toMatchObject({ way: 'mechanical', cost: 'much' })
    expect(order({ first: 'hand' })[0]).toMatchObject({ way: 'mechanical', hand: 'little' })
  })

  it('what the kit lacks is said, and comes after what can be done', () => {
    const choices = order({ kit: kitOf(ALL.filter((kind) => kind !== 'splicer' && kind !== 'mechanical connector')) })
    expect(choices[0]!.way).toBe('anaerobic')
    expect(choices.find(({ way }) => way === 'pigtail')!.against).toBe('not in the kit: fusion splicer')
    expect(choices.slice(-3).every(({ against }) => against !== null)).toBe(true)
  })

  it('an angled end is not polished in the field', () => {
    for (const { way, against } of order({ polish: 'APC' }))
      expect(against !== null).toBe(['epoxy', 'anaerobic', 'hot-melt'].includes(way))
  })

  it('each says what speaks for it', () => {
    for (const { reasons } of order({ fiber: 'multimode' })) expect(reasons).toHaveLength(1)
    expect(order().find(({ way }) => way === 'epoxy')!.reasons).toHaveLength(2)
  })
})

import { describe, expect, it } from 'vitest'
import type { Cable, PlantBundle } from '../../plant/types.ts'
import { closureModelOf, plainDome } from '../closure/closureModel.ts'
import { cablesAt, cablesIn, splicesAt } from '../closure/closureRecord.ts'
import { factsOf } from './factsOf.ts'
import { TEST_DOME, testCable, testPlant } from '../../../test/openFacts.ts'

function plant(some: Partial<Cable> = {}, state: 'live' | 'dark' | 'unknown' = 'dark'): PlantBundle {
  const two = testPlant([3, 14].map((fiber) => ({ fiber, state, circuits: [] })))
  two.cables[0] = testCable('a', 0, 1000, some)
  two.cables.push(testCable('express', 0, 3000))
  two.nodes[1]!.closureModel = 'test dome'
  return two
}

const at = { node: 'c', cable: 'a', chainage: 1000 }

describe('a closure by the record', () => {
  it('has the splices that links make there, and cables that end or pass', () => {
    expect(splicesAt(plant(), 'c')).toEqual([
      { a: { cable: 'a', fiber: 3 }, b: { cable: 'b', fiber: 3 }, link: 'l3' },
      { a: { cable: 'a', fiber: 14 }, b: { cable: 'b', fiber: 14 }, link: 'l14' },
    ])
    expect(
      cablesAt(plant(), plant().nodes[1]!).map(({ cable: { id }, passes, spliced }) => [id, passes, spliced]),
    ).toEqual([
      ['a', false, [3, 14]],
      ['b', false, [3, 14]],
      ['express', true, []],
    ])
    // What passes is in it where it has a coil there.
    expect(cablesIn(plant(), plant().nodes[1]!).map(({ cable: { id } }) => id)).toEqual(['a', 'b'])
    const coiled = { ...plant().nodes[1]!, slack: [{ cable: 'express', side: 'through' as const, sheath: 20 }] }
    expect(cablesIn(plant(), coiled).map(({ cable: { id } }) => id)).toEqual(['a', 'b', 'express'])
  })
})

describe('what a sheet is compiled for', () => {
  it('comes from the records: tubes, cables in the closure, its port, whether it is in service', () => {
    expect(factsOf(plant(), at, 'bring-in', TEST_DOME)).toMatchObject({
      place: 'c',
      groups: 4,
      groupWord: 'tube',
      cables: 2,
      port: 1,
      ports: 6,
      inService: true,
      closure: 'gel-dome',
      strengthMember: true,
      diameter: null,
    })
  })

  it.each([
    ['live', true],
    ['unknown', true],
    ['dark', false],
  ] as const)('links that are %s: traffic %s', (state, live) => {
    expect(factsOf(plant({}, state), at, 're-enter', TEST_DOME).live).toBe(live)
  })

  it('other cables in the closure with traffic are neighbours, this cable and one that only passes are none', () => {
    expect(factsOf(plant({}, 'live'), at, 're-enter', TEST_DOME)).toMatchObject({
      liveNeighbours: true,
      neighbours: ['b'],
    })
    expect(factsOf(plant({}, 'dark'), at, 're-enter', TEST_DOME)).toMatchObject({
      liveNeighbours: false,
      neighbours: [],
    })
    expect(factsOf(plant({}, 'live'), { node: null, cable: 'b', chainage: 1700 }, 'prepare', null).neighbours).toEqual(
      [],
    )
  })

  it('armor is metal, and rods bonded into the jacket are no member to hold', () => {
    expect(factsOf(plant({ armored: true }), at, 'bring-in', TEST_DOME)).toMatchObject({
      armored: true,
      metallic: true,
    })
    const ribbon = factsOf(plant({ construction: 'rollable-ribbon', tubeSize: 24 }), at, 'bring-in', TEST_DOME)
    expect(ribbon).toMatchObject({ strengthMember: false, groupWord: 'bundle', groups: 2 })
  })

  it('a panel is worked at as a panel, or a module is put in; a run has no closure but the one that is chosen', () => {
    const panel = { node: 'p', cable: 'a', chainage: 0 }
    expect(factsOf(plant(), panel, 'panel', null).closure).toBe('live-panel')
    expect(factsOf(plant(), panel, 'bring-in', null).closure).toBe('panel-module')
    const run = { node: null, cable: 'b', chainage: 1700 }
    expect(factsOf(plant(), run, 'bring-in', TEST_DOME)).toMatchObject({
      place: '1700 m',
      closure: 'gel-dome',
      inService: false,
      cables: 0,
    })
    expect(factsOf(plant(), run, 'prepare', null).closure).toBeNull()
  })

  it('an operator’s bushing figure stands before the common one', () => {
    expect(factsOf(plant(), at, 'bring-in', { ...TEST_DOME, bushingBelow: 0.011 }).bushingBelow).toBe(0.011)
    expect(factsOf(plant(), at, 'bring-in', { ...TEST_DOME, bushingBelow: null }).bushingBelow).toBe(0)
  })

  it('what the plant does not have is refused', () => {
    expect(() => factsOf(plant(), { ...at, node: 'x' }, 're-enter', null)).toThrow(/no node “x”/)
    expect(() => factsOf(plant(), { ...at, cable: 'x' }, 're-enter', null)).toThrow(/no cable “x”/)
  })
})

describe('a closure’s sheet', () => {
  it('is the operator’s, else a plain dome where its name says so, else nothing', () => {
    expect(closureModelOf('test dome', [TEST_DOME])).toBe(TEST_DOME)
    expect(closureModelOf('gel-sealed dome, large', [])).toEqual(plainDome('gel-sealed dome, large'))
    expect(closureModelOf('clamshell', [TEST_DOME])).toBeNull()
    expect(plainDome('x').pressure).toBeNull()
  })
})

import { describe, expect, it } from 'vitest'
import { closureChanges } from './closure/closureState.ts'
import { checkPorts, suggestPorts, type PortCable } from './closure/ports.ts'
import { TEST_DOME } from '../../test/openFacts.ts'
import { splicePositions, suggestTrays, trayStates, trayUnits } from './closure/trays.ts'
import type { Cable } from '../plant/types.ts'

const cable = (cable: string, use: PortCable['use'], diameter: number | null = 0.014): PortCable => ({
  cable,
  use,
  diameter,
  entries: 1,
})

describe('ports', () => {
  it('by habit: 1 and 2 through, 3 and 4 branches, 5 and 6 drops; plugs in the rest (common practice)', () => {
    const uses = suggestPorts(TEST_DOME, [
      cable('a', 'through'),
      cable('b', 'through'),
      cable('d', 'drop'),
      cable('c', 'branch'),
    ])
    expect(uses.map(({ cables, plug }) => (plug ? 'plug' : cables[0]))).toEqual(['a', 'b', 'c', 'plug', 'd', 'plug'])
  })

  it('a third through cable goes where room is: any port may take any cable', () => {
    const cables = [cable('a', 'through'), cable('b', 'through'), cable('c', 'through')]
    const uses = suggestPorts(TEST_DOME, cables)
    expect(uses[2]!.cables).toEqual(['c'])
    expect(checkPorts(TEST_DOME, uses, cables).filter(({ kind }) => kind === 'conflict')).toEqual([])
  })

  it('an uncut cable goes in by one port and out by another', () => {
    const through: PortCable = { ...cable('a', 'through'), entries: 2 }
    const uses = suggestPorts(TEST_DOME, [through])
    expect(uses.flatMap(({ port, cables }) => (cables.includes('a') ? [port] : []))).toEqual([1, 2])
    expect(checkPorts(TEST_DOME, uses, [through])).toEqual([])
    const half = uses.map((use) => (use.port === 2 ? { port: 2, cables: [], plug: true } : use))
    expect(checkPorts(TEST_DOME, half, [through]).map(({ text }) => text)).toEqual([
      'a passes uncut: it takes two ports, in and out',
    ])
  })

  it('a port too small is not chosen, and refused when it is', () => {
    const model = {
      ...TEST_DOME,
      ports: TEST_DOME.ports.map((port) => (port.port === 1 ? { ...port, most: 0.012 } : port)),
    }
    const cables = [cable('a', 'through', 0.014)]
    expect(suggestPorts(model, cables)[1]!.cables).toEqual(['a'])
    const forced = suggestPorts(model, []).map((use) =>
      use.port === 1 ? { port: 1, cables: ['a'], plug: false } : use,
    )
    expect(checkPorts(model, forced, cables)).toContainEqual({
      port: 1,
      kind: 'conflict',
      text: 'a has 14 mm, the port seals 10 mm to 12 mm',
    })
  })

  it.each<[string, { port: number; cables: string[]; plug: boolean }[], RegExp]>([
    ['a missing plug', [{ port: 3, cables: [], plug: false }], /a missing plug is a leak/],
    ['two diameters in one port', [{ port: 1, cables: ['a', 'b'], plug: false }], /one diameter to a port/],
    [
      'a cable twice',
      [
        { port: 1, cables: ['a'], plug: false },
        { port: 2, cables: ['a'], plug: false },
      ],
      /a is in ports 1 and 2/,
    ],
    ['a cable nowhere', [], /a has no port/],
    ['a port that is not there', [{ port: 9, cables: ['a'], plug: false }], /no port 9/],
    ['a plug beside a cable', [{ port: 1, cables: ['a'], plug: true }], /a plug and a cable/],
  ])('conflict: %s', (_name, uses, text) => {
    const findings = checkPorts(TEST_DOME, uses, [cable('a', 'through'), cable('b', 'through', 0.018)])
    expect(
      findings
        .filter(({ kind }) => kind === 'conflict')
        .map((one) => one.text)
        .join('; '),
    ).toMatch(text)
  })

  it('bushing and tape under 12.7 mm (½ in), not at it (common practice)', () => {
    const notices = (diameter: number) =>
      checkPorts(TEST_DOME, [{ port: 1, cables: ['a'], plug: false }], [cable('a', 'through', diameter)])
        .filter(({ kind }) => kind === 'notice')
        .map(({ text }) => text)
    expect(notices(0.0126).join()).toMatch(/tape at the bracket and a bushing/)
    expect(notices(0.0127)).toEqual([])
  })
})

const plantCable = (id: string, tubeSize = 12): Cable => ({
  id,
  routeId: 'r',
  from: 0,
  to: 1,
  sheathFactor: 1,
  helixFactor: 1,
  construction: 'loose-tube',
  fiberCount: 48,
  tubeSize,
  colorOrder: 'TIA-598',
  fiberType: 'G.652.D',
  groupIndex: { 1550: 1.468 },
})

describe('trays', () => {
  const splices = Array.from({ length: 48 }, (_, i) => ({
    a: { cable: 'a', fiber: i + 1 },
    b: { cable: 'b', fiber: i + 1 },
    link: `l${i}`,
  }))
  const CABLES = [plantCable('a'), plantCable('b')]
  const units = trayUnits(splices, CABLES)

  it('gathers splices by the tubes that meet', () => {
    expect(units.map(({ a, b, splices: count }) => [a.group, b.group, count])).toEqual([
      [1, 1, 12],
      [2, 2, 12],
      [3, 3, 12],
      [4, 4, 12],
    ])
  })

  it('fills trays to their capacity, a tube whole to one', () => {
    const uses = suggestTrays(TEST_DOME, units)
    const { trays, off } = trayStates(TEST_DOME, uses, units, CABLES)
    expect(trays.map(({ splices: count, left }) => [count, left])).toEqual([
      [24, 0],
      [24, 0],
      [0, 24],
      [0, 24],
    ])
    expect(off).toEqual([])
    expect(trays.flatMap(({ conflicts }) => conflicts)).toEqual([])
  })

  it('counts splice places through: tubes after each other, fibers in their order, either way round', () => {
    const turned = splices.map((splice, i) => (i % 2 ? splice : { ...splice, a: splice.b, b: splice.a })).reverse()
    const positions = splicePositions(units.slice(0, 2), turned, [plantCable('a'), plantCable('b')])
    expect(positions.map(({ position, a, b }) => [position, a.cable, a.fiber, b.fiber])).toEqual(
      Array.from({ length: 24 }, (_, i) => [i + 1, 'a', i + 1, i + 1]),
    )
  })

  it('what finds no room stays off, and says so', () => {
    const small = { ...TEST_DOME, trays: { count: 1, splices: 24, groups: 4 } }
    const { off } = trayStates(small, suggestTrays(small, units), units, CABLES)
    expect(off).toHaveLength(2)
  })

  it('a full tray and a tube on two trays are conflicts', () => {
    const full = [{ tray: 1, units: units.map(({ id }) => id) }]
    expect(trayStates(TEST_DOME, full, units, CABLES).trays[0]!.conflicts).toEqual([
      'the tray is full: 48 splices, it holds 24',
      '8 tubes come in, it takes 4',
    ])
    const crossed = trayUnits(
      [...splices.slice(0, 6), { a: { cable: 'a', fiber: 7 }, b: { cable: 'b', fiber: 13 }, link: 'x' }],
      [plantCable('a'), plantCable('b')],
    )
    const split = crossed.map((unit, i) => ({ tray: i + 1, units: [unit.id] }))
    expect(trayStates(TEST_DOME, split, crossed, CABLES).trays[0]!.conflicts).toEqual([
      'tube 1 of a is on tray 2 too: a tube goes to one tray',
    ])
    const modules = CABLES.map((cable) => ({ ...cable, construction: 'micro-module' }))
    expect(trayStates(TEST_DOME, split, crossed, modules).trays[0]!.conflicts).toEqual([
      'module 1 of a is on tray 2 too: a module goes to one tray',
    ])
    expect(suggestTrays(TEST_DOME, crossed)[0]!.units).toHaveLength(2)
  })

  it('tells how a closure differs from its record', () => {
    const was = {
      ports: [
        { port: 1, cables: ['a'], plug: false },
        { port: 2, cables: [], plug: true },
      ],
      trays: suggestTrays(TEST_DOME, units),
      remark: '',
    }
    const is = {
      ports: [
        { port: 1, cables: ['a'], plug: false },
        { port: 2, cables: ['b'], plug: false },
      ],
      trays: [
        { tray: 1, units: [units[1]!.id] },
        { tray: 2, units: units.slice(2).map(({ id }) => id) },
      ],
      remark: '',
    }
    expect(closureChanges(was, is, units)).toEqual([
      'port 2: plug before, b now',
      'a 1 to b 1: tray 1 before, on no tray now',
    ])
    expect(closureChanges(was, was, units)).toEqual([])
  })
})

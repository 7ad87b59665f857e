import { CodedError } from '../errors/index.ts'
import { describe, expect, it } from 'vitest'
import {
  coreInWords,
  coreOf,
  coreOfCord,
  coresMatch,
  colorOfPosition,
  fiberAtPlace,
  fresnelReflectance,
  isColorOrder,
  peakFromReflectance,
  placeInWords,
  placeOfFiber,
  reflectanceFromPeak,
  typicalFiber,
  whyNotFound,
  type FiberRecord,
} from './index.ts'

describe('colour order', () => {
  it('follows TIA-598-D from 1 to 12', () => {
    const order = [
      'blue',
      'orange',
      'green',
      'brown',
      'slate',
      'white',
      'red',
      'black',
      'yellow',
      'violet',
      'rose',
      'aqua',
    ]
    expect(order.map((_, i) => colorOfPosition(i + 1, 'TIA-598').color)).toEqual(order)
    expect(colorOfPosition(12, 'TIA-598').tracer).toBeNull()
  })

  it('repeats the order with a black tracer from 13, and gives black (20) a yellow one (TIA-598-D)', () => {
    expect(colorOfPosition(13, 'TIA-598')).toEqual({ color: 'blue', tracer: 'black' })
    expect(colorOfPosition(20, 'TIA-598')).toEqual({ color: 'black', tracer: 'yellow' })
    expect(colorOfPosition(24, 'TIA-598')).toEqual({ color: 'aqua', tracer: 'black' })
  })

  it('knows the DIN VDE 0888 order (from memory)', () => {
    expect(colorOfPosition(1, 'DIN VDE 0888').color).toBe('red')
    expect(colorOfPosition(12, 'DIN VDE 0888').color).toBe('pink')
    expect(isColorOrder('DIN VDE 0888')).toBe(true)
    expect(isColorOrder('of the house')).toBe(false)
  })

  it.each([0, 25, 1.5])('has no colour for position %f', (position) => {
    expect(() => colorOfPosition(position, 'TIA-598')).toThrow(CodedError)
  })
})

describe('the fiber finder', () => {
  const record = (construction: string, fiberCount: number, tubeSize: number, colorOrder = 'TIA-598') => ({
    construction,
    fiberCount,
    tubeSize,
    colorOrder,
  })

  it('says a place in words, by TIA-598-D', () => {
    const said = (cable: FiberRecord, fiber: number) => placeInWords(placeOfFiber(cable, fiber))
    expect(said(record('loose-tube', 48, 12), 17)).toBe('tube 2 orange, fiber 5 slate')
    expect(said(record('micro-module', 288, 24), 284)).toBe('module 12 aqua, fiber 20 black with yellow tracer')
    expect(said(record('loose-tube', 288, 12), 229)).toBe('tube 20 black with yellow tracer, fiber 1 blue')
    expect(said(record('ribbon', 432, 144), 160)).toBe('tube 2 orange, ribbon 2 orange, fiber 4 brown')
    expect(said(record('loose-tube', 24, 12, 'DIN VDE 0888'), 13)).toBe('tube 2 green, fiber 1 red')
  })

  it('finds fiber 1000 of 1728 in bundle 7, bound in red, ribbon 12 with as many rings, fiber 4 (worked by hand, common practice)', () => {
    const place = placeOfFiber(record('rollable-ribbon', 1728, 144), 1000)
    expect(place).toMatchObject({ group: 7, ribbon: 12, ribbonColor: null, position: 4 })
    expect(placeInWords(place)).toBe('bundle 7 red, ribbon 12 (12 ring marks), fiber 4 brown')
  })

  it('finds the violet tube’s rose fiber', () => {
    const cable = record('loose-tube', 144, 12)
    const numbers = Array.from({ length: 12 }, (_, k) => k + 1)
    const at = (color: string) => numbers.find((number) => colorOfPosition(number, 'TIA-598').color === color)!
    expect(fiberAtPlace(cable, { group: at('violet'), ribbon: null, position: at('rose') })).toBe(119)
  })

  it('comes back to the same number for every fiber of 12 to 1,728, in each grouping and order', () => {
    const cables = [
      ...[12, 24, 48, 60, 96, 144, 216, 288].map((count) => record('loose-tube', count, 12)),
      ...[24, 144, 288, 576].map((count) => record('micro-module', count, 24)),
      ...[6, 30].map((count) => record('loose-tube', count, 6)),
      ...[144, 432, 864, 1728].map((count) => record('ribbon', count, 144)),
      ...[72, 288, 864, 1728].map((count) => record('rollable-ribbon', count, 72)),
      ...[144, 864, 1728].map((count) => record('rollable-ribbon', count, 144)),
    ]
    for (const cable of cables)
      for (const colorOrder of ['TIA-598', 'DIN VDE 0888']) {
        const places = new Set<string>()
        for (let fiber = 1; fiber <= cable.fiberCount; fiber++) {
          const place = placeOfFiber({ ...cable, colorOrder }, fiber)
          if (fiberAtPlace({ ...cable, colorOrder }, place) !== fiber) expect.fail(placeInWords(place))
          places.add(placeInWords(place))
        }
        // No two fibers are called the same.
        expect(places.size, `${cable.construction} ${cable.fiberCount}`).toBe(cable.fiberCount)
      }
  })

  it('names what the cable does not have', () => {
    const cable = record('rollable-ribbon', 150, 144)
    expect(() => placeOfFiber(cable, 151)).toThrow('fiber 151 is not 1 to 150')
    expect(() => fiberAtPlace(cable, { group: 3, ribbon: 1, position: 1 })).toThrow('bundle 3 is not 1 to 2')
    expect(() => fiberAtPlace(cable, { group: 1, ribbon: 13, position: 1 })).toThrow('ribbon 13 is not 1 to 12')
    expect(() => fiberAtPlace(cable, { group: 2, ribbon: 1, position: 7 })).toThrow('ends at fiber 150')
  })

  it.each([
    [record('zip cord', 2, 1), /construction “zip cord” is not known: use the maker’s sheet/],
    [record('loose-tube', 48, 12, 'of the house'), /colour order “of the house” .* not known/],
    [record('loose-tube', 48, 48), /48 fibers in a tube/],
    [record('loose-tube', 300, 12), /25 tubes or bundles/],
    [record('rollable-ribbon', 144, 100), /not 1 to 12 ribbons of 12/],
  ])('says why a record can’t be read', (cable, why) => {
    expect(whyNotFound(cable)).toMatch(why)
    expect(() => placeOfFiber(cable, 1)).toThrow(CodedError)
  })
})

describe('reflections', () => {
  it.each([
    [1.45, -14.7],
    [1.47, -14.4],
    [1.5, -14.0],
  ])('a clean flat end of phase index %f reflects %f dB (Fresnel)', (index, reflectance) => {
    expect(fresnelReflectance(index)).toBeCloseTo(reflectance, 1)
  })

  it('turns a peak into a reflectance as IEC 61746-1 does: 10 dB over −82 dB backscatter at 100 ns is −42.04 dB', () => {
    // R = B + 10·log10((10^(H/5) − 1)·W) by hand: −82 + 10·log10((100 − 1)·100) = −82 + 39.956
    expect(reflectanceFromPeak(-82, 10, 100e-9)).toBeCloseTo(-42.044, 3)
  })

  it.each([-14.7, -35, -55])('inverts for %f dB', (reflectance) => {
    expect(reflectanceFromPeak(-77, peakFromReflectance(-77, reflectance, 30e-9), 30e-9)).toBeCloseTo(reflectance, 9)
  })

  it('takes −77 dB at 1310 nm and −82 dB at 1550 nm where a file is silent (from memory)', () => {
    expect(typicalFiber(1310).backscatter).toBe(-77)
    expect(typicalFiber(1548).backscatter).toBe(-82)
  })
})

describe('kind and core of a fiber', () => {
  // ISO/IEC 11801 and IEC 60793-2-10, from memory: OM1 (A1b) is 62.5/125, OM2 to OM5 (A1a) are 50/125.
  it.each([
    ['OM1', undefined, { kind: 'multimode', core: 62.5 }],
    ['OM4', undefined, { kind: 'multimode', core: 50 }],
    ['A1a.2', undefined, { kind: 'multimode', core: 50 }],
    ['G.651.1', undefined, { kind: 'multimode', core: 50 }],
    ['OM2', 62.5, { kind: 'multimode', core: 62.5 }],
    ['G.652.D', undefined, { kind: 'single-mode', core: null }],
    ['G.652.D', 9, { kind: 'single-mode', core: 9 }],
  ] as const)('%s, core on record %s µm', (fiberType, coreSize, core) => {
    expect(coreOf({ fiberType, coreSize })).toEqual(core)
  })

  it('cords are told by what they fit; one that does not say is not judged', () => {
    expect(coreOfCord(['LC/UPC', 'OM3'])).toEqual({ kind: 'multimode', core: 50 })
    expect(coreOfCord(['LC/UPC', 'OS2'])).toEqual({ kind: 'single-mode', core: null })
    expect(coreOfCord(['SC/UPC', 'multimode'])).toEqual({ kind: 'multimode', core: null })
    expect(coreOfCord(['LC/UPC'])).toBeNull()
  })

  it('50 and 62.5 µm do not mate in a test; single-mode fibers do, whatever their records call the core', () => {
    const of = (fiberType: string, coreSize?: number) => coreOf({ fiberType, coreSize })
    expect(coresMatch(of('OM1'), of('OM3'))).toBe(false)
    expect(coresMatch(of('OM3'), of('OM4'))).toBe(true)
    expect(coresMatch(of('OM4'), of('G.652.D'))).toBe(false)
    expect(coresMatch(of('G.652.D', 9), of('G.657.A1', 8.6))).toBe(true)
    expect(coresMatch({ kind: 'multimode', core: null }, of('OM1'))).toBe(true)
    expect(coreInWords(of('OM1'))).toBe('multimode, core 62.5 µm')
  })
})

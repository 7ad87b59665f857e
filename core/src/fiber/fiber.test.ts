import { describe, expect, it } from 'vitest'
import {
  colorOfPosition,
  fiberColors,
  fresnelReflectance,
  isColorOrder,
  peakFromReflectance,
  reflectanceFromPeak,
  typicalFiber,
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
    expect(() => colorOfPosition(position, 'TIA-598')).toThrow(RangeError)
  })

  it('finds fiber 17 of a 48-fiber cable in the orange tube, fiber slate', () => {
    const colors = fiberColors(17, 12, 'TIA-598')
    expect([colors.tube, colors.tubeColor.color, colors.fiberInTube, colors.fiberColor.color]).toEqual([
      2,
      'orange',
      5,
      'slate',
    ])
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

import { describe, expect, it } from 'vitest'
import { fresnelReflectance, peakFromReflectance } from '../fiber/index.ts'
import { pulseLength } from '../units/index.ts'
import type { FiberModel } from './fiberModel.ts'
import { shoot, type Instrument } from './otdr.ts'
import { seededRandom } from '../math/random.ts'

const SILENT: Instrument = {
  name: 'ideal',
  noisePower: -200,
  saturation: -20,
  timeConstant: 0,
  backscatterSetting: null,
}
const SETTINGS = { wavelength: 1550, pulseWidth: 100e-9, spacing: 1, range: 9000, averages: 1, groupIndex: 1.468 }
const span = (length: number, backscatter = -82) => ({
  kind: 'span' as const,
  length,
  attenuation: 0.2e-3,
  backscatter,
  groupIndex: 1.468,
})
const run = (model: FiberModel, change: Partial<typeof SETTINGS> = {}, instrument = SILENT) =>
  shoot(model, instrument, { ...SETTINGS, ...change }, seededRandom(1)).levels

describe('the simulated OTDR against closed forms', () => {
  const plain: FiberModel = { elements: [span(8000)], endReflectance: null }

  it('shows the attenuation as slope: 0.2 dB/km', () => {
    const levels = run(plain)
    expect((levels[7000]! - levels[2000]!) / 5).toBeCloseTo(-0.2, 3)
  })

  it('shows the backscatter of a pulse at B + 10·log10(W), halved by the display (Derickson)', () => {
    // −82 dB at 1 ns, 100 ns: −62 dB; over the saturation level of −20 dB: (−62 + 20)/2 = −21 dB at the port.
    const levels = run(plain)
    expect(levels[200]! + 0.2e-3 * (200 - pulseLength(100e-9, 1.468) / 2)).toBeCloseTo(-21, 2)
  })

  it('raises the backscatter by 1.5 dB when the pulse is doubled', () => {
    const longer = run(plain, { pulseWidth: 200e-9 })
    expect(longer[5000]! - run(plain)[5000]!).toBeCloseTo(1.505, 1)
  })

  it('shows a joint’s loss as a step of that loss over one pulse length', () => {
    const levels = run({
      elements: [span(4000), { kind: 'joint', loss: 0.5, reflectance: null }, span(4000)],
      endReflectance: null,
    })
    const expected = run(plain)
    expect(levels[3990]! - expected[3990]!).toBeCloseTo(0, 3)
    expect(levels[4020]! - expected[4020]!).toBeCloseTo(-0.5, 3)
  })

  it('shows a reflection at the height that the IEC 61746-1 relation gives', () => {
    const levels = run({
      elements: [span(4000), { kind: 'joint', loss: 0, reflectance: -45 }, span(4000)],
      endReflectance: null,
    })
    expect(levels[4005]! - levels[3999]!).toBeCloseTo(peakFromReflectance(-82, -45, 100e-9), 1)
  })

  it('a clean break stands tall by Fresnel, an angled one falls without a peak', () => {
    const flat = run({ elements: [span(4000)], endReflectance: fresnelReflectance(1.45) })
    expect(flat[4003]).toBe(0) // saturated
    const angled = run({ elements: [span(4000)], endReflectance: null })
    expect(Math.max(...angled.slice(3990, 4030))).toBeLessThan(-21)
  })

  it('a splice between fibers of different backscatter reads true + (K1 − K2)/2 one way and true − (K1 − K2)/2 the other', () => {
    // IEC 61280-4-2; K1 = −81.7, K2 = −82.1, true 0.05: readings 0.25 and −0.15.
    const joint = { kind: 'joint' as const, loss: 0.05, reflectance: null }
    const reading = (first: number, second: number) => {
      const levels = run({ elements: [span(4000, first), joint, span(4000, second)], endReflectance: null })
      return levels[3999]! - levels[4020]! - 0.2e-3 * 21
    }
    expect(reading(-81.7, -82.1)).toBeCloseTo(0.25, 2)
    expect(reading(-82.1, -81.7)).toBeCloseTo(-0.15, 2)
  })

  it('averages noise down by the square root of their number', () => {
    const scatter = (averages: number) => {
      const levels = run(plain, { averages }, { ...SILENT, noisePower: -70 })
      const rest = Array.from({ length: 2000 }, (_, i) => levels[1000 + i]! - levels[999 + i]!)
      return Math.sqrt(rest.reduce((sum, d) => sum + d * d, 0) / rest.length)
    }
    expect(scatter(100) / scatter(1600)).toBeCloseTo(4, 0)
  })

  it('gives the same trace for the same seed and another for another', () => {
    const noisy = { ...SILENT, noisePower: -70 }
    const once = shoot(plain, noisy, SETTINGS, seededRandom(3)).levels
    expect(shoot(plain, noisy, SETTINGS, seededRandom(3)).levels).toEqual(once)
    expect(shoot(plain, noisy, SETTINGS, seededRandom(4)).levels).not.toEqual(once)
  })
})

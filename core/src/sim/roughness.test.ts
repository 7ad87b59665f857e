import { describe, expect, it } from 'vitest'
import { mean, sampleCorrelation, standardDeviation } from 'simple-statistics'
import { seededRandom } from '../math/index.ts'
import { DEFAULT_INSTRUMENT, shoot, type Instrument } from './index.ts'

const model = {
  elements: [{ kind: 'span' as const, length: 12_000, attenuation: 0.2e-3, backscatter: -82, groupIndex: 1.468 }],
  endReflectance: null,
}

/** Relative deviation of the backscatter of 2 to 10 km from its own mean course, at points a metre apart. */
function roughness(pulseWidth: number, width: number, averages = 1e12, seed = 1): number[] {
  const instrument: Instrument = { ...DEFAULT_INSTRUMENT, timeConstant: 0, coherence: { width, seed } }
  const settings = { wavelength: 1550, pulseWidth, spacing: 1, range: 12_500, averages, groupIndex: 1.468 }
  const { levels } = shoot(model, instrument, settings, seededRandom(seed + 7))
  return Array.from({ length: 8000 }, (_, k) => {
    const at = 2000 + k
    return (levels[at]! - levels[2000]! + 0.2e-3 * k) / (5 / Math.LN10)
  })
}

describe('interference in the light that comes back', () => {
  // Relative standard deviation 1/√(source width × pulse): Shimizu et al., Journal of Lightwave Technology 10 (1992) 982.
  it.each([
    [450e9, 20e-9],
    [450e9, 100e-9],
    [1500e9, 20e-9],
  ])('scatters by 1/√(Δν·W): %s Hz, %s s', (width, pulse) => {
    const expected = 1 / Math.sqrt(width * pulse)
    const found = mean([1, 2, 3].map((seed) => standardDeviation(roughness(pulse, width, 1e12, seed))))
    expect(found / expected).toBeGreaterThan(0.9)
    expect(found / expected).toBeLessThan(1.1)
  })

  it('of 450 GHz and 20 ns is 0.023 dB on the display (worked example of the relation)', () => {
    const display = (5 / Math.LN10) * standardDeviation(roughness(20e-9, 450e9))
    expect(display).toBeCloseTo(0.023, 2)
  })

  it('is correlated over a pulse and no longer', () => {
    // 100 ns are 10.2 m; half a pulse apart two readings share half their light.
    const rough = roughness(100e-9, 450e9)
    const at = (lag: number) => sampleCorrelation(rough.slice(0, -lag), rough.slice(lag))
    expect(at(5)).toBeGreaterThan(0.35)
    expect(at(5)).toBeLessThan(0.65)
    expect(Math.abs(at(20))).toBeLessThan(0.15)
  })

  it('is the same however long is averaged', () => {
    const [short, long] = [roughness(100e-9, 450e9, 1e11), roughness(100e-9, 450e9, 1e13)]
    expect(sampleCorrelation(short, long)).toBeGreaterThan(0.98)
  })
})

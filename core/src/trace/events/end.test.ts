import { describe, expect, it } from 'vitest'
import { seededRandom } from '../../math/random.ts'
import { drawTrace } from '../../../test/straightTrace.ts'
import { analyzeTrace } from '../analyze.ts'
import { pulseLengthOf } from '../trace.ts'

/** A fiber in linear power with a receiver's noise, so that it can fade away as fibers do. */
function fading(options: { end?: number; attenuation?: number; noise?: number; fold?: boolean }) {
  const { end = Infinity, attenuation = 0.2e-3, noise = 3e-5, fold = false } = options
  const trace = drawTrace({ points: 16_000, spacing: 5, pulseWidth: 200e-9 })
  const random = seededRandom(11)
  trace.levels = Float64Array.from({ length: 16_000 }, (_, i) => {
    const x = i * 5
    const light = x < end ? 10 ** ((-5 - attenuation * x) / 5) : 0
    const power = light + noise * random.normal()
    const shown = fold ? Math.abs(power) : power
    return shown > 0 ? 5 * Math.log10(shown) : -65.535
  })
  return analyzeTrace(trace)
}

describe('the end of a fiber', () => {
  it.each([false, true])('that breaks without a reflection is an edge (noise folded: %s)', (fold) => {
    const analysis = fading({ end: 40_000, fold })
    const end = analysis.events.at(-1)!
    expect(end.kind).toBe('end')
    expect(Math.abs(end.distance - 40_000)).toBeLessThan(25)
    expect(end.reflectance).toBeNull()
  })

  it.each([false, true])('that fades into the noise is none: it says how far one sees (noise folded: %s)', (fold) => {
    const analysis = fading({ attenuation: 0.35e-3, fold })
    expect(analysis.events.at(-1)!.kind).not.toBe('end')
    expect(analysis.warnings.map((warning) => warning.code)).toContain('fades')
    expect([analysis.length, analysis.why.length]).toEqual([null, 'below-noise'])
  })

  it('close to the reach of the trace is still told from fading when it falls by several times the noise', () => {
    // −5 − 0.2·55 = −16 dB: power 6.3e-4, 21 times the noise.
    const end = fading({ end: 55_000 }).events.at(-1)!
    expect(end.kind).toBe('end')
    expect(Math.abs(end.distance - 55_000)).toBeLessThan(40)
  })

  it('a reflection beyond it is not taken for fiber', () => {
    const trace = drawTrace({ end: 8000, peaks: [] })
    for (let i = 10_000; i < 10_005; i++) trace.levels[i] = -12
    expect(Math.abs(analyzeTrace(trace).events.at(-1)!.distance - 8000)).toBeLessThan(6)
  })

  it('that shows only as reflections out of the noise is the tallest of them, the others are connections before it', () => {
    // At 62 km the fiber lies at −26 dB, in the noise; the last connection stands out of it, the cord's open end higher.
    const trace = drawTrace({ points: 16_000, spacing: 5, pulseWidth: 200e-9 })
    const random = seededRandom(12)
    const pulse = pulseLengthOf(trace)
    const stands = (x: number, from: number, level: number) => (x >= from && x < from + pulse ? 10 ** (level / 5) : 0)
    trace.levels = Float64Array.from({ length: 16_000 }, (_, i) => {
      const x = i * 5
      const fiber = x < 62_150 ? 10 ** ((-5 - 0.35e-3 * x) / 5) : 0
      const power = fiber + stands(x, 62_000, -15) + stands(x, 62_150, -6) + 3e-5 * random.normal()
      return power > 0 ? 5 * Math.log10(power) : -65.535
    })
    const [connection, end] = analyzeTrace(trace).events.slice(-2)
    expect([connection!.kind, end!.kind]).toEqual(['reflective', 'end'])
    expect(Math.abs(connection!.distance - 62_000)).toBeLessThan(10)
    expect(Math.abs(end!.distance - 62_150)).toBeLessThan(10)
    expect([connection!.loss, connection!.reflectance]).toEqual([null, null])
  })

  it('so near the instrument that no fiber shows behind the front is anywhere before the last pulse came back', () => {
    // A break 30 m from the port, with a pulse of 102 m: one flat top of 132 m, and the receiver's recovery.
    const trace = drawTrace({ points: 8000, spacing: 1, pulseWidth: 1000e-9 })
    const pulse = pulseLengthOf(trace)
    const random = seededRandom(4)
    trace.levels = Float64Array.from({ length: 8000 }, (_, i) => {
      const since = i - 30 - pulse
      const power = since < 0 ? 1 : Math.exp(-since / 40) + 1e-3 * Math.exp(-since / 200) + 1e-6 * random.normal()
      return Math.max(-60, 5 * Math.log10(Math.max(1e-12, power)))
    })
    const end = analyzeTrace(trace).events.at(-1)!
    expect(end.kind).toBe('end')
    expect(end.distance - 2 * end.distanceSigma).toBeLessThan(30)
    expect(end.distance + 2 * end.distanceSigma).toBeGreaterThan(30)
    expect(end.distance + 2 * end.distanceSigma).toBeLessThan(pulse)
  })
})

import { describe, expect, it } from 'vitest'
import { drawTrace } from '../../../../test/straightTrace.ts'
import { seededRandom } from '../../../math/random.ts'
import { analyzeTrace } from '../../analyze.ts'
import { pulseLengthOf } from '../../trace.ts'
import { laggingCourse, levelPart, roundedCourse } from './course.ts'

const SPACING = 5
const PULSE_WIDTH = 20e-6

interface Joint {
  at: number
  loss: number
  /** Attenuation behind it, dB/km. */
  attenuation: number
}

/**
 * A trace of few pulses, added up point by point: all the light that one rectangular pulse holds, behind a receiver with one
 * time constant.
 */
function drawn(joints: readonly Joint[], length: number, lag = 60) {
  const trace = drawTrace({ points: 24_000, spacing: SPACING, pulseWidth: PULSE_WIDTH })
  const random = seededRandom(3)
  const pulse = Math.round(pulseLengthOf(trace) / SPACING)
  let level = -10
  let slope = 0.33
  const ideal = Float64Array.from({ length: trace.levels.length }, (_, i) => {
    const x = i * SPACING
    for (const { at, loss, attenuation } of joints)
      if (at > x - SPACING && at <= x) {
        level -= loss
        slope = attenuation
      }
    level -= (slope * SPACING) / 1000
    return x < length ? 10 ** (level / 5) : 0
  })
  let [held, shown, noise] = [0, 0, 0]
  const keep = Math.exp(-SPACING / lag)
  trace.levels = Float64Array.from(ideal, (light, i) => {
    held += light - (ideal[i - pulse] ?? 0)
    shown = keep * shown + (1 - keep) * (held / pulse)
    noise = 0.9 * noise + Math.sqrt(1 - 0.81) * random.normal()
    return Math.round(5000 * Math.log10(Math.abs(shown + 2e-9 * noise) + 1e-13)) / 1000
  })
  return analyzeTrace(trace)
}

describe('joints that stand two pulses apart', () => {
  it('are all found, with their losses, beside a large one and where the attenuation changes at each', () => {
    const joints: Joint[] = [
      { at: 9000, loss: 0.12, attenuation: 0.34 },
      { at: 13_500, loss: -0.08, attenuation: 0.32 },
      { at: 18_000, loss: 1.3, attenuation: 0.335 },
      { at: 22_500, loss: 0.06, attenuation: 0.325 },
      { at: 27_000, loss: 0.2, attenuation: 0.33 },
      { at: 32_000, loss: -0.1, attenuation: 0.34 },
    ]
    const found = drawn(joints, 45_000).events.filter(({ kind }) => kind !== 'start' && kind !== 'end')
    expect(found).toHaveLength(joints.length)
    found.forEach((event, k) => {
      expect(Math.abs(event.distance - joints[k]!.at), `place of ${k}`).toBeLessThan(250)
      expect(Math.abs(event.loss! - joints[k]!.loss), `loss of ${k}`).toBeLessThan(
        Math.max(0.012, 3 * event.lossSigma!),
      )
    })
  })

  it('are none where only the attenuation changes', () => {
    const joints = [
      { at: 12_000, loss: 0, attenuation: 0.35 },
      { at: 20_000, loss: 0, attenuation: 0.32 },
    ]
    const found = drawn(joints, 40_000).events.filter(({ kind }) => kind !== 'start' && kind !== 'end')
    expect(found).toEqual([])
  })
})

describe('how a step comes', () => {
  it('in level: half of its light gathered, a step down to a quarter stands at 5/8 of the light', () => {
    const height = 5 * Math.log10(1 / 4)
    expect(levelPart(0.5, height) * height).toBeCloseTo(5 * Math.log10(5 / 8), 9)
    expect(levelPart(0.5, -0.001)).toBeCloseTo(0.5, 3)
  })

  it('behind a receiver with one time constant: the integral of its answer to the pulse', () => {
    const [length, lag] = [100, 15]
    const course = laggingCourse(length, lag)
    // Step by step from the differential equation; the edge begins where a reflection has risen to half.
    let [shown, gathered] = [0, 0]
    const dt = 0.01
    const half = lag * Math.LN2
    for (let t = 0; t < 250; t += dt) {
      shown += ((t < length ? 1 : 0) - shown) * (dt / lag)
      gathered += (shown * dt) / length
      if (Math.abs((t + dt) % 50) < dt) expect(course.part(t + dt - half)).toBeCloseTo(gathered, 2)
    }
    expect(course.part(-half)).toBe(0)
    expect(course.part(1000)).toBe(1)
  })

  it('of a raised cosine: x/2P − sin(πx/P)/2π of its light, half as high a half pulse after it begins', () => {
    const course = roundedCourse(100, 0)
    for (const x of [20, 50, 100, 150, 180])
      expect(course.part(x - 50)).toBeCloseTo(x / 200 - Math.sin((Math.PI * x) / 100) / (2 * Math.PI), 2)
    expect(roundedCourse(100, 15).part(60)).toBeLessThan(course.part(60) + 0.02)
  })
})

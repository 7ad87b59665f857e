import { describe, expect, it } from 'vitest'
import { peakFromReflectance } from '../../fiber/index.ts'
import { seededRandom } from '../../math/random.ts'
import { analyzeTrace } from '../analyze.ts'
import { UNNAMED, type Trace } from '../trace.ts'

/**
 * Traces made by convolving an ideal answer with a pulse given point by point: neither the simulator's closed forms nor
 * the analyser's ideas of a pulse are in them.
 */
const SPACING = 0.5
const METRES_PER_PULSE = 20
const P = METRES_PER_PULSE / SPACING

const SHAPES: Record<string, number[]> = {
  rectangle: Array.from({ length: P }, () => 1),
  triangle: Array.from({ length: 2 * P }, (_, i) => 1 - Math.abs(i - P) / P),
  'slow fall': Array.from({ length: 10 * P }, (_, i) => (i < P ? 1 : Math.exp(-(i - P) / (0.4 * P)))),
  'slow rise': Array.from({ length: 3 * P }, (_, i) =>
    i < P ? 1 - Math.exp(-i / (0.2 * P)) : Math.exp(-(i - P) / (0.2 * P)),
  ),
}

interface Answer {
  steps?: { at: number; loss: number }[]
  peaks?: { at: number; reflectance: number }[]
  noise?: number
  seed?: number
}

function convolved(shape: string, { steps = [], peaks = [], noise = 2e-7, seed = 1 }: Answer): Trace {
  const kernel = SHAPES[shape]!
  const area = kernel.reduce((a, b) => a + b, 0)
  const n = 12_000
  const ideal = Float64Array.from({ length: n }, (_, i) => {
    let level = -5 - 0.2e-3 * i * SPACING
    for (const { at, loss } of steps) if (i * SPACING >= at) level -= loss
    return 10 ** (level / 5)
  })
  // A reflection is so many times the backscatter of a pulse, at one point.
  for (const { at, reflectance } of peaks) {
    const i = Math.round(at / SPACING)
    const height = peakFromReflectance(-82, reflectance, pulseWidth())
    ideal[i]! += ideal[i]! * (10 ** (height / 5) - 1) * area * (Math.max(...kernel) / 1)
  }
  const random = seededRandom(seed)
  const out = new Float64Array(n)
  for (let i = 0; i < n; i++) {
    let sum = 0
    for (let k = 0; k < kernel.length && k <= i; k++) sum += kernel[k]! * ideal[i - k]!
    out[i] = 5 * Math.log10(Math.max(1e-13, sum / area + noise * random.normal()))
  }
  return {
    levels: out.map((level) => Math.round(level * 1000) / 1000),
    spacing: SPACING,
    firstDistance: 0,
    wavelength: 1550,
    pulseWidth: pulseWidth(),
    groupIndex: 1.468,
    backscatter: -82,
    averages: 1,
    range: n * SPACING,
    takenAt: '2026-01-01T00:00:00.000Z',
    ...UNNAMED,
  }
}

/** s of pulse for its metres. */
function pulseWidth(): number {
  return (METRES_PER_PULSE * 2 * 1.468) / 299_792_458
}

const inner = (trace: Trace) =>
  analyzeTrace(trace).events.filter((event) => event.kind !== 'start' && event.kind !== 'end')

describe.each(Object.keys(SHAPES))('a pulse shaped as a %s', (shape) => {
  it('shows a splice as one step with its loss', () => {
    const [event, ...others] = inner(convolved(shape, { steps: [{ at: 3000, loss: 0.2 }] }))
    expect(others).toEqual([])
    expect(event!.kind).toBe('step')
    expect(Math.abs(event!.loss! - 0.2)).toBeLessThan(0.01)
    expect(Math.abs(event!.distance - 3000)).toBeLessThan(METRES_PER_PULSE)
    expect(event!.extent).toBe(0)
  })

  it('shows a connector as one reflection, its loss measured after the pulse has gone', () => {
    const trace = convolved(shape, { steps: [{ at: 2500, loss: 0.3 }], peaks: [{ at: 2500, reflectance: -50 }] })
    const [event, ...others] = inner(trace)
    expect(others).toEqual([])
    expect(event!.kind).toBe('reflective')
    expect(Math.abs(event!.loss! - 0.3)).toBeLessThan(0.02)
    expect(Math.abs(event!.distance - 2500)).toBeLessThan(METRES_PER_PULSE)
  })

  it.each([-55, -45, -38])('measures no loss at a reflection of %i dB that has none', (reflectance) => {
    const [event, ...others] = inner(convolved(shape, { peaks: [{ at: 2500, reflectance }] }))
    expect(others).toEqual([])
    expect(Math.abs(event!.loss!)).toBeLessThan(0.01)
  })

  it('keeps the distance between two splices, whatever it does to each', () => {
    const trace = convolved(shape, {
      steps: [
        { at: 2000, loss: 0.3 },
        { at: 4000, loss: 0.3 },
      ],
    })
    const [a, b] = inner(trace)
    expect(b!.distance - a!.distance).toBeCloseTo(2000, -0.5)
  })

  it('keeps the distance between a connector and a splice to a part of the pulse', () => {
    const trace = convolved(shape, {
      steps: [
        { at: 1500, loss: 0.2 },
        { at: 3500, loss: 0.3 },
      ],
      peaks: [{ at: 1500, reflectance: -48 }],
    })
    const [connector, splice] = inner(trace)
    expect(Math.abs(splice!.distance - connector!.distance - 2000)).toBeLessThan(0.2 * METRES_PER_PULSE)
  })

  describe('beside connectors that show it', () => {
    // The highest top of a trace may be cut off: only a lower one shows the pulse for sure.
    const connectors = {
      peaks: [
        { at: 700, reflectance: -36 },
        { at: 1500, reflectance: -42 },
      ],
      noise: 2e-5,
    }

    it('shows both ends of a short piece that scatters less than the fiber around it, each with its size', () => {
      // Spliced in at a repair: down at its one end, up at the other, three quarters of a pulse or one and a half behind.
      for (const apart of [0.75, 1.5, 3]) {
        const steps = [
          { at: 3000, loss: 0.6 },
          { at: 3000 + apart * METRES_PER_PULSE, loss: -0.5 },
        ]
        const [, , first, second, ...others] = inner(convolved(shape, { ...connectors, steps }))
        expect(others).toEqual([])
        expect([first!.kind, second!.kind]).toEqual(['step', 'gain'])
        expect(Math.abs(first!.loss! - 0.6)).toBeLessThan(0.03)
        expect(Math.abs(first!.loss! + second!.loss! - 0.1)).toBeLessThan(0.02)
      }
    })

    it('shows two splices within a pulse length as two, each with its loss', () => {
      const [a, b] = [3000, 3000 + 0.9 * METRES_PER_PULSE]
      const steps = [
        { at: a, loss: 0.4 },
        { at: b, loss: 0.25 },
      ]
      const [, , first, second, ...others] = inner(convolved(shape, { ...connectors, steps }))
      expect(others).toEqual([])
      expect(Math.abs(first!.loss! - 0.4)).toBeLessThan(Math.max(0.02, 3 * first!.lossSigma!))
      expect(Math.abs(second!.loss! - 0.25)).toBeLessThan(Math.max(0.02, 3 * second!.lossSigma!))
      expect(Math.abs(second!.distance - first!.distance - (b - a))).toBeLessThan(0.15 * METRES_PER_PULSE)
    })

    it.each([1, 2, 3, 4, 5])('shows one splice as one (noise %i)', (seed) => {
      const steps = [{ at: 3000, loss: 0.6 }]
      const [, , splice, ...others] = inner(convolved(shape, { ...connectors, steps, seed }))
      expect(others).toEqual([])
      expect(splice!.extent).toBe(0)
      expect(Math.abs(splice!.loss! - 0.6)).toBeLessThan(0.01)
    })
  })
})

describe('a loss that is spread', () => {
  it('over 120 m is told from a point, with its extent', () => {
    const steps = Array.from({ length: 60 }, (_, k) => ({ at: 3000 + 2 * k, loss: 0.5 / 60 }))
    const [event] = inner(convolved('rectangle', { steps }))
    expect(event!.loss!).toBeCloseTo(0.5, 1)
    expect(event!.extent).toBeGreaterThan(50)
    expect(event!.extent).toBeLessThan(180)
    expect(Math.abs(event!.distance - 3000)).toBeLessThan(60)
  })
})

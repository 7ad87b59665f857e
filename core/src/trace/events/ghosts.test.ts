import { describe, expect, it } from 'vitest'
import { seededRandom } from '../../math/index.ts'
import { shoot, type FiberModel, type Instrument, type ShotSettings } from '../../sim/index.ts'
import { analyzeTrace } from '../analyze.ts'
import { UNNAMED, type Trace } from '../trace.ts'

const INSTRUMENT: Instrument = {
  name: 'made up',
  noisePower: -75,
  saturation: -25,
  timeConstant: 5e-9,
  backscatterSetting: null,
}
const SETTINGS: ShotSettings = {
  wavelength: 1550,
  pulseWidth: 50e-9,
  spacing: 1,
  range: 9000,
  averages: 2 ** 18,
  groupIndex: 1.468,
}
const span = (length: number) => ({
  kind: 'span' as const,
  length,
  attenuation: 0.2e-3,
  backscatter: -82,
  groupIndex: 1.468,
})
const joint = (loss: number, reflectance: number | null) => ({ kind: 'joint' as const, loss, reflectance })

function analyzed(model: FiberModel) {
  const { levels, firstDistance } = shoot(model, INSTRUMENT, SETTINGS, seededRandom(3))
  const trace: Trace = {
    levels,
    firstDistance,
    spacing: SETTINGS.spacing,
    wavelength: 1550,
    pulseWidth: SETTINGS.pulseWidth,
    groupIndex: SETTINGS.groupIndex,
    backscatter: -82,
    averages: SETTINGS.averages,
    range: SETTINGS.range,
    takenAt: '2026-01-01T00:00:00.000Z',
    ...UNNAMED,
  }
  return analyzeTrace(trace)
}

const at = (analysis: ReturnType<typeof analyzed>, distance: number) =>
  analysis.events.filter((event) => event.kind !== 'start' && Math.abs(event.distance - distance) < 8)

describe('ghosts (echoes: IEC 61746-1 describes them; the distance arithmetic is geometry)', () => {
  // A strong connector at 1000 m and another at 1400 m: light runs to and fro between port and connector.
  const strong: FiberModel = {
    elements: [joint(0, -30), span(1000), joint(0.4, -24), span(400), joint(0.3, -26), span(5600)],
    endReflectance: null,
  }

  it('at twice the distance of a strong reflection is named as what it is', () => {
    const [ghost] = at(analyzed(strong), 2000)
    expect(ghost!.kind).toBe('ghost')
    expect(ghost!.echoOf).toContain('the port')
    expect([ghost!.loss, ghost!.reflectance]).toEqual([null, null])
  })

  it('at the sum of two distances is named too', () => {
    expect(at(analyzed(strong), 2400)[0]?.kind).toBe('ghost')
  })

  it('between two connectors stands as far beyond the second as it is behind the first', () => {
    const between: FiberModel = {
      elements: [span(1000), joint(0.3, -20), span(400), joint(0.3, -20), span(5600)],
      endReflectance: null,
    }
    // 1400 + 1400 − 1000 = 1800 m.
    expect(at(analyzed(between), 1800)[0]?.kind).toBe('ghost')
  })

  it('a connector that loses light is none, even where an echo would stand', () => {
    const model: FiberModel = {
      elements: [joint(0, -30), span(1000), joint(0.4, -24), span(1000), joint(0.5, -45), span(5000)],
      endReflectance: null,
    }
    const [event] = at(analyzed(model), 2000)
    expect(event!.kind).toBe('reflective')
    expect(event!.loss!).toBeCloseTo(0.5, 1)
  })

  it('a lossless reflection far stronger than any echo there is none', () => {
    const model: FiberModel = {
      elements: [joint(0, -50), span(1000), joint(0.4, -50), span(1000), joint(0.01, -35), span(5000)],
      endReflectance: null,
    }
    expect(at(analyzed(model), 2000)[0]?.kind).toBe('reflective')
  })

  it('a splice fault under a ghost is still found by its loss', () => {
    const model: FiberModel = {
      elements: [joint(0, -30), span(1000), joint(0.4, -24), span(1002), joint(0.6, null), span(4998)],
      endReflectance: null,
    }
    const found = at(analyzed(model), 2001)
    const loss = found.reduce((sum, event) => sum + (event.loss ?? 0), 0)
    expect(loss).toBeCloseTo(0.6, 1)
  })
})

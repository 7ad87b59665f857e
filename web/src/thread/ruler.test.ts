import { scaleLinear } from 'd3'
import { describe, expect, it } from 'vitest'
import type { LocateView } from '../worker/view.ts'
import { rulerTicks, rulerValue } from './axisTicks.ts'
import { duration } from '../ui/time.ts'

// 1,000 m of ground, then a coil of 30 m of sheath, then 500 m more; sheath 1 % longer than ground, fiber 1 % than sheath.
const view = {
  groundLength: 1500,
  chainageAtZero: 2000,
  chainageSign: -1,
  rulers: {
    ground: [0, 1000, 1000, 1500],
    sheath: [0, 1010, 1040, 1545],
    optical: [0, 1020.1, 1050.4, 1560.45],
  },
} as LocateView

describe('the ruler', () => {
  it('counts chainage, sheath or fiber', () => {
    expect(rulerValue(view, 'ground', 500)).toBe(1500)
    expect(rulerValue(view, 'sheath', 500)).toBe(505)
    expect(rulerValue(view, 'optical', 500)).toBeCloseTo(510.05)
    expect(rulerValue(view, 'sheath', 1250)).toBeCloseTo(1292.5)
  })

  it('before a coil it counts what lies before it', () => {
    expect(rulerValue(view, 'sheath', 1000)).toBe(1010)
    expect(rulerValue(view, 'optical', 1000)).toBeCloseTo(1020.1)
  })

  it('has round figures of what it counts, each at its place on the ground', () => {
    const scale = scaleLinear([0, 1500], [0, 900])
    for (const kind of ['sheath', 'optical'] as const) {
      const marks = rulerTicks(view, scale, kind)
      expect(marks.length).toBeGreaterThan(3)
      for (const { ground, label } of marks) {
        const value = Number(label.replaceAll(/\D/g, ''))
        expect(value % 50).toBe(0)
        // A figure inside the coil stands where the ground stands still.
        if (ground !== 1000) expect(rulerValue(view, kind, ground)).toBeCloseTo(value, 6)
      }
    }
  })
})

describe('a length of time', () => {
  it.each([
    [47 * 60_000, '47 min'],
    [(3 * 60 + 5) * 60_000, '3 h 05 min'],
    [(2 * 1440 + 4 * 60) * 60_000, '2 d 4 h'],
    [-5, '0 min'],
  ])('%i ms is %s', (milliseconds, words) => {
    expect(duration(milliseconds)).toBe(words)
  })
})

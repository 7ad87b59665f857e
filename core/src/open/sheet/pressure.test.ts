import { describe, expect, it } from 'vitest'
import { gaugeAt, judgePressure, type PressureTest } from './pressure.ts'

const LIMIT = { test: 40_000, minutes: 15, mayLose: 2000 }
const test = (some: Partial<PressureTest>): PressureTest => ({
  startGauge: 40_000,
  startTemperature: 20,
  endGauge: 40_000,
  endTemperature: 20,
  minutes: 15,
  ambient: 101_300,
  ...some,
})

describe('gas law at constant volume', () => {
  it('40 kPa gauge at 20 °C reads 35.2 kPa at 10 °C without any leak, ambient 101.3 kPa (common practice)', () => {
    expect(gaugeAt(40_000, 20, 10, 101_300) / 1000).toBeCloseTo(35.2, 1)
  })

  it('by hand: 141.3 kPa · 308.15 K / 278.15 K = 156.54 kPa absolute, 55.24 kPa gauge', () => {
    expect(gaugeAt(40_000, 5, 35, 101_300) / 1000).toBeCloseTo(55.24, 2)
  })

  it('comes back to where it began', () => {
    expect(gaugeAt(gaugeAt(40_000, 20, -7, 98_000), -7, 20, 98_000)).toBeCloseTo(40_000, 6)
  })

  it('a vacuum of the whole atmosphere stays one at any temperature', () => {
    expect(gaugeAt(-101_300, 20, 50, 101_300)).toBeCloseTo(-101_300, 6)
  })
})

describe('judgement', () => {
  it.each<[string, Partial<PressureTest>, string]>([
    ['nothing lost', {}, 'holds'],
    ['a night that cools by 10 K is no leak', { endGauge: 35_200, endTemperature: 10 }, 'holds'],
    ['the same reading at the same temperature is one', { endGauge: 35_200 }, 'leaks'],
    ['warming hides a leak from the gauge alone', { endTemperature: 30 }, 'leaks'],
    ['nearer to its limit than the readings can tell', { endGauge: 38_100 }, 'close'],
    ['above the closure’s figure', { startGauge: 45_000, endGauge: 45_000 }, 'not a test'],
    ['too little pressure', { startGauge: 20_000, endGauge: 20_000 }, 'not a test'],
    ['too short', { minutes: 14 }, 'not a test'],
  ])('%s', (_name, readings, outcome) => {
    expect(judgePressure(test(readings), LIMIT).outcome).toBe(outcome)
  })

  it('says what cooling alone explains', () => {
    const { reasons } = judgePressure(test({ endGauge: 35_200, endTemperature: 10 }), LIMIT)
    expect(reasons[0]).toBe('cooling alone takes 40.0 kPa to 35.2 kPa')
  })

  it('carries the uncertainty of both gauges and both thermometers (JCGM 100, root of the sum of squares, by hand)', () => {
    // √(200² + 200² + 2·(141 300 / 293.15 · 0.5)²) Pa = √(80 000 + 2·241.0²) = 442.7 Pa
    expect(judgePressure(test({}), LIMIT).lostSigma).toBeCloseTo(442.7, 0)
  })
})

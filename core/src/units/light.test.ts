import { cumulativeStdNormalProbability } from 'simple-statistics'
import { describe, expect, it } from 'vitest'
import {
  dbmFromMilliwatts,
  delayFromDistance,
  displayLevel,
  distanceFromDelay,
  lossFromPowers,
  milliwattsFromDbm,
  normalCumulative,
  powerFromDisplayLevel,
  pulseLength,
  SPEED_OF_LIGHT,
  studentQuantile,
  upperTailQuantile,
} from './index.ts'

describe('light and distance', () => {
  it('uses the exact speed of light (SI)', () => {
    expect(SPEED_OF_LIGHT).toBe(299_792_458)
  })

  it('smears a 10 ns pulse over about 1.0 m of fiber at n = 1.468 (Derickson, Fiber Optic Test and Measurement)', () => {
    expect(pulseLength(10e-9, 1.468)).toBeCloseTo(1.021, 3)
  })

  it('moves an event at 10 km by 6.8 m when the index is wrong by 0.001 (index arithmetic)', () => {
    const delay = delayFromDistance(10_000, 1.468)
    expect(10_000 - distanceFromDelay(delay, 1.469)).toBeCloseTo(6.8, 1)
  })

  it('turns distance to delay and back without loss', () => {
    for (const distance of [0, 1, 8230.5, 41_250])
      expect(distanceFromDelay(delayFromDistance(distance, 1.4682), 1.4682)).toBeCloseTo(distance, 9)
  })
})

describe('decibels', () => {
  it.each([
    [-20, 0.01],
    [-20.4, 0.009_12],
    [0, 1],
  ])('%f dBm is %f mW (definition of dBm; common practice: −20.4 dBm is 9.1 µW)', (dbm, milliwatts) => {
    expect(milliwattsFromDbm(dbm)).toBeCloseTo(milliwatts, 5)
    expect(dbmFromMilliwatts(milliwatts)).toBeCloseTo(dbm, 3)
  })

  it('reads −20.0 then −20.5 dBm as 0.5 dB of loss (common practice, no source)', () => {
    expect(lossFromPowers(-20, -20.5)).toBeCloseTo(0.5, 12)
  })

  it('shows half of the two-way loss on an OTDR display', () => {
    expect(displayLevel(0.1)).toBeCloseTo(-5, 12)
    expect(powerFromDisplayLevel(displayLevel(0.037))).toBeCloseTo(0.037, 12)
  })
})

describe('normal distribution', () => {
  it.each([
    [0.1, 1.28155],
    [0.01, 2.32635],
    [1e-4, 3.71902],
    [1e-6, 4.75342],
  ])('P(Z > z) = %f at z = %f (Abramowitz & Stegun, table 26.5)', (p, z) => {
    expect(upperTailQuantile(p)).toBeCloseTo(z, 3)
  })

  it.each([-2.5, -1, 0, 0.3, 1.96])('cumulative probability at %f agrees with the statistics package', (z) => {
    expect(normalCumulative(z)).toBeCloseTo(cumulativeStdNormalProbability(z), 3)
  })

  // Student's t, one-sided, from the published tables (values from memory).
  it.each([
    [2.3263, 30, 2.457],
    [2.3263, 60, 2.39],
    [3.0902, 30, 3.385],
    [3.0902, 120, 3.16],
  ])('Student’s quantile for z = %f and %i degrees of freedom is %f', (z, degrees, t) => {
    expect(Math.abs(studentQuantile(z, degrees) / t - 1)).toBeLessThan(0.005)
  })
})

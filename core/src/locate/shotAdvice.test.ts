import { describe, expect, it } from 'vitest'
import { twoCablePlant } from '../../test/plants.ts'
import { buildThread } from '../plant/index.ts'
import { adviseShot, TYPICAL_INSTRUMENT } from './shotAdvice.ts'

const thread = buildThread(twoCablePlant(), 'l')

/** The plant drawn out to a length, m. */
function longThread(length: number) {
  const plant = twoCablePlant()
  plant.cables[1]!.to = length
  plant.nodes.find((node) => node.chainage === 3000)!.chainage = length
  return buildThread(plant, 'l')
}

describe('how to shoot', () => {
  it('a short link takes a short pulse, a long one a longer pulse', () => {
    const short = adviseShot(thread, null, 1550)
    const long = adviseShot(longThread(80_000), null, 1550)
    expect(short.pulse).toBeLessThan(long.pulse)
    expect(short.smallestStep).toBeLessThanOrEqual(0.05)
  })

  it('the range holds the link and both cords with a quarter to spare', () => {
    const advice = adviseShot(thread, null, 1550)
    expect(advice.range).toBeGreaterThanOrEqual(1.25 * (thread.fiberLength + 2 * advice.cords))
  })

  it('10 ns of pulse is a dead zone of about 1.0 m (Derickson), a loss needs three of them (common practice)', () => {
    const advice = adviseShot(thread, 300, 1550, { ...TYPICAL_INSTRUMENT, dynamicRange: 70, pulses: [10e-9] })
    expect(advice.eventDeadZone).toBeCloseTo(1.02, 1)
    expect(advice.attenuationDeadZone).toBeCloseTo(3 * advice.eventDeadZone, 6)
    expect(advice.cords).toBeGreaterThanOrEqual(advice.attenuationDeadZone)
  })

  it('halving the pulse costs 1.5 dB of headroom, doubling the averaging brings 0.75 dB', () => {
    const at = (pulse: number, minutes: number) =>
      adviseShot(thread, null, 1550, { ...TYPICAL_INSTRUMENT, ratedMinutes: minutes, pulses: [pulse] })
    // One pulse only: the averaging chosen is the same, the rating shifts it.
    const long = at(200e-9, 3)
    const short = at(100e-9, 3)
    if (long.minutes === short.minutes) expect(long.headroom - short.headroom).toBeCloseTo(1.505, 2)
    expect(at(200e-9, 6).headroom - at(200e-9, 3).headroom).toBeCloseTo(
      -0.753 + shift(at(200e-9, 6).minutes, at(200e-9, 3).minutes),
      2,
    )
  })

  it('says what can’t be had instead of promising it', () => {
    const advice = adviseShot(longThread(200_000), null, 1550)
    expect(advice.smallestStep).toBeGreaterThan(0.05)
    expect(advice.remarks.join()).toMatch(/from the other end/)
  })
})

function shift(a: number, b: number): number {
  return 2.5 * Math.log10(a / b)
}

import { describe, expect, it } from 'vitest'
import { twoCablePlant } from '../../../test/plants.ts'
import { buildThread } from '../../plant/index.ts'
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

  it('halving the pulse costs 1.5 dB of light and 0.75 dB of noise bandwidth, doubling the averaging brings 0.75 dB', () => {
    // One pulse to choose and a range that is always enough: the averaging chosen is the same.
    const at = (pulse: number, ratedMinutes: number) =>
      adviseShot(thread, null, 1550, { ...TYPICAL_INSTRUMENT, dynamicRange: 60, ratedMinutes, pulses: [pulse] })
    expect(at(200e-9, 3).headroom - at(100e-9, 3).headroom).toBeCloseTo(1.505 + 0.753, 2)
    expect(at(200e-9, 3).headroom - at(200e-9, 6).headroom).toBeCloseTo(0.753, 2)
  })

  it('41 km on a typical instrument take tens to hundreds of ns, as common practice has it', () => {
    const { pulse, minutes } = adviseShot(longThread(41_000), null, 1550)
    expect(pulse).toBeGreaterThanOrEqual(30e-9)
    expect(pulse).toBeLessThanOrEqual(300e-9)
    expect(minutes).toBeLessThanOrEqual(3)
  })

  it('says what can’t be had instead of promising it', () => {
    const advice = adviseShot(longThread(200_000), null, 1550)
    expect(advice.smallestStep).toBeGreaterThan(0.05)
    expect(advice.remarks.join()).toMatch(/from the other end/)
  })
})

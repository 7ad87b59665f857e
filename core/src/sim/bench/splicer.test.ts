import { mean } from 'simple-statistics'
import { describe, expect, it } from 'vitest'
import { PLANTED_CAUSES, SplicerStandIn, type Aligner, type PlantedCause } from '../index.ts'

const made = (aligner: Aligner, cause: PlantedCause, count = 300) => {
  const machine = new SplicerStandIn(5, aligner, cause)
  return Array.from({ length: count }, () => machine.splice())
}
const estimates = (aligner: Aligner, cause: PlantedCause) => mean(made(aligner, cause).map(({ estimate }) => estimate!))
const angles = (cause: PlantedCause) =>
  mean(made('core', cause).flatMap(({ cleaveLeft, cleaveRight }) => [cleaveLeft, cleaveRight]))

describe('the simulated splicer', () => {
  it('is the same for the same seed', () => {
    expect(made('core', 'none', 20)).toEqual(made('core', 'none', 20))
  })

  it('joins better the more it sees: cores, claddings, grooves alone (common practice)', () => {
    expect(estimates('core', 'none')).toBeLessThan(estimates('active', 'none'))
    expect(estimates('active', 'none')).toBeLessThan(estimates('fixed', 'none'))
  })

  it('healthy work on cores is good: under 0.05 dB on average, ends under half a degree', () => {
    expect(estimates('core', 'none')).toBeLessThan(0.05)
    expect(angles('none')).toBeLessThan(0.5)
  })

  it('dirt moves fibers, a worn blade angles, mode fields of 9.2 and 7.5 µm cost their 0.18 dB (Marcuse)', () => {
    expect(mean(made('core', 'dirty groove').map(({ offset }) => offset))).toBeGreaterThan(1.5)
    expect(angles('worn blade')).toBeGreaterThan(2 * angles('none'))
    const floor = (cause: PlantedCause) => Math.min(...made('core', cause).map(({ estimate }) => estimate!))
    // The picture shows part of it.
    expect(floor('mode fields') - floor('none')).toBeGreaterThan(0.1)
    expect(floor('mode fields') - floor('none')).toBeLessThan(0.25)
  })

  it('old electrodes refuse calibrations, and multimode is refused by all', () => {
    const refused = (cause: PlantedCause) => {
      const machine = new SplicerStandIn(9, 'core', cause)
      return Array.from({ length: 200 }, () => machine.calibrate()).filter((one) => one === 'refused').length
    }
    expect(refused('old electrodes')).toBeGreaterThan(2 * refused('none'))
    for (const cause of PLANTED_CAUSES)
      expect(new SplicerStandIn(1, 'core', cause).calibrate('multimode')).toBe('refused')
  })
})

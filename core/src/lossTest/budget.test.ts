import { describe, expect, it } from 'vitest'
import { twoCablePlant } from '../../test/plants.ts'
import { attenuationAllowed, lossBudget } from '../prove/index.ts'

const plant = twoCablePlant()
const link = plant.links[0]!

describe('the budget of TIA-568.3-D, by hand', () => {
  // a: (1000 · 1.01 + 10 + 12) · 1.005 + 2 + 1.5 = 1040.66 m; b: (2000 · 1.02 + 14 + 30 + 8) · 1.01 + 1.5 + 2 = 2116.42 m.
  // 3.15708 km · 0.5 dB/km + 2 pairs · 0.75 dB + 1 splice · 0.3 dB.
  it('adds length, pairs and splices; a repair’s splices too', () => {
    expect(lossBudget(plant, link, 1550).allowed).toBeCloseTo(3.37854, 9)
    expect(lossBudget(plant, link, 1310, 'one-cord', 2).allowed).toBeCloseTo(3.97854, 9)
    expect(lossBudget(plant, link, 1550).parts.map(({ what, total }) => `${what} ${total.toFixed(2)}`)).toEqual([
      'km of a 0.52',
      'km of b 1.06',
      'mated pairs 1.50',
      'splices 0.30',
    ])
  })

  it('counts one pair less for two cords, two less for three', () => {
    expect(lossBudget(plant, link, 1550, 'two-cord').allowed).toBeCloseTo(3.37854 - 0.75, 9)
    expect(lossBudget(plant, link, 1550, 'three-cord').allowed).toBeCloseTo(3.37854 - 1.5, 9)
  })

  it.each([
    ['OM1', 850, 3.5],
    ['OM2', 850, 3.5],
    ['OM3', 850, 3],
    ['OM4', 1300, 1.5],
    ['G.652.D', 1310, 0.5],
    ['G.657.A1', 1550, 0.5],
  ])('%s at %i nm: %f dB/km', (type, wavelength, allowed) => {
    expect(attenuationAllowed(type, wavelength)!.value).toBe(allowed)
  })

  it('a short multimode cable with two pairs may lose under 1.6 dB (common practice)', () => {
    const short = 0.03 * attenuationAllowed('OM3', 850)!.value + 2 * 0.75
    expect(short).toBeLessThan(1.6)
    expect(short).toBeGreaterThan(1.5)
  })

  it('without a limit for the fiber there is no budget, and it says why', () => {
    expect(attenuationAllowed('OM3', 1550)).toBeNull()
    expect(attenuationAllowed('G.652.D', 850)).toBeNull()
    const { allowed, missing } = lossBudget(plant, link, 850)
    expect(allowed).toBeNull()
    expect(missing).toBe('no limit is here for G.652.D at 850 nm')
  })
})

import { describe, expect, it } from 'vitest'
import { joinCrowds, type Ramp } from './ramps.ts'

const ramp = (index: number, rise: number): Ramp => ({ index, first: index, last: index, rise, significance: 9 })

describe('changes that crowd together', () => {
  it('are one spread loss from three on, with its whole size and stretch', () => {
    const [one, ...others] = joinCrowds([ramp(100, -0.1), ramp(130, -0.2), ramp(155, -0.1), ramp(900, -0.3)], 40)
    expect(one).toMatchObject({ first: 100, last: 155, index: 128 })
    expect(one!.rise).toBeCloseTo(-0.4)
    expect(others).toEqual([ramp(900, -0.3)])
  })

  it('are left alone when there are two, or when one of them gives the light back', () => {
    const two = [ramp(100, -0.1), ramp(130, -0.2)]
    expect(joinCrowds(two, 40)).toEqual(two)
    const mixed = [ramp(100, -0.1), ramp(130, 0.1), ramp(160, -0.1)]
    expect(joinCrowds(mixed, 40)).toEqual(mixed)
    const apart = [ramp(100, -0.1), ramp(200, -0.1), ramp(300, -0.1)]
    expect(joinCrowds(apart, 40)).toEqual(apart)
  })
})

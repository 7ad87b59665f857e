import { describe, expect, it } from 'vitest'
import { fieldCase, shootFieldCase } from '../../../test/fieldCases.ts'
import { LINK } from '../../../test/randomFault.ts'
import { locateFaults } from '../index.ts'

describe('a loss that one wavelength does not show by itself', () => {
  it('is measured at the place that the other found: a bend of 0.12 dB at 1550 nm loses 0.018 dB at 1310 nm', () => {
    const field = fieldCase(600_010)
    expect(field.kind).toBe('macrobend')
    const { faults } = locateFaults({ plant: field.records, linkId: LINK, ...shootFieldCase(field, [1310, 1550]) })
    const fault = faults.find(({ chainage }) => Math.abs(chainage - field.chainages[0]!) < 30)!
    expect(fault.loss['1550']).toBeCloseTo(0.117, 2)
    expect(fault.loss['1310']).toBeCloseTo(0.018, 2)
    expect(fault.causes[0]!.cause).toBe('macrobend')
  })
})

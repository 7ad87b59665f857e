import { describe, expect, it } from 'vitest'
import { isSameWavelength, nominalWavelengths } from './wavelength.ts'

describe('wavelengths by their names', () => {
  it('calls sources of one nominal wavelength by one name', () => {
    const names = nominalWavelengths([1551, 1312, 1549, 1307, 1627])
    expect([1549, 1551].map((one) => names.get(one))).toEqual([1550, 1550])
    expect([1307, 1312].map((one) => names.get(one))).toEqual([1310, 1310])
    expect(names.get(1627)).toBe(1625)
  })

  it('tells the long multimode wavelength from the short single-mode one', () => {
    expect([...nominalWavelengths([849, 1302]).values()]).toEqual([850, 1300])
  })

  it('calls a source that is near none by its own figure, and two groups never by one name', () => {
    expect(nominalWavelengths([1383]).get(1383)).toBe(1383)
    expect([...nominalWavelengths([1535, 1560]).values()]).toEqual([1550, 1560])
  })

  it('takes sources 15 nm apart for one and 16 nm apart for two', () => {
    expect(isSameWavelength(1550, 1565)).toBe(true)
    expect(isSameWavelength(1550, 1566)).toBe(false)
  })
})

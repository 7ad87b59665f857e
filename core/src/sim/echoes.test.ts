import { describe, expect, it } from 'vitest'
import { echoesOf } from './echoes.ts'
import { pulseSlabs, type PulseShape } from './pulse.ts'

describe('echoes', () => {
  it('carry R³·A for light between the port and one reflection: −40, −50 dB twice, 2 dB of way', () => {
    // A = −4 dB two-way, so that A²·R_c²·R_p = −8 − 100 − 40 dB; the formula's A_j·A_k/A_i with A_port = 1.
    const port = { time: 0, power: 1e-4, reflectance: 1e-4 }
    const connector = { time: 1e-5, power: 10 ** ((-50 - 4) / 10), reflectance: 1e-5 }
    const [echo, ...others] = echoesOf([port, connector], 0)
    expect(others).toEqual([])
    expect(echo!.time).toBeCloseTo(2e-5, 12)
    expect(10 * Math.log10(echo!.power)).toBeCloseTo(-8 - 100 - 40, 6)
  })

  it('of three reflections stand at all sums and differences', () => {
    const mirrors = [0, 3, 5].map((time) => ({ time, power: 1e-3, reflectance: 1e-3 }))
    const times = echoesOf(mirrors, 0)
      .map((echo) => echo.time)
      .sort((a, b) => a - b)
    expect(times).toEqual([6, 7, 8, 8, 10])
  })

  it('too faint to show are left out', () => {
    const mirrors = [0, 3].map((time) => ({ time, power: 1e-5, reflectance: 1e-5 }))
    expect(echoesOf(mirrors, 1e-14)).toEqual([])
  })
})

describe('pulse shapes', () => {
  it.each<PulseShape>(['rectangular', 'raised-cosine', 'trailing'])('%s keeps the energy of the pulse', (shape) => {
    const slabs = pulseSlabs(shape, 1e-7)
    expect(slabs.reduce((sum, slab) => sum + slab.share, 0)).toBeCloseTo(1, 12)
    expect(slabs.every((slab) => slab.width > 0)).toBe(true)
  })

  it('a raised cosine is as wide as its nominal width at half height', () => {
    const slabs = pulseSlabs('raised-cosine', 1)
    const height = (t: number) =>
      slabs.reduce(
        (sum, slab) => sum + (t >= slab.start && t < slab.start + slab.width ? slab.share / slab.width : 0),
        0,
      )
    expect(height(0.5)).toBeCloseTo(1, 1)
    expect(height(0.02) / height(0.5)).toBeCloseTo(0.5, 0)
    expect(height(-0.3)).toBe(0)
    expect(height(1.3)).toBe(0)
  })

  it('a trailing pulse has its middle later than a rectangular one', () => {
    const middle = (shape: PulseShape) =>
      pulseSlabs(shape, 1).reduce((sum, slab) => sum + slab.share * (slab.start + slab.width / 2), 0)
    expect(middle('rectangular')).toBe(0.5)
    expect(middle('trailing')).toBeGreaterThan(0.55)
  })
})

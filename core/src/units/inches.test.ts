import Qty from 'js-quantities'
import { describe, expect, it } from 'vitest'
import { INCH, inches, shortLength } from './inches.ts'

describe('inches', () => {
  it.each([0.025, 0.051, 0.152, 1.8, 2.5, 0.0105])(
    '%f m agrees with the units package to a thirty-second',
    (length) => {
      const expected = Qty(`${length} m`).to('in').scalar
      const [whole = '0', part] = inches(length).replace(' in', '').split(' ')
      const fraction = (text: string) => {
        const [over, under = '1'] = text.split('/')
        return Number(over) / Number(under)
      }
      const read = fraction(whole) + (part === undefined ? 0 : fraction(part))
      expect(Math.abs(read - expected)).toBeLessThanOrEqual(1 / 32 + 1e-9)
      expect(length / INCH).toBeCloseTo(expected, 9)
    },
  )

  // Pairs of common practice, no published source.
  it.each([
    [0.051, '2 in'],
    [0.057, '2 1/4 in'],
    [0.038, '1 1/2 in'],
    [0.0127, '1/2 in'],
    [0.152, '6 in'],
    [0.076, '3 in'],
    [0.254, '10 in'],
    [0, '0 in'],
  ])('%f m is %s', (length, words) => {
    expect(inches(length)).toBe(words)
  })

  it('tells metres from one metre on', () => {
    expect([0.0508, 0.0105, 0.999, 2, 1.975, 1.08].map(shortLength)).toEqual([
      '51 mm',
      '10.5 mm',
      '999 mm',
      '2.00 m',
      '1.975 m',
      '1.08 m',
    ])
  })
})

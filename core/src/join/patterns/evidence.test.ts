import { describe, expect, it } from 'vitest'
import { addedUp, begunAt, evenOdds, logMix, logSum, logT5, normalNodes } from './evidence.ts'

const sum = (values: readonly number[]) => values.reduce((a, b) => a + b, 0)

describe('likelihoods of a change', () => {
  it('Student’s t with 5 degrees of freedom: density 0.3796 in the middle, 0.95 between ±2.571 (tables, e.g. NIST 1.3.6.7.2)', () => {
    expect(Math.exp(logT5(0))).toBeCloseTo(0.3796, 4)
    const step = 0.001
    const within = sum(Array.from({ length: 5142 }, (_, i) => Math.exp(logT5(-2.571 + (i + 0.5) * step)) * step))
    expect(within).toBeCloseTo(0.95, 3)
  })

  it('sums of exponentials do not run over, and a mixture is their mean', () => {
    expect(logSum([1000, 1000])).toBeCloseTo(1000 + Math.LN2, 9)
    expect(logSum([-Infinity, -Infinity])).toBe(-Infinity)
    expect(Math.exp(logMix(0.25, Math.log(0.8), Math.log(0.4)))).toBeCloseTo(0.25 * 0.8 + 0.75 * 0.4, 9)
  })

  it('what is possible has a probability of one in all, and a normal’s values its spread', () => {
    expect(sum(evenOdds([1, 2, 3, 4]).map(({ log }) => Math.exp(log)))).toBeCloseTo(1, 9)
    const nodes = normalNodes(2)
    expect(sum(nodes.map(({ log }) => Math.exp(log)))).toBeCloseTo(1, 9)
    const variance = sum(nodes.map(({ value, log }) => value ** 2 * Math.exp(log)))
    expect(Math.sqrt(variance)).toBeGreaterThan(1.85)
    expect(Math.sqrt(variance)).toBeLessThan(2.05)
  })

  it('where nothing speaks for or against a change, its beginnings keep their odds, which add up to one', () => {
    const row = [-1, -2, -0.5]
    const at = begunAt(row, row, 24).map((one) => Math.exp(one - sum(row)))
    expect(sum(at)).toBeCloseTo(1, 9)
    expect(at[0]).toBeCloseTo(0.5, 9)
    expect(begunAt([], [], 24)).toEqual([0])
  })

  it('the likeliest beginning is where the row changes', () => {
    const before = Array.from({ length: 20 }, (_, i) => (i < 12 ? 0 : -3))
    const after = Array.from({ length: 20 }, (_, i) => (i < 12 ? -3 : 0))
    const at = begunAt(before, after, 24)
    expect(at.indexOf(Math.max(...at))).toBe(12)
    const both = addedUp([
      { log: Math.log(0.5), at },
      { log: Math.log(0.5), at },
    ])
    both.forEach((one, k) => expect(one).toBeCloseTo(at[k]!, 9))
  })
})

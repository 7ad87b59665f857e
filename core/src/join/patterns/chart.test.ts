import { expect, it } from 'vitest'
import { CodedError } from '../../errors/index.ts'
import { individualsChart, INDIVIDUALS, offChart, onChart, RANGES } from '../index.ts'

// NIST/SEMATECH e-Handbook of Statistical Methods, 6.3.2.2 "Individuals Control Charts", flow rates of ten batches
// (figures from memory, the sums checked by hand): limits 45.8 and 55.8 about 50.81, mean moving range 1.8778.
const FLOW = [49.6, 47.6, 49.9, 51.3, 47.8, 51.2, 52.6, 52.4, 53.6, 52.1]

it('has the limits of a textbook’s example', () => {
  const chart = individualsChart(FLOW)
  expect(chart.center).toBeCloseTo(50.81, 6)
  expect(chart.rangeCenter).toBeCloseTo(1.8778, 4)
  // The handbook divides by 1.128 where tables multiply by 2.66: the same within their digits.
  expect(chart.upper).toBeCloseTo(55.804, 2)
  expect(chart.lower).toBeCloseTo(45.816, 2)
  expect(chart.rangeUpper).toBeCloseTo(3.267 * 1.8778, 3)
})

it('has the constants of the tables for ranges of two: 3 over d₂ = 1.128, and D₄ = 3.267', () => {
  expect(INDIVIDUALS).toBeCloseTo(3 / 1.128, 2)
  expect(RANGES).toBe(3.267)
})

it('a chart needs two values', () => {
  expect(() => individualsChart([1])).toThrow(CodedError)
})

it('what goes on the chart comes off it again; nothing is below zero', () => {
  for (const loss of [0, 0.01, 0.3]) expect(offChart('loss', onChart('loss', loss))).toBeCloseTo(loss, 12)
  expect(onChart('angle', -1)).toBe(onChart('angle', 0))
})

import { CodedError } from '../../errors/index.ts'
import { mean } from 'simple-statistics'

/**
 * Constants of the chart of individuals and moving ranges of two (control-chart tables, e.g. ISO 7870-2, from memory):
 * three standard deviations over d₂ = 1.128, and D₄.
 */
export const INDIVIDUALS = 2.66
export const RANGES = 3.267
/** Mean range of two normal values, in standard deviations: d₂. */
const D2 = 1.128

/** A chart of individual values and of the ranges between neighbours. */
export interface IndividualsChart {
  center: number
  lower: number
  upper: number
  /** One standard deviation, from the ranges: a slow drift does not widen it. */
  sigma: number
  /** |x₂ − x₁| … */
  ranges: number[]
  rangeCenter: number
  rangeUpper: number
}

/**
 * Limits of a process from values in their order.
 * @throws CodedError for fewer than two values
 */
export function individualsChart(values: readonly number[]): IndividualsChart {
  if (values.length < 2) throw new CodedError('not-enough', 'a chart needs two values')
  const ranges = values.slice(1).map((value, i) => Math.abs(value - values[i]!))
  const [center, rangeCenter] = [mean([...values]), mean(ranges)]
  return {
    center,
    lower: center - INDIVIDUALS * rangeCenter,
    upper: center + INDIVIDUALS * rangeCenter,
    sigma: rangeCenter / D2,
    ranges,
    rangeCenter,
    rangeUpper: RANGES * rangeCenter,
  }
}

/**
 * What is added before the logarithm is taken, so that a machine's last digits near zero do not look like large steps: dB,
 * degrees and µm (judgement).
 */
const START = { loss: 0.03, angle: 0.1, offset: 0.1 } as const
export type Charted = keyof typeof START

/** Figures that can't be below zero are charted by their logarithm: there a step is a ratio, and a session is not skewed. */
export function onChart(series: Charted, reading: number): number {
  return Math.log(Math.max(0, reading) + START[series])
}

/** The reading that stands at a value of the chart. */
export function offChart(series: Charted, value: number): number {
  return Math.max(0, Math.exp(value) - START[series])
}

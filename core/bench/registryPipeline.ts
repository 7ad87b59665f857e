import { gsd } from 'ml-gsd'
import { SimpleLinearRegression } from 'ml-regression-simple-linear'
import { sgg } from 'ml-savitzky-golay-generalized'
import type { Trace } from '../src/trace/index.ts'

/**
 * What a trace costs with general-purpose packages, as a yardstick. Packages and settings are fixed here, chosen before
 * anything was timed: Savitzky-Golay smoothing (window 11, polynomial 2), peak picking on the smoothed first
 * derivative (ml-gsd, its defaults with a noise level of 0.05 dB), one least-squares line for each stretch between peaks.
 */
export function registryPipeline(trace: Trace): { events: number; lines: number } {
  const { levels, spacing } = trace
  const smooth = sgg(levels, spacing, { windowSize: 11, polynomial: 2, derivative: 0 })
  const x = Float64Array.from(levels, (_, i) => i * spacing)
  const fall = sgg(smooth, spacing, { windowSize: 11, polynomial: 2, derivative: 1 }).map(Math.abs)
  const peaks = gsd({ x, y: fall }, { noiseLevel: 0.05 / spacing, peakDetectionAlgorithm: 'first' })
  const bounds = [0, ...peaks.map((peak) => Math.round(peak.x / spacing)), levels.length]
  let lines = 0
  for (let k = 0; k + 1 < bounds.length; k++) {
    const [from, to] = [bounds[k]!, bounds[k + 1]!]
    if (to - from < 3) continue
    new SimpleLinearRegression(Array.from(x.subarray(from, to)), Array.from(levels.subarray(from, to)))
    lines++
  }
  return { events: peaks.length, lines }
}

import { Matrix, inverse } from 'ml-matrix'
import type { Piece, Thread } from '../../plant/thread.ts'

/**
 * How far records may be from the ground, one standard deviation. Common practice, no source:
 * factors come from data sheets and coils are estimated by eye.
 */
export const FACTOR_SIGMA = 0.004
export const COIL_SIGMA = 3
/**
 * A helix factor of exactly 1 was as a rule never looked up: fiber is up to so much longer than its sheath (stranded loose tube
 * 1.002 to 1.02, helically wound ribbon up to 1.05; from memory).
 */
export const HELIX_UNKNOWN = { sigma: 0.02, most: 0.05 }
export const TRAY_SIGMA = 0.5

/** One thing a record may be wrong about: a cable's factor, the length of a coil or of the fiber in a tray. */
interface Parameter {
  key: string
  sigma: number
}

/** What was measured about the record errors: `sensitivity · errors = residual ± sigma`, in m of fiber. */
export interface Observation {
  sensitivity: Float64Array
  residual: number
  sigma: number
}

/**
 * Errors of the records along a thread, as a linear Gaussian model: prior from {@link FACTOR_SIGMA} and
 * {@link COIL_SIGMA}, then conditioned on features that show in the traces (Bayesian least squares).
 * Between two features of one cable this is placing by proportion.
 */
export interface RecordErrors {
  parameters: Parameter[]
  mean: Float64Array
  covariance: Matrix
}

export function priorErrors(thread: Thread): RecordErrors {
  const parameters: Parameter[] = []
  for (const piece of thread.pieces) {
    const key = keyOf(piece)
    if (parameters.some((parameter) => parameter.key === key)) continue
    const isUnknown = thread.cables.get(piece.cable)!.helixFactor === 1
    const run = isUnknown ? Math.hypot(FACTOR_SIGMA, HELIX_UNKNOWN.sigma) : FACTOR_SIGMA
    const sigma = piece.kind === 'run' ? run : piece.kind === 'coil' ? COIL_SIGMA : TRAY_SIGMA
    parameters.push({ key, sigma })
  }
  return {
    parameters,
    mean: new Float64Array(parameters.length),
    covariance: Matrix.diag(parameters.map((parameter) => parameter.sigma ** 2)),
  }
}

function keyOf(piece: Piece): string {
  return piece.kind === 'run' ? `factor ${piece.cable}` : `${piece.kind} ${piece.cable} ${piece.node}`
}

/**
 * How the fiber length up to `fiber` metres (by the records) changes with each parameter: metres of run per unit of
 * factor, the share of each coil or tray that is passed.
 */
export function sensitivityAt(thread: Thread, errors: RecordErrors, fiber: number): Float64Array {
  const out = new Float64Array(errors.parameters.length)
  const lengths = new Map<string, number>()
  for (const piece of thread.pieces) {
    const passed = Math.min(fiber, piece.fiberTo) - piece.fiberFrom
    const key = keyOf(piece)
    if (piece.kind !== 'run') lengths.set(key, (lengths.get(key) ?? 0) + piece.fiberTo - piece.fiberFrom)
    if (passed <= 0) continue
    out[errors.parameters.findIndex((parameter) => parameter.key === key)]! += passed
  }
  errors.parameters.forEach((parameter, i) => {
    const whole = lengths.get(parameter.key)
    if (whole !== undefined) out[i] = whole > 0 ? out[i]! / whole : 0
  })
  return out
}

/** The errors after one more observation (Kalman's update; Gauss-Markov for independent observations). */
export function condition(errors: RecordErrors, observation: Observation): RecordErrors {
  const h = Matrix.columnVector(observation.sensitivity)
  const ph = errors.covariance.mmul(h)
  const variance = h.transpose().mmul(ph).get(0, 0) + observation.sigma ** 2
  const surprise = observation.residual - dot(observation.sensitivity, errors.mean)
  return {
    parameters: errors.parameters,
    mean: errors.mean.map((value, i) => value + (ph.get(i, 0) * surprise) / variance),
    covariance: Matrix.sub(errors.covariance, ph.mmul(ph.transpose()).div(variance)),
  }
}

export function dot(a: Float64Array, b: Float64Array): number {
  let sum = 0
  for (let i = 0; i < a.length; i++) sum += a[i]! * b[i]!
  return sum
}

/** Covariance of two linear functions of the errors. */
export function covarianceOf(errors: RecordErrors, a: Float64Array, b: Float64Array): number {
  return Matrix.rowVector(a).mmul(errors.covariance).mmul(Matrix.columnVector(b)).get(0, 0)
}

/**
 * Best combination of estimates of one quantity with the given covariance (generalised least squares).
 * @returns the weighted mean, its standard deviation, and chi-squared of the estimates about it
 */
export function combine(
  estimates: readonly number[],
  covariance: number[][],
): { value: number; sigma: number; chi2: number } {
  const weight = inverse(new Matrix(covariance), true)
  const n = estimates.length
  let total = 0
  let weighted = 0
  for (let i = 0; i < n; i++)
    for (let j = 0; j < n; j++) {
      total += weight.get(i, j)
      weighted += weight.get(i, j) * estimates[j]!
    }
  const value = weighted / total
  let chi2 = 0
  for (let i = 0; i < n; i++)
    for (let j = 0; j < n; j++) chi2 += (estimates[i]! - value) * weight.get(i, j) * (estimates[j]! - value)
  return { value, sigma: 1 / Math.sqrt(total), chi2 }
}

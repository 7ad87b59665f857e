import { inverse, Matrix } from 'ml-matrix'
import { describe, expect, it } from 'vitest'
import { twoCablePlant } from '../../../test/plants.ts'
import { shootTwoCables } from '../../../test/shootTwoCables.ts'
import { buildThread } from '../../plant/index.ts'
import { calibrate } from './calibrate.ts'
import { findLinkEnds } from '../shots/linkEnds.ts'
import {
  COIL_SIGMA,
  combine,
  condition,
  covarianceOf,
  dot,
  FACTOR_SIGMA,
  priorErrors,
  sensitivityAt,
  type Observation,
} from './recordErrors.ts'

const plant = twoCablePlant()
const thread = buildThread(plant, 'l')
const prior = priorErrors(thread)
const unit = (key: RegExp) => Float64Array.from(prior.parameters, (parameter) => (key.test(parameter.key) ? 1 : 0))

describe('errors of the records', () => {
  it('begin as common practice has them: factors 0.4 %, coils 3 m, independent', () => {
    const a = unit(/^factor a$/)
    const coil = unit(/^coil a/)
    expect(Math.sqrt(covarianceOf(prior, a, a))).toBeCloseTo(FACTOR_SIGMA, 12)
    const coils = prior.parameters.filter((parameter) => /^coil a/.test(parameter.key)).length
    expect(Math.sqrt(covarianceOf(prior, coil, coil))).toBeCloseTo(COIL_SIGMA * Math.sqrt(coils), 12)
    expect(covarianceOf(prior, a, coil)).toBe(0)
  })

  it('a place half-way along a run moves by half of what the run’s factor moves its end', () => {
    const run = thread.pieces.find((piece) => piece.kind === 'run')!
    const at = (part: number) => sensitivityAt(thread, prior, run.fiberFrom + part * (run.fiberTo - run.fiberFrom))
    const factor = unit(/^factor a$/)
    expect(dot(at(0.5), factor) / dot(at(1), factor)).toBeCloseTo(0.5, 9)
  })

  it('after several observations are those of Bayesian least squares in closed form', () => {
    const observations: Observation[] = [200, 700, 1500, 2600].map((fiber, k) => ({
      sensitivity: sensitivityAt(thread, prior, fiber),
      residual: [1.5, 2.5, -1, 4][k]!,
      sigma: 0.5 + k,
    }))
    const posterior = observations.reduce(condition, prior)
    // (P⁻¹ + Hᵀ R⁻¹ H)⁻¹ and its mean, with the general-purpose matrix package.
    const H = new Matrix(observations.map((one) => Array.from(one.sensitivity)))
    const R = Matrix.diag(observations.map((one) => 1 / one.sigma ** 2))
    const P = inverse(prior.covariance).add(H.transpose().mmul(R).mmul(H))
    const covariance = inverse(P)
    const mean = covariance
      .mmul(H.transpose())
      .mmul(R)
      .mmul(Matrix.columnVector(observations.map((one) => one.residual)))
    prior.parameters.forEach((_, i) => {
      expect(posterior.mean[i]!).toBeCloseTo(mean.get(i, 0), 6)
      expect(posterior.covariance.get(i, i)).toBeCloseTo(covariance.get(i, i), 8)
    })
  })

  it('the order of observations does not matter', () => {
    const [a, b] = [400, 2000].map((fiber) => ({
      sensitivity: sensitivityAt(thread, prior, fiber),
      residual: fiber / 1000,
      sigma: 1,
    })) as [Observation, Observation]
    const one = condition(condition(prior, a), b)
    const other = condition(condition(prior, b), a)
    one.mean.forEach((value, i) => expect(value).toBeCloseTo(other.mean[i]!, 10))
  })
})

describe('estimates of one quantity', () => {
  it('independent, are weighted by their inverse variances', () => {
    const { value, sigma } = combine(
      [10, 20],
      [
        [1, 0],
        [0, 4],
      ],
    )
    expect(value).toBeCloseTo((10 * 4 + 20) / 5, 12)
    expect(sigma).toBeCloseTo(Math.sqrt(4 / 5), 12)
  })

  it('that share an error can’t average it away', () => {
    const { sigma } = combine(
      [10, 10],
      [
        [5, 4],
        [4, 5],
      ],
    )
    expect(sigma).toBeCloseTo(Math.sqrt(4.5), 12)
  })

  it('that disagree say so by chi-squared', () => {
    const agree = combine(
      [10, 10.5],
      [
        [1, 0],
        [0, 1],
      ],
    )
    const differ = combine(
      [10, 16],
      [
        [1, 0],
        [0, 1],
      ],
    )
    expect(agree.chi2).toBeCloseTo(0.125, 9)
    expect(differ.chi2).toBeCloseTo(18, 9)
  })
})

describe('what the baseline teaches', () => {
  const [ab] = shootTwoCables([], 3)

  it('the ends of the link are found at the cords’ lengths', () => {
    const ends = findLinkEnds(ab!, thread)
    expect(Math.abs(ends.start.distance - 500)).toBeLessThan(3)
    const length = ends.end!.distance - ends.start.distance
    expect(Math.abs(length - thread.fiberLength)).toBeLessThan(5)
  })

  it('without known cords the same ends are found by the link’s length', () => {
    const ends = findLinkEnds({ ...ab!, launch: null, receive: null }, thread)
    const known = findLinkEnds(ab!, thread)
    expect(ends.start.distance).toBeCloseTo(known.start.distance, 6)
    expect(ends.end!.distance).toBeCloseTo(known.end!.distance, 6)
  })

  it('a cord that is not there is missed, not invented: the start stays where it was said, with doubt', () => {
    const ends = findLinkEnds({ ...ab!, launch: 900 }, thread)
    expect(ends.start.distance).toBeCloseTo(900, 0)
    expect(ends.start.sigma).toBeGreaterThan(1)
  })

  it('a record that is 1 % short is stretched by what the events at known nodes say', () => {
    const wrong = structuredClone(plant)
    for (const cable of wrong.cables) cable.sheathFactor /= 1.008
    const { errors } = calibrate(wrong, 'l', shootTwoCables([], 3, plant))
    const factors = errors.parameters.flatMap((parameter, i) =>
      /^factor/.test(parameter.key) ? [errors.mean[i]!] : [],
    )
    for (const factor of factors) {
      expect(factor).toBeGreaterThan(0.003)
      expect(factor).toBeLessThan(0.013)
    }
  })

  it('and leaves less doubt than there was, never more', () => {
    const { errors } = calibrate(plant, 'l', shootTwoCables([], 3))
    errors.parameters.forEach((parameter, i) =>
      expect(Math.sqrt(errors.covariance.get(i, i))).toBeLessThanOrEqual(parameter.sigma + 1e-9),
    )
  })
})

// Likelihoods of a row of readings in which something may have begun; logarithms throughout.

/** Logarithm of a sum of exponentials. */
export function logSum(values: readonly number[]): number {
  const most = Math.max(...values)
  if (most === -Infinity) return -Infinity
  return most + Math.log(values.reduce((sum, value) => sum + Math.exp(value - most), 0))
}

const T5 = Math.log(8 / (3 * Math.sqrt(5) * Math.PI))

/** Student's t with 5 degrees of freedom: the middle of a normal distribution, with the tails that readings have. */
export function logT5(z: number): number {
  return T5 - 3 * Math.log1p((z * z) / 5)
}

/** Of two outcomes, one with a share. */
export function logMix(share: number, one: number, other: number): number {
  return logSum([Math.log(share) + one, Math.log1p(-share) + other])
}

/** What is possible, each with the logarithm of its probability. */
export interface Possible<T> {
  value: T
  log: number
}

/** Values with even odds. */
export function evenOdds<T>(values: readonly T[]): Possible<T>[] {
  return values.map((value) => ({ value, log: -Math.log(values.length) }))
}

const NODES = [-2.4, -1.6, -0.8, 0, 0.8, 1.6, 2.4]

/** A normal distribution as some of its values, standard deviation `sigma`, at so many of them each. */
export function normalNodes(sigma: number, steps: readonly number[] = NODES): Possible<number>[] {
  const whole = steps.reduce((sum, step) => sum + Math.exp(-(step ** 2) / 2), 0)
  return steps.map((step) => ({ value: step * sigma, log: -(step ** 2) / 2 - Math.log(whole) }))
}

/** What goes wrong is there from the start so often; else it begins anywhere in the session (judgement). */
const FROM_THE_START = 0.5

/**
 * Likelihood of a row for each splice at which a change may have begun; the last one: it has not begun yet.
 * @param before and after: of each splice as it was and as it is with the change
 * @param session splices of a whole session, at any of which it may begin
 */
export function begunAt(before: readonly number[], after: readonly number[], session: number): number[] {
  const n = before.length
  const later = Math.max(session, n + 1) - 1
  const out: number[] = []
  let rest = after.reduce((sum, one) => sum + one, 0)
  for (let k = 0; k < n; k++) {
    out.push(rest + Math.log(k === 0 ? FROM_THE_START : (1 - FROM_THE_START) / later))
    rest += before[k]! - after[k]!
  }
  const left = n === 0 ? 1 : ((1 - FROM_THE_START) * (later - n + 1)) / later
  out.push(rest + Math.log(left))
  return out
}

/** Likelihoods by beginning, added up over what is possible. */
export function addedUp(all: readonly { log: number; at: readonly number[] }[]): number[] {
  return all[0]!.at.map((_, k) => logSum(all.map(({ log, at }) => log + at[k]!)))
}

import { sessionPatterns, type Cause } from '../src/join/index.ts'
import { splicingSession, type SessionPlan } from '../src/sim/index.ts'

export interface SessionCase extends SessionPlan {
  seed: number
}

export interface SessionOutcome {
  /** What was named when the cause had been there for 12 splices, and all that was named at any time. */
  at: readonly Cause[]
  everNamed: readonly Cause[]
}

const WITHIN = 12

/** One session, looked at after each of its splices. */
export default function session({ seed, ...plan }: SessionCase): SessionOutcome {
  const { reference, attempts, refusedCalibrations } = splicingSession(seed, plan)
  const care = { calibrationsRefused: refusedCalibrations, arcsOver: false, bladeOver: false }
  const named = attempts.map((_, k) => sessionPatterns(attempts.slice(0, k + 1), reference, care).pattern?.causes ?? [])
  return { at: named[plan.begin + WITHIN - 1] ?? named.at(-1)!, everNamed: [...new Set(named.flat())] }
}

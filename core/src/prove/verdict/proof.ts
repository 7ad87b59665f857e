import type { LocateWarning } from '../../locate/shots/shot.ts'
import type { Holds } from '../../ruleBook/rules.ts'

export type Verdict = 'restored' | 'restored-with-remarks' | 'not-restored' | 'cannot-tell'
export type ProofStatus = 'unchanged' | 'changed' | 'new' | 'gone' | 'open'

/** One joint or event of the link at one wavelength, before and after. Losses in dB. */
export interface ProofEvent {
  wavelength: number
  chainage: number
  node: string | null
  /** The node's name, or the chainage in words. */
  place: string
  kind: 'splice' | 'mechanical' | 'connector' | 'event'
  /** Joints that this stands for: more than one where the pulse does not tell them apart. */
  joints: number
  status: ProofStatus
  lossBefore: number | null
  lossAfter: number | null
  /** Mean of both directions after the repair; null when shot from one end only. */
  lossTwoWay: number | null
  lossSigma: number | null
  /** After less before, read from the same ends, with its standard uncertainty, dB; null without a baseline. */
  change: number | null
  changeSigma: number | null
  reflectanceBefore: number | null
  reflectanceAfter: number | null
  /** What the loss after is held against. */
  limit: number
  limitSource: string
  holds: Holds
}

export type ProofCauseKind =
  'poor-joint' | 'wrong-fiber' | 'fault-left' | 'second-fault' | 'closing-bend' | 'connector-worse'

/** What is wrong at a place after the repair. */
export interface ProofCause {
  cause: ProofCauseKind
  place: string
  node: string | null
  chainage: number
  /** Loss that is too much, dB; null where no light passes. */
  excess: number | null
  /** What to do next, and the minutes that it takes (judgement). */
  next: string
  minutes: number
  /** Whether it refutes the repair; otherwise it is a remark. */
  refutes: boolean
  reason: string
}

export interface ProofTotal {
  before: number | null
  after: number | null
  afterSigma: number | null
  allowed: number | null
  /** Standard uncertainty of what is allowed: the baseline was measured, too; absent where it was signed before this was told. */
  allowedSigma?: number | null
  /** What the standard's budget allows by the record, joints of the repair and all, dB; absent where it was signed before this was told. */
  budget?: number | null
  /** Connections that are not in it, by their names: not every trace saw them, or with other cords; absent where it was signed before this was told. */
  without?: string[]
  /** Optical return loss with the test cords, dB, the lesser of both ends; absent where it was signed before this was told. */
  orlBefore?: number | null
  orlAfter?: number | null
}

export interface Proof {
  verdict: Verdict
  /** Fiber that the repair added, m, negative where it took some out; null where no baseline shows it. */
  added: number | null
  rules: { name: string; version: number }
  events: ProofEvent[]
  total: Record<string, ProofTotal>
  /** What is wrong, what gives most per minute first. */
  causes: ProofCause[]
  reasons: string[]
  next: string[]
  warnings: LocateWarning[]
}

import type { LocateWarning } from '../locate/shot.ts'
import type { Holds } from './rules.ts'

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
  status: ProofStatus
  lossBefore: number | null
  lossAfter: number | null
  /** Mean of both directions after the repair; null when shot from one end only. */
  lossTwoWay: number | null
  lossSigma: number | null
  reflectanceBefore: number | null
  reflectanceAfter: number | null
  /** What the loss after is held against. */
  limit: number
  limitSource: string
  holds: Holds
}

export interface ProofTotal {
  before: number | null
  after: number | null
  afterSigma: number | null
  allowed: number | null
}

export interface Proof {
  verdict: Verdict
  rules: { name: string; version: number }
  events: ProofEvent[]
  total: Record<string, ProofTotal>
  reasons: string[]
  next: string[]
  warnings: LocateWarning[]
}

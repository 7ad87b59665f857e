import type { Callout, Observation, SignOff, TraceRecord } from '@cold-thread/contract'
import type { KitItem } from '@cold-thread/core/kit'
import type { Link, PlantBundle } from '@cold-thread/core/plant'
import type {
  CableProof,
  FollowUp,
  LoggedCheck,
  LoggedReference,
  LoggedTrunk,
  LoggedTurned,
  LossFigure,
  Proof,
  ReceivedPower,
  RuleBook,
} from '@cold-thread/core/prove'
import type { OutlinePoint } from '../jobs/data.ts'

/** A trace as a line of the report: so many points that its shape is seen. */
export interface ReportTrace {
  record: TraceRecord
  points: OutlinePoint[]
}

/** Everything that a report tells, gathered once. */
export interface ReportEvidence {
  callout: Callout
  plant: PlantBundle
  link: Link
  proof: Proof
  evidence: string
  signOff: SignOff | null
  log: Observation[]
  /** Where the fault lay by the traces of it, and what it looked like; null where it was not shot. */
  located: string | null
  traces: ReportTrace[]
  checks: LoggedCheck[]
  received: ReceivedPower[]
  trunks: LoggedTrunk[]
  references: LoggedReference[]
  losses: LossFigure[]
  turned: LoggedTurned[]
  /** What was used, by the log. */
  instruments: KitItem[]
  /** What is still to be done. */
  left: FollowUp[]
  /** The other fibers of the cable, where they were shot. */
  fibers: { cable: string; shot: number; proof: CableProof | null } | null
  rules: RuleBook
}

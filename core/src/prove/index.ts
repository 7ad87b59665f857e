export { proveRepair } from './prove.ts'
export type { Proof, ProofCause, ProofEvent, ProofStatus, ProofTotal, Verdict } from './proof.ts'
export type { ProveInput } from './prove.ts'
export { holdsAgainst, RULE_BOOKS, ruleBook } from './rules.ts'
export type { Holds, Limit, RuleBook } from './rules.ts'
export { backscatterDifference, twoWayLoss } from '../trace/twoWay.ts'
export * from './budget.ts'
export { totalHolds } from './judgeTotal.ts'
export { measuredLosses } from './measuredLosses.ts'
export * from './lossTest/index.ts'
export { asBuilt, type AsBuilt, type PlannedSection } from './asBuilt.ts'
export { newJointsIn, workOn, type Work } from './work.ts'
export {
  fiberProofOf,
  linkOfFiber,
  proveCable,
  recordedLinks,
  type CableProof,
  type FiberProof,
  type FiberTotal,
  type OtherFibers,
  type WorstJoint,
} from './cableProof.ts'
export { followUps, type FollowUp } from './followUps.ts'

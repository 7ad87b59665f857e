export { proveRepair } from './prove.ts'
export type { Proof, ProofCause, ProofEvent, ProofStatus, ProofTotal, Verdict } from './verdict/proof.ts'
export type { ProveInput } from './prove.ts'
export { holdsAgainst, RULE_BOOKS, ruleBook } from '../ruleBook/rules.ts'
export type { Holds, Limit, RuleBook } from '../ruleBook/rules.ts'
export { backscatterDifference, twoWayLoss } from '../trace/twoWay.ts'
export * from '../lossTest/budget.ts'
export { totalHolds, totalName } from './verdict/judgeTotal.ts'
export { measuredLosses } from './joints/measuredLosses.ts'
export * from '../lossTest/index.ts'
export { asBuilt, type AsBuilt, type PlannedSection } from './verdict/asBuilt.ts'
export { newJointsIn, workOn, type Work } from './verdict/work.ts'
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
} from './cable/cableProof.ts'
export { followUps, type FollowUp } from './verdict/followUps.ts'

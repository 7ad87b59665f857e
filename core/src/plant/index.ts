export { checkPlant, contradictions, isCableStep, PlantError } from './check.ts'
export { correctCable, correctionInWords } from './correct.ts'
export type { CableCorrection, CorrectableField } from './correct.ts'
export { describePlace } from './describe.ts'
export type { GroundDescription } from './describe.ts'
export { geometryLength, nearestOnRoute, plantToGeoJson, positionAt } from './geometry.ts'
export { buildThread, delayToFiber, fiberAtChainage, fiberAtDelay, groupIndexOf, placeAt } from './thread.ts'
export type { Piece, Ruler, Thread, ThreadNode, ThreadPlace } from './thread.ts'
export type {
  BaselineRef,
  Cable,
  CableSpan,
  Circuit,
  Direction,
  JointKind,
  Landmark,
  Link,
  LinkEnd,
  NodeKind,
  PathStep,
  PlantBundle,
  PlantNode,
  Route,
  Slack,
} from './types.ts'

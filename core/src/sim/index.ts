export { ClampPower } from './bench/clampPower.ts'
export { PLANTED_CAUSES, SIZES, SplicerStandIn } from './bench/splicer.ts'
export { splicingSession } from './bench/splicingSession.ts'
export type { ReadSplice, SessionPlan, SimulatedSession } from './bench/splicingSession.ts'
export type { Aligner, PlantedCause, SplicerReport } from './bench/splicer.ts'
export { gaussianOverlapLoss } from './bench/gaussianOverlap.ts'
export { damageLoss } from './damage.ts'
export type { Damage, DamagePlace } from './damage.ts'
export type { FiberModel, FiberSpan, Joint } from './fiberModel.ts'
export { modelOfLink } from './linkModel.ts'
export type { Cords, LinkOptics } from './linkModel.ts'
export { averagingStages, DEFAULT_INSTRUMENT, shoot } from './otdr.ts'
export type { Instrument, Shot, ShotSettings, Stage } from './otdr.ts'
export type { PulseShape } from './pulse.ts'
export { shootFiber } from './shootFiber.ts'
export { shootLink, watchLink } from './shootLink.ts'
export type { LinkShot } from './shootLink.ts'
export { plantBehindRecords, repaired, standInSeed } from './records.ts'
export { blurWidthOf, drawEndFace } from './bench/microscope.ts'
export type { DrawnDefect, DrawnScratch, EndFaceScene, GrayPicture } from './bench/microscope.ts'
export { practiceEndFace } from './bench/practiceEndFace.ts'
export { LossSet, standInLoss } from './bench/lossSet.ts'
export {
  readTrunkCordStandIn,
  readTrunkStandIn,
  TRUNK_CORD_FAULTS,
  TRUNK_FAULTS,
  TrunkStream,
} from './bench/trunkSet.ts'
export type { TrunkFault, TrunkSight } from './bench/trunkSet.ts'

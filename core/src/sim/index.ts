export { ClampPower } from './clampPower.ts'
export { PLANTED_CAUSES, SIZES, SplicerStandIn } from './splicer.ts'
export type { Aligner, PlantedCause, SplicerReport } from './splicer.ts'
export { gaussianOverlapLoss } from './gaussianOverlap.ts'
export { damageLoss } from './damage.ts'
export type { Damage, DamagePlace } from './damage.ts'
export type { FiberModel, FiberSpan, Joint } from './fiberModel.ts'
export { modelOfLink } from './linkModel.ts'
export type { Cords, LinkOptics } from './linkModel.ts'
export { averagingStages, DEFAULT_INSTRUMENT, shoot } from './otdr.ts'
export type { Instrument, Shot, ShotSettings, Stage } from './otdr.ts'
export type { PulseShape } from './pulse.ts'
export { seededRandom, seedFrom } from './random.ts'
export type { Random } from './random.ts'
export { shootFiber } from './shootFiber.ts'
export { shootLink, watchLink } from './shootLink.ts'
export type { LinkShot } from './shootLink.ts'
export { plantBehindRecords, repaired, standInSeed } from './records.ts'
export { blurWidthOf, drawEndFace } from './microscope.ts'
export type { DrawnDefect, DrawnScratch, EndFaceScene, GrayPicture } from './microscope.ts'
export { practiceEndFace } from './practiceEndFace.ts'
export {
  LossSet,
  readTrunkCordStandIn,
  readTrunkStandIn,
  standInLoss,
  TRUNK_CORD_FAULTS,
  TRUNK_FAULTS,
} from './lossSet.ts'
export type { TrunkFault } from './lossSet.ts'

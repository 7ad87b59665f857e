import type { Evidence } from '@cold-thread/core/locate'
import type { StepKind } from '@cold-thread/core/plan'
import { z } from 'zod'
import { id, instant } from './common.ts'
import { endFaceEntry } from './endFace.ts'
import {
  arcCalibrationEntry,
  queueEntry,
  sessionCareEntry,
  sessionEndEntry,
  spliceEntry,
  spliceSessionEntry,
  traceReadingEntry,
} from './join.ts'
import {
  continuityEntry,
  lossReadingEntry,
  lossReferenceEntry,
  receivedPowerEntry,
  referenceLookEntry,
  sourceCheckEntry,
  trunkReferenceEntry,
  trunkTestEntry,
  turnedReadingEntry,
} from './lossTest.ts'
import { closureStateEntry, handOverEntry, sheetEntry, sheetReleaseEntry, sheetStepEntry } from './open.ts'

/** A connector cleaned and re-seated. */
export const cleaningEntry = z.object({
  kind: z.literal('cleaning'),
  node: z.string().min(1),
  outcome: z.enum(['clean', 'still dirty', 'damaged']),
  remark: z.string().max(500),
})
export type CleaningEntry = z.infer<typeof cleaningEntry>

export const noteEntry = z.object({ kind: z.literal('note'), text: z.string().trim().min(1).max(4000) })
export type NoteEntry = z.infer<typeof noteEntry>

const direction = z.enum(['ab', 'ba'])
const dBm = z.number().min(-80).max(30)
const evidencePlace = z.union([
  z.strictObject({ node: z.string().min(1) }),
  z.strictObject({ chainage: z.number().min(0) }),
])

/** What a person saw, heard, read out or measured without a trace. */
export const evidence = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('light'), from: direction, place: evidencePlace, seen: z.boolean() }),
  z.strictObject({ kind: z.literal('power'), from: direction, node: z.string().min(1), expected: dBm, measured: dBm }),
  z.strictObject({
    kind: z.literal('report'),
    place: evidencePlace,
    /** m around the place */
    spread: z.number().min(1).max(20_000),
    text: z.string().trim().min(1).max(200),
  }),
  z.strictObject({ kind: z.literal('opened'), node: z.string().min(1), found: z.boolean() }),
  z.strictObject({
    kind: z.literal('distance'),
    from: direction,
    distance: z.number().min(0).max(300_000),
    groupIndex: z.number().min(1.3).max(1.7),
    launch: z.number().min(0).max(5000),
    sigma: z.number().min(0.1).max(5000),
    what: z.enum(['break', 'loss', 'reflection']),
  }),
  z.strictObject({
    kind: z.literal('neighbours'),
    affected: z.boolean(),
    traced: z
      .strictObject({
        fibers: z.number().int().min(1).max(10_000),
        chainage: z.number().min(-1_000_000).max(1_000_000),
        within: z.number().min(0).max(300_000),
      })
      .optional(),
  }),
  z.strictObject({ kind: z.literal('growth'), how: z.enum(['sudden', 'slow', 'weather']) }),
]) satisfies z.ZodType<Evidence>

export const evidenceEntry = z.object({ kind: z.literal('evidence'), evidence })
export type EvidenceEntry = z.infer<typeof evidenceEntry>

/**
 * A person's own mark on a trace, kept apart from the computed events: added where one sees an event, striking a
 * computed one out, or moving it.
 */
export const markEntry = z
  .object({
    kind: z.literal('mark'),
    traceId: id,
    action: z.enum(['added', 'struck', 'moved']),
    /** m on the trace's own scale; of a computed event where it is struck out or moved */
    distance: z.number().min(0).max(300_000),
    /** Where it was moved to, m on the trace's own scale. */
    to: z.number().min(0).max(300_000).optional(),
    remark: z.string().trim().max(200),
  })
  .refine((mark) => (mark.action === 'moved') === (mark.to !== undefined), {
    path: ['to'],
    message: 'a moved mark, and no other, says where to',
  })
export type MarkEntry = z.infer<typeof markEntry>

/** A line of the packing list that is in the van; withdrawn when it is taken out again. */
export const packedEntry = z.object({
  kind: z.literal('packed'),
  /** Kind and fit, as in the packing list. */
  line: z.string().min(1).max(200),
  /** What was taken in its place. */
  substitute: z.string().max(200).nullable(),
})
export type PackedEntry = z.infer<typeof packedEntry>

export const stepKind = z.enum([
  'travel',
  'set-up',
  'permit',
  'locate-services',
  'dig',
  'gas-test',
  'access',
  'identify',
  'open',
  'prepare-end',
  'open-tube',
  'clean',
  'dress',
  'terminate',
  'mechanical-splice',
  'haul',
  'patch',
  'splice',
  'confirm',
  'close',
  'pressure-test',
  'reinstate',
  'clear-up',
  'final-test',
]) satisfies z.ZodType<StepKind>

/** A line of the plan that is done, with what it took. */
export const stepEntry = z.object({
  kind: z.literal('step'),
  step: stepKind,
  line: z.string().min(1).max(200),
  name: z.string().max(400),
  minutes: z.number().positive().max(10_000),
  /** Planned mean, minutes. */
  planned: z.number().min(0).max(10_000),
  /** What the plan had stretched the rule book's minutes of its kind by, when it went by learned minutes. */
  stretch: z.number().positive().max(1000).optional(),
})
export type StepEntry = z.infer<typeof stepEntry>

/** An entry that was wrong: it supersedes another and says nothing itself. */
export const withdrawnEntry = z.object({ kind: z.literal('withdrawn'), reason: z.string().trim().max(500) })

/** What can be logged on a callout. */
/** Signed at night by who did the work, over the evidence as it was; the final signature is a lead's. */
export const provisionalSignOffEntry = z.object({
  kind: z.literal('provisional-sign-off'),
  /** SHA-256 over all evidence, as the server told it with the verdict. */
  evidence: z.string().length(64),
  verdict: z.enum(['restored', 'restored-with-remarks']),
  remark: z.string().trim().max(2000),
})
export type ProvisionalSignOffEntry = z.infer<typeof provisionalSignOffEntry>

export const logEntry = z.discriminatedUnion('kind', [
  spliceEntry,
  cleaningEntry,
  noteEntry,
  evidenceEntry,
  markEntry,
  packedEntry,
  stepEntry,
  sheetEntry,
  sheetStepEntry,
  sheetReleaseEntry,
  handOverEntry,
  closureStateEntry,
  spliceSessionEntry,
  arcCalibrationEntry,
  sessionCareEntry,
  queueEntry,
  sessionEndEntry,
  traceReadingEntry,
  endFaceEntry,
  sourceCheckEntry,
  lossReferenceEntry,
  referenceLookEntry,
  lossReadingEntry,
  turnedReadingEntry,
  receivedPowerEntry,
  trunkReferenceEntry,
  trunkTestEntry,
  continuityEntry,
  provisionalSignOffEntry,
  withdrawnEntry,
])
export type LogEntry = z.infer<typeof logEntry>

/** An entry is never edited: a later one may supersede it. */
export const newObservation = z.object({
  entry: logEntry,
  observedAt: instant,
  supersedes: id.nullable(),
})
export type NewObservation = z.infer<typeof newObservation>

/** Entries sent together, in the order in which they were made: each is taken or refused by itself. */
export const observationBatch = z.array(newObservation.extend({ id })).min(1).max(50)

export const observation = z
  .object({
    id,
    calloutId: id,
    entry: logEntry,
    observedAt: instant,
    receivedAt: instant,
    by: z.string(),
    supersedes: id.nullable(),
    superseded: z.boolean(),
  })
  .meta({ id: 'Observation' })
export type Observation = z.infer<typeof observation>

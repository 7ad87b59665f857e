import type { Conditions, SessionSetup, WatchedAttempt } from '@cold-thread/core/join'
import { z } from 'zod'
import { id } from './common.ts'

const decibel = z.number().min(-5).max(20)
const degrees = z.number().min(0).max(20)
const cable = z.string().min(1).max(200)
const fiber = z.number().int().min(1).max(10_000)
const remark = z.string().max(500)

const reading = {
  /** The splicer's estimate, dB; null when it showed none. */
  estimate: decibel.nullable(),
  /** Cleave angles, degrees. */
  cleaveLeft: degrees.nullable(),
  cleaveRight: degrees.nullable(),
}

/** One splice of the repair, as logged at the bench. */
export const spliceEntry = z.object({
  kind: z.literal('splice'),
  /** Node, or the chainage of a new closure. */
  node: z.string().nullable(),
  chainage: z.number().min(0),
  cable,
  /** Of a ribbon its first. */
  fiber,
  attempt: z.number().int().min(1).max(20),
  ...reading,
  outcome: z.enum(['accepted', 'redo', 'stopped']),
  remark,
  /** The session that it was made in. */
  sessionId: id.optional(),
  /** Of the session's queue. */
  splice: z.string().max(400).optional(),
  /** The end on the other side. */
  mate: z.object({ cable, fiber }).optional(),
  /** Fibers of a ribbon, in their order. */
  ribbon: z.array(z.object(reading)).max(24).optional(),
  /** Between claddings before they are moved, µm. */
  offset: z.number().min(0).max(100).nullable().optional(),
  gap: z.enum(['good', 'bad']).nullable().optional(),
  proof: z.enum(['held', 'broke']).nullable().optional(),
  heating: z.enum(['good', 'bad']).nullable().optional(),
  sleeve: z.boolean().nullable().optional(),
  /** Colours of both ends were confirmed, and light where it was looked for. */
  colors: z.boolean().optional(),
  light: z.boolean().nullable().optional(),
  /** Read from the splicer, not by eye. */
  fromDevice: z.boolean().optional(),
})
export type SpliceEntry = z.infer<typeof spliceEntry>

const conditions = z.strictObject({
  altitude: z.number().min(-500).max(9000).nullable(),
  temperature: z.number().min(-60).max(80).nullable(),
  humidity: z.number().min(0).max(100).nullable(),
  pressure: z.number().min(20_000).max(120_000).nullable(),
}) satisfies z.ZodType<Conditions>

const sleeve = z.union([z.literal(40), z.literal(45), z.literal(60)])

const setup = z.strictObject({
  splicer: z.string().max(200).nullable(),
  cleaver: z.string().max(200).nullable(),
  ribbon: z.boolean(),
  mode: z.enum(['single-mode', 'bend-insensitive', 'dispersion-shifted', 'multimode']),
  heater: sleeve,
  sleeve,
  conditions,
  /** Rule book that splices are judged by. */
  rules: z.enum(['standard', 'tight']).optional(),
}) satisfies z.ZodType<SessionSetup>

/** A splicing session begun: its id is the session's. */
export const spliceSessionEntry = z.object({
  kind: z.literal('splice-session'),
  /** Node, or the chainage of a new closure in a cable's run. */
  node: z.string().nullable(),
  chainage: z.number().min(0),
  cable,
  /** Fibers that are joined in a run; null: all of the cable, or those of the closure's record. */
  fibers: z.array(fiber).max(10_000).nullable(),
  setup,
})
export type SpliceSessionEntry = z.infer<typeof spliceSessionEntry>

export const arcCalibrationEntry = z.object({
  kind: z.literal('arc-calibration'),
  sessionId: id,
  fiber: z.enum(['single-mode', 'multimode']),
  outcome: z.enum(['accepted', 'refused']),
  conditions,
})

/** Something done to the tools of a session. */
export const sessionCareEntry = z.object({
  kind: z.literal('session-care'),
  sessionId: id,
  what: z.enum(['grooves', 'blade', 'electrodes', 'moved', 'switched on']),
  conditions,
})

/** A splice of the queue put off, or asked for first. */
export const queueEntry = z.object({
  kind: z.literal('splice-queue'),
  sessionId: id,
  splice: z.string().min(1).max(400),
  to: z.enum(['later', 'first']),
  reason: z.string().trim().min(3, 'say why').max(500),
})

/** A session ended, with what was confirmed about shards. */
export const sessionEndEntry = z.object({
  kind: z.literal('session-end'),
  sessionId: id,
  said: z.array(z.enum(['bin closed', 'mat taped'])).length(2, 'the bin is closed, and the mat taped and folded'),
  remark,
})
export type SessionEndEntry = z.infer<typeof sessionEndEntry>

/** A splice's step as read off a trace, on its way through the splice's first fiber into its second, or back. */
export const traceReadingEntry = z.object({
  kind: z.literal('trace-reading'),
  /** Of the splice, as it was logged. */
  node: z.string().nullable(),
  chainage: z.number().min(0),
  cable,
  fiber,
  way: z.enum(['ab', 'ba']),
  wavelength: z.number().int().min(600).max(1700),
  /** Negative: the trace seems to gain. */
  loss: decibel,
})
export type TraceReadingEntry = z.infer<typeof traceReadingEntry>

const watchedAttempt = z.strictObject({
  ...reading,
  /** Between claddings before they are moved, µm. */
  offset: z.number().min(0).max(200).nullable(),
  gap: z.enum(['good', 'bad']).nullable(),
  proof: z.enum(['held', 'broke']).nullable(),
  /** Mode field diameters of both fibers by the records, m. */
  modeFields: z.tuple([z.number().positive(), z.number().positive()]).readonly().nullable(),
  /** Of a ribbon its fibers, in their order. */
  ribbon: z.array(z.strictObject(reading)).max(48).readonly().optional(),
  /** The session that it was made in, where known. */
  session: z.union([z.string(), z.number()]).optional(),
}) satisfies z.ZodType<WatchedAttempt>

/** What a splicer's earlier splices were like, oldest first. */
export const watchedAttempts = z.array(watchedAttempt).meta({ id: 'WatchedAttempts' })

/** A splicing session as `advise` reads it, with the same machine's earlier splices, oldest first. */
export const spliceSession = z.strictObject({
  aligner: z.enum(['fixed', 'active', 'core']),
  reference: z.array(watchedAttempt).max(20_000),
  attempts: z.array(watchedAttempt).min(1, 'a session of no splice').max(2000),
  refusedCalibrations: z.int().min(0).max(1000).default(0),
})
export type SpliceSession = z.infer<typeof spliceSession>

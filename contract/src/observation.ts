import { z } from 'zod'
import { id, instant } from './common.ts'

const decibel = z.number().min(-5).max(20)
const degrees = z.number().min(0).max(20)

/** One splice of the repair, as logged at the bench. */
export const spliceEntry = z.object({
  kind: z.literal('splice'),
  /** Node, or the chainage of a new closure. */
  node: z.string().nullable(),
  chainage: z.number().min(0),
  cable: z.string().min(1),
  fiber: z.number().int().min(1),
  attempt: z.number().int().min(1).max(20),
  /** The splicer's estimate, dB; null when it showed none. */
  estimate: decibel.nullable(),
  /** Cleave angles, degrees. */
  cleaveLeft: degrees.nullable(),
  cleaveRight: degrees.nullable(),
  outcome: z.enum(['accepted', 'redo', 'stopped']),
  remark: z.string().max(500),
})
export type SpliceEntry = z.infer<typeof spliceEntry>

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

/** What can be logged on a callout. */
export const logEntry = z.discriminatedUnion('kind', [spliceEntry, cleaningEntry, noteEntry])
export type LogEntry = z.infer<typeof logEntry>

/** An entry is never edited: a later one may supersede it. */
export const newObservation = z.object({
  entry: logEntry,
  observedAt: instant,
  supersedes: id.nullable(),
})
export type NewObservation = z.infer<typeof newObservation>

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

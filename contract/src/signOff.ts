import type { Cause } from '@cold-thread/core/locate'
import type { Proof } from '@cold-thread/core/prove'
import { z } from 'zod'
import { faultCause, id, instant } from './common.ts'
import { proveDocument } from './documents.ts'

/** The server's own verdict on the stored evidence. */
export const verdictRecord = z
  .object({
    proof: proveDocument,
    /** SHA-256 over the ids and hashes of all evidence. */
    evidence: z.string(),
  })
  .meta({ id: 'Verdict' })
export type VerdictRecord = { proof: Proof; evidence: string }

/** A lead signs what was shown: the evidence hash binds the signature to it. */
export const newSignOff = z.object({
  evidence: z.string().length(64),
  remark: z.string().max(2000),
  /** What it was; null where it is not known. */
  cause: faultCause.nullable().default(null),
  rules: z.string().optional(),
})
export type NewSignOff = z.input<typeof newSignOff>

/**
 * What closing a callout changes in the record, by cable and in words, and the files that become the link's baseline, and those
 * of other links whose fibers were shot and judged as restored.
 */
export const asBuiltChanges = z
  .object({
    changes: z.array(z.object({ cable: z.string(), words: z.array(z.string()) })),
    baselines: z.array(z.string()),
    others: z.array(z.object({ link: z.string(), baselines: z.array(z.string()) })),
  })
  .meta({ id: 'AsBuiltChanges' })
export type AsBuiltChanges = z.infer<typeof asBuiltChanges>

export const signOff = z
  .object({
    id,
    calloutId: id,
    by: z.string(),
    at: instant,
    evidence: z.string(),
    remark: z.string(),
    cause: faultCause.nullable(),
    proof: proveDocument,
  })
  .meta({ id: 'SignOff' })
export type SignOff = {
  id: string
  calloutId: string
  by: string
  at: string
  evidence: string
  remark: string
  cause: Cause | null
  proof: Proof
}

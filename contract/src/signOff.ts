import type { Proof } from '@cold-thread/core/prove'
import { z } from 'zod'
import { id, instant } from './common.ts'
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
  rules: z.string().optional(),
})
export type NewSignOff = z.infer<typeof newSignOff>

export const signOff = z
  .object({
    id,
    calloutId: id,
    by: z.string(),
    at: instant,
    evidence: z.string(),
    remark: z.string(),
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
  proof: Proof
}

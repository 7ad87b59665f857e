import type { SignOff } from '@cold-thread/contract'
import type { Proof } from '@cold-thread/core/prove'
import { UniqueConstraintError, type Transaction } from 'sequelize'
import { SignOffRow } from '../db/models.ts'
import { AppError } from '../errors.ts'

function toSignOff(row: SignOffRow): SignOff {
  return {
    id: row.id,
    calloutId: row.calloutId,
    by: row.by,
    at: row.at.toISOString(),
    evidence: row.evidence,
    remark: row.remark,
    cause: row.cause,
    proof: asOfNow(row.proof),
  }
}

/** A proof that was signed before causes were named has none, and each of its events stands for one joint. */
function asOfNow(proof: Proof): Proof {
  const signed: Partial<Proof> & Pick<Proof, 'events'> = proof
  return {
    ...proof,
    added: signed.added ?? null,
    causes: signed.causes ?? [],
    events: proof.events.map((event) => ({ ...SIGNED_EARLIER, ...event })),
  }
}

const SIGNED_EARLIER = { joints: 1, change: null, changeSigma: null }

export async function signOffOf(calloutId: string): Promise<SignOff | null> {
  const row = await SignOffRow.findOne({ where: { calloutId } })
  return row && toSignOff(row)
}

/** When a callout was closed; null while it is open. */
export async function closedAtOf(calloutId: string): Promise<string | null> {
  const row = await SignOffRow.findOne({ where: { calloutId }, attributes: ['at'] })
  return row ? row.at.toISOString() : null
}

export async function addSignOff(
  signOff: Omit<SignOff, 'at'>,
  now: Date,
  transaction: Transaction | null = null,
): Promise<SignOff> {
  try {
    return toSignOff(await SignOffRow.create({ ...signOff, at: now }, { transaction }))
  } catch (error) {
    if (!(error instanceof UniqueConstraintError)) throw error
    const existing = await signOffOf(signOff.calloutId)
    if (existing?.id === signOff.id) return existing
    throw new AppError('callout-closed')
  }
}

import type { SignOff } from '@cold-thread/contract'
import { UniqueConstraintError } from 'sequelize'
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
    proof: row.proof,
  }
}

export async function signOffOf(calloutId: string): Promise<SignOff | null> {
  const row = await SignOffRow.findOne({ where: { calloutId } })
  return row && toSignOff(row)
}

export async function addSignOff(signOff: Omit<SignOff, 'at'>, now: Date): Promise<SignOff> {
  try {
    return toSignOff(await SignOffRow.create({ ...signOff, at: now }))
  } catch (error) {
    if (!(error instanceof UniqueConstraintError)) throw error
    const existing = await signOffOf(signOff.calloutId)
    if (existing?.id === signOff.id) return existing
    throw new AppError('callout-closed')
  }
}

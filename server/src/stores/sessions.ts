import type { Account } from '@cold-thread/contract'
import { createHash, randomBytes } from 'node:crypto'
import { Op } from 'sequelize'
import { AccountRow, SessionRow } from '../db/models.ts'

/** A session lasts through a long night's work and the next shift. */
export const SESSION_HOURS = 36

/** Only a hash of the token is kept: who reads the database can't take a session over. */
function hashOf(token: string): string {
  return createHash('sha256').update(token).digest('hex')
}

/** @returns the token for the cookie */
export async function openSession(accountId: string, now: Date): Promise<string> {
  const token = randomBytes(32).toString('base64url')
  await SessionRow.destroy({ where: { expiresAt: { [Op.lt]: now } } })
  await SessionRow.create({
    tokenHash: hashOf(token),
    accountId,
    expiresAt: new Date(now.getTime() + SESSION_HOURS * 3_600_000),
  })
  return token
}

export async function accountOfSession(token: string, now: Date): Promise<Account | null> {
  const session = await SessionRow.findByPk(hashOf(token), { include: [{ model: AccountRow, as: 'account' }] })
  if (!session || session.expiresAt <= now) return null
  const row = session.account
  return row ? { id: row.id, name: row.name, displayName: row.displayName, role: row.role } : null
}

export async function closeSession(token: string): Promise<void> {
  await SessionRow.destroy({ where: { tokenHash: hashOf(token) } })
}

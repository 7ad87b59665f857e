import type { Account, FirstAccount, NewAccount } from '@cold-thread/contract'
import { Transaction, UniqueConstraintError, type Sequelize } from 'sequelize'
import { hashPassword, pretendToVerify, verifyPassword } from '../auth/passwords.ts'
import { AccountRow } from '../db/models.ts'
import { AppError } from '../errors.ts'

function toAccount(row: AccountRow): Account {
  return { id: row.id, name: row.name, displayName: row.displayName, role: row.role }
}

export async function hasAccounts(): Promise<boolean> {
  return (await AccountRow.count()) > 0
}

export async function listAccounts(): Promise<Account[]> {
  return (await AccountRow.findAll({ order: [['name', 'ASC']] })).map(toAccount)
}

/** The account with this name and password, or null. */
export async function checkCredentials(name: string, password: string): Promise<Account | null> {
  const row = await AccountRow.findOne({ where: { name } })
  if (!row) {
    await pretendToVerify(password)
    return null
  }
  return (await verifyPassword(row.passwordHash, password)) ? toAccount(row) : null
}

/** Adding the same account twice is one account; another under its id or name is refused. */
export async function addAccount(account: NewAccount, transaction: Transaction | null = null): Promise<Account> {
  const { password, ...facts } = account
  const existing = await AccountRow.findByPk(account.id, { transaction })
  if (existing) {
    const same =
      existing.name === account.name &&
      existing.role === account.role &&
      (await verifyPassword(existing.passwordHash, password))
    if (!same) throw new AppError('id-in-use')
    return toAccount(existing)
  }
  try {
    const row = await AccountRow.create({ ...facts, passwordHash: await hashPassword(password) }, { transaction })
    return toAccount(row)
  } catch (error) {
    if (error instanceof UniqueConstraintError)
      throw new AppError('name-taken', `the name "${account.name}" is taken`, 'name')
    throw error
  }
}

/** The first account is a lead's and can be made only while there is none. */
export async function addFirstAccount(sequelize: Sequelize, account: FirstAccount): Promise<Account> {
  return sequelize.transaction({ isolationLevel: Transaction.ISOLATION_LEVELS.SERIALIZABLE }, async (transaction) => {
    const others = await AccountRow.count({ transaction })
    if (others > 0) throw new AppError('already-set-up')
    return addAccount({ ...account, role: 'lead' }, transaction)
  })
}

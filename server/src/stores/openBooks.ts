import type { OpenBook, OpenBookRecord } from '@cold-thread/contract'
import { PROCEDURES, withOwnProcedures } from '@cold-thread/core/open'
import { UniqueConstraintError } from 'sequelize'
import { OpenBookRow } from '../db/models.ts'
import { AppError } from '../errors.ts'

const EMPTY: OpenBook = { closures: [], procedures: [] }

export async function currentOpenBook(): Promise<OpenBookRecord> {
  const row = await OpenBookRow.findOne({ order: [['version', 'DESC']] })
  return row ? toRecord(row) : { book: EMPTY, version: 0, savedAt: null, savedBy: null }
}

function toRecord({ book, version, savedAt, savedBy }: OpenBookRow): OpenBookRecord {
  return { book, version, savedAt: savedAt.toISOString(), savedBy }
}

/**
 * Saves a new version of the book; all earlier ones are kept, and sheets that were begun keep their own steps.
 * @param readVersion the version that the change was made on
 * @throws ProcedureError for procedures that could not be followed
 */
export async function saveOpenBook(
  book: OpenBook,
  readVersion: number,
  by: string,
  now: Date,
): Promise<OpenBookRecord> {
  withOwnProcedures(PROCEDURES, book.procedures)
  const twice = book.closures.find(({ model }, i) => book.closures.findIndex((one) => one.model === model) !== i)
  if (twice) throw new AppError('procedure-refused', `the closure “${twice.model}” is there twice`, 'closures')
  const current = await currentOpenBook()
  const stale = `the book is at version ${current.version}, this change was made on ${readVersion}`
  if (current.version !== readVersion) throw new AppError('stale-edit', stale, 'version')
  try {
    return toRecord(await OpenBookRow.create({ version: readVersion + 1, book, savedAt: now, savedBy: by }))
  } catch (error) {
    if (error instanceof UniqueConstraintError) throw new AppError('stale-edit', stale, 'version')
    throw error
  }
}

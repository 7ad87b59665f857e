import { UniqueConstraintError } from 'sequelize'
import { AppError } from '../errors.ts'

/**
 * Creates a row under an id that the client made. Sent again, the first one's row is returned; another content under
 * the same id is refused.
 */
export async function createOnce<Row>(
  find: () => Promise<Row | null>,
  isSame: (row: Row) => boolean,
  create: () => Promise<Row>,
): Promise<Row> {
  const existing = await find()
  if (existing) return sameOrRefuse(existing, isSame)
  try {
    return await create()
  } catch (error) {
    if (!(error instanceof UniqueConstraintError)) throw error
    const rival = await find()
    if (!rival) throw error
    return sameOrRefuse(rival, isSame)
  }
}

function sameOrRefuse<Row>(row: Row, isSame: (row: Row) => boolean): Row {
  if (!isSame(row)) throw new AppError('id-in-use')
  return row
}

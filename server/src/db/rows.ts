import type { Model, ModelStatic } from 'sequelize'
import { CodedError } from '@cold-thread/core/errors'
import { CalloutRow, copyColumns, type TableName } from './models.ts'

/** The model of a table. */
export function modelOf(table: TableName): ModelStatic<Model> {
  const { models } = CalloutRow.sequelize!
  return Object.values(models).find((model) => model.getTableName() === table) as ModelStatic<Model>
}

/**
 * A row as a line of JSON.
 * @param put keeps a file's content elsewhere, and gives the name that stands for it
 */
export function encodeRow(row: Record<string, unknown>, put: (content: Uint8Array, key: string) => string): string {
  return JSON.stringify(row, function (this: Record<string, unknown>, key, value: unknown) {
    const own = this[key]
    return Buffer.isBuffer(own) ? { file: put(own, key) } : value
  })
}

/**
 * A row from its JSON; columns that this version does not have are left out.
 * @param get the content that a name stands for
 * @throws CodedError where there is none
 */
export function decodeRow(
  table: TableName,
  row: Record<string, unknown>,
  get: (name: string) => Uint8Array | undefined,
): Record<string, unknown> {
  const columns = copyColumns(table)
  return Object.fromEntries(
    Object.entries(row)
      .filter(([column]) => column in columns)
      .map(([column, value]) => {
        if (column !== 'content' || !isFile(value)) return [column, value]
        const content = get(value.file)
        if (!content) throw new CodedError('not-enough', `“${value.file}” is missing`)
        return [column, Buffer.from(content)]
      }),
  )
}

function isFile(value: unknown): value is { file: string } {
  return typeof value === 'object' && value !== null && 'file' in value && typeof value.file === 'string'
}

import { CodedError } from '@cold-thread/core/errors'
import { strFromU8, strToU8, unzipSync, zipSync } from 'fflate'
import type { Sequelize } from 'sequelize'
import { copyColumns, TABLE_NAMES, type TableName } from './db/models.ts'
import { SCHEMA_VERSION } from './db/migrations.ts'
import { modelOf } from './db/rows.ts'

/** A backup that can't be restored; nothing was changed. */
export class BackupError extends CodedError<'backup-refused'> {
  constructor(message: string) {
    super('backup-refused', message)
  }
}

const FORMAT = 'cold-thread/backup'
/** Sign-ins are not part of what is worth keeping. */
const LEFT_OUT: readonly TableName[] = ['sessions']
const KEPT = TABLE_NAMES.filter((table) => !LEFT_OUT.includes(table))

/** Everything the application keeps, as a ZIP of JSON lines; trace files as base64. */
export async function writeBackup(): Promise<Uint8Array> {
  const files: Record<string, Uint8Array> = {
    'manifest.json': strToU8(JSON.stringify({ format: FORMAT, version: 1, schema: SCHEMA_VERSION })),
  }
  for (const table of KEPT) {
    const rows = await modelOf(table).findAll({ raw: true })
    files[`${table}.jsonl`] = strToU8(rows.map((row) => JSON.stringify(row, encodeBinary)).join('\n'))
  }
  return zipSync(files)
}

/**
 * Reads a backup into an empty, migrated database, all or nothing.
 * @throws BackupError when the file is no backup of this version or the database is not empty
 */
export async function readBackup(sequelize: Sequelize, bytes: Uint8Array): Promise<void> {
  const files = unzip(bytes)
  const manifest = JSON.parse(strFromU8(files['manifest.json'] ?? strToU8('null'))) as {
    format?: string
    schema?: string
  } | null
  if (manifest?.format !== FORMAT) throw new BackupError('this is not a backup of Cold Thread')
  if (manifest.schema !== SCHEMA_VERSION)
    throw new BackupError(`the backup is of schema ${manifest.schema}, this installation of ${SCHEMA_VERSION}`)
  for (const table of KEPT)
    if ((await modelOf(table).count()) > 0)
      throw new BackupError(`the installation is not empty (${table}): restore into a new one`)
  await sequelize.transaction(async (transaction) => {
    for (const table of KEPT) {
      const text = strFromU8(files[`${table}.jsonl`] ?? new Uint8Array())
      const rows = text
        .split('\n')
        .filter(Boolean)
        .map((line) => decodeRow(table, JSON.parse(line) as Record<string, unknown>))
      for (const row of rows) await modelOf(table).create(row, { transaction })
    }
  })
}

function unzip(bytes: Uint8Array): Record<string, Uint8Array> {
  try {
    return unzipSync(bytes)
  } catch {
    throw new BackupError('this is not a ZIP file')
  }
}

function encodeBinary(this: Record<string, unknown>, key: string, value: unknown): unknown {
  const own = this[key]
  return Buffer.isBuffer(own) ? { base64: own.toString('base64') } : value
}

function decodeRow(table: TableName, row: Record<string, unknown>): Record<string, unknown> {
  const columns = copyColumns(table)
  return Object.fromEntries(
    Object.entries(row)
      .filter(([column]) => column in columns)
      .map(([column, value]) => [column, isBinary(value) ? Buffer.from(value.base64, 'base64') : value]),
  )
}

function isBinary(value: unknown): value is { base64: string } {
  return typeof value === 'object' && value !== null && Object.keys(value).length === 1 && 'base64' in value
}

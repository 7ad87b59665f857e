import { BackupError, connect, migrate, readBackup, readConfig, writeBackup } from '@cold-thread/server'
import { existsSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { readBytes } from '../input.ts'
import type { Output } from '../output.ts'
import { Refusal } from '../refusal.ts'

type Database = ReturnType<typeof connect>
const LARGEST_BACKUP = 8 * 1024 ** 3

/** Writes everything the application keeps (sign-ins aside) to one file. */
export async function backup(file: string, out: Output): Promise<number> {
  if (existsSync(file)) throw new Refusal(`${file}: there is such a file already`, 'exists')
  await withDatabase(async () => writeFileSync(file, await writeBackup()))
  out.message(`${file} written`)
  return 0
}

/** Reads a backup into an empty installation; nothing is changed when it does not fit. */
export async function restore(file: string, out: Output): Promise<number> {
  const bytes = readBytes(file, LARGEST_BACKUP)
  await withDatabase(async (database) => {
    try {
      await readBackup(database, bytes)
    } catch (error) {
      if (error instanceof BackupError) throw new Refusal(`${file}: ${error.message}`, 'backup-refused')
      throw error
    }
  })
  out.message(`${file} restored`)
  return 0
}

/** The database named by the environment, or the application's own, started for the time of the command. */
async function withDatabase(work: (database: Database) => Promise<void>): Promise<void> {
  if (process.env['COLD_THREAD_DB_PORT'] !== undefined) return using(process.env, work)
  const scripts = new URL('../../../scripts/lib/', import.meta.url)
  const { startMariadb, databaseEnv } = (await import(new URL('mariadb.mjs', scripts).href)) as MariadbScript
  const area = process.env['COLD_THREAD_DATA'] ?? fileURLToPath(new URL('../../../.data', import.meta.url))
  let instance
  try {
    instance = await startMariadb(join(area, 'live'))
  } catch (error) {
    throw new Refusal(
      `${(error as Error).message}; stop the application first, or name its database by COLD_THREAD_DB_…`,
      'no-database',
    )
  }
  try {
    await using(databaseEnv(instance), work)
  } finally {
    await instance.stop()
  }
}

interface MariadbScript {
  startMariadb(folder: string): Promise<{ stop(): Promise<void> }>
  databaseEnv(instance: object): Record<string, string>
}

async function using(
  env: Record<string, string | undefined>,
  work: (database: Database) => Promise<void>,
): Promise<void> {
  const database = connect(readConfig(env).database)
  try {
    await migrate(database)
    await work(database)
  } finally {
    await database.close()
  }
}

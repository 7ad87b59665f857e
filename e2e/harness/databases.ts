import { createConnection, type Connection } from 'mariadb'
import type { Database } from './installation.ts'

/** The demo's data as every journey finds it; filled once, and only copied from then on. */
export const TEMPLATE = 'cold_thread_demo'

export function connect({ host, port, user, password }: Database): Promise<Connection> {
  return createConnection({ host, port, user, password })
}

/** An empty database, whatever there was under this name. */
export async function emptyDatabase(connection: Connection, name: string): Promise<void> {
  await connection.query(`DROP DATABASE IF EXISTS \`${name}\``)
  await connection.query(`CREATE DATABASE \`${name}\` CHARACTER SET utf8mb4`)
}

/** Makes a database as the template is: its tables where they are missing, its rows and no others. */
export async function copyTemplate(connection: Connection, name: string): Promise<void> {
  const tables = await connection.query<{ TABLE_NAME: string }[]>(
    'SELECT TABLE_NAME FROM information_schema.TABLES WHERE TABLE_SCHEMA = ?',
    [TEMPLATE],
  )
  await connection.query('SET FOREIGN_KEY_CHECKS = 0')
  for (const { TABLE_NAME: table } of tables) {
    const [own, from] = [`\`${name}\`.\`${table}\``, `\`${TEMPLATE}\`.\`${table}\``]
    await connection.query(`CREATE TABLE IF NOT EXISTS ${own} LIKE ${from}`)
    await connection.query(`DELETE FROM ${own}`)
    await connection.query(`INSERT INTO ${own} SELECT * FROM ${from}`)
  }
  await connection.query('SET FOREIGN_KEY_CHECKS = 1')
}

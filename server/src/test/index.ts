export { SAMPLE_PLAN } from './samplePlan.ts'
import { THRUSHMERE } from '@cold-thread/demo'
import { createConnection } from 'mariadb'
import type { Sequelize } from 'sequelize'
import { buildApp } from '../app.ts'
import { readConfig, type Config } from '../config.ts'
import { connect } from '../db/connection.ts'
import { migrate } from '../db/migrations.ts'
import { AccountRow, bindModels, TABLE_NAMES } from '../db/models.ts'
import { SESSION_COOKIE } from '../plugins/access.ts'
import type { App } from '../routes/schema.ts'
import { savePlant } from '../stores/plants.ts'
import { openSession } from '../stores/sessions.ts'
import { ROLES, type Role } from '@cold-thread/contract'
import { v7 as uuidv7 } from 'uuid'
import { inject } from 'vitest'
import type { AddressInfo } from 'node:net'

export interface TestServer {
  app: App
  sequelize: Sequelize
  /** Session cookie of an account of each role. */
  cookies: Record<Role, string>
  /** Listens on loopback, if it does not yet. @returns the port */
  listen(): Promise<number>
  close(): Promise<void>
}

export const HOST = 'cold-thread.test'
export const ORIGIN = `http://${HOST}`
export const PASSWORD = 'a long password'
/** Of {@link PASSWORD}: hashing it for each role of each file would be most of what tests wait for. */
const PASSWORD_HASH =
  '$argon2id$v=19$m=19456,t=2,p=1$A22uxsuJI4ENqJKNrKVc0A$8NE6ECZLznnI+/YhWhpNYq1EvrGGmDOkKzDpyY8GRiA'

/** Judging goes on in the background: it is asked for again until it is done, however busy the machine is. */
export const UNTIL_JUDGED = { timeout: 240_000, interval: 100 }

/** Test processes run side by side, each with an application and a database of its own, for all files that it runs. */
let shared: Promise<{ app: App; sequelize: Sequelize }> | null = null

/**
 * An application on an emptied database, with an account of each role, signed in, and the demo's plant.
 * @param database of its own, for a test that kills it; without one the application of this process
 */
export async function startTestServer(database?: Record<string, string>): Promise<TestServer> {
  const { app, sequelize } = await (database ? startApp(database) : (shared ??= startApp(ownDatabase())))
  // Models are bound to one connection of a process: a test with a database of its own took them over.
  bindModels(sequelize)
  for (const table of TABLE_NAMES) await sequelize.getQueryInterface().bulkDelete(table, {})
  await savePlant(THRUSHMERE, 0, 'test', new Date())
  const cookies = await signedIn()
  return {
    app,
    sequelize,
    cookies,
    async listen() {
      // Other files may have asked this process's application before.
      if (!app.server.listening) await app.listen({ host: '127.0.0.1', port: 0 })
      return (app.server.address() as AddressInfo).port
    },
    async close() {
      if (!database) return
      await app.close()
      await sequelize.close()
    },
  }
}

/** Connection facts of this test process's database, which is made at the first connection. */
function ownDatabase(): Record<string, string> {
  const { COLD_THREAD_DB_NAME: name, ...rest } = inject('database')
  return { ...rest, COLD_THREAD_DB_NAME: `${name}_${process.env['VITEST_POOL_ID']}` }
}

async function startApp(database: Record<string, string>): Promise<{ app: App; sequelize: Sequelize }> {
  const config = readConfig(database).database
  await makeDatabase(config)
  const sequelize = connect(config)
  await migrate(sequelize)
  const app = await buildApp({ config: {}, sequelize, signInsPerMinute: 5, jobWorker: inject('jobWorker') })
  await app.ready()
  return { app, sequelize }
}

async function makeDatabase({ host, port, user, password, name }: Config['database']): Promise<void> {
  const connection = await createConnection({ host, port, user, password })
  await connection.query(`CREATE DATABASE IF NOT EXISTS \`${name}\``)
  await connection.end()
}

/** An account of each role, with a session's cookie. */
async function signedIn(): Promise<Record<Role, string>> {
  const accounts = ROLES.map((role) => ({ id: uuidv7(), name: role.replace(' ', '-'), displayName: role, role }))
  await AccountRow.bulkCreate(accounts.map((account) => ({ ...account, passwordHash: PASSWORD_HASH })))
  const cookies = {} as Record<Role, string>
  for (const { id, role } of accounts) cookies[role] = `${SESSION_COOKIE}=${await openSession(id, new Date())}`
  return cookies
}

/** Calls an application as an account of a role; what is no JSON comes as the bytes that it is, and bytes are sent as they are. */
export function caller(serverOf: () => TestServer, asUsual: Role) {
  return async (
    method: 'GET' | 'PUT' | 'POST' | 'DELETE',
    url: string,
    payload?: object | Buffer,
    role: Role = asUsual,
  ) => {
    const { app, cookies } = serverOf()
    const reply = await app.inject({
      method,
      url,
      headers: {
        host: HOST,
        origin: ORIGIN,
        cookie: cookies[role],
        ...(Buffer.isBuffer(payload) ? { 'content-type': 'application/octet-stream' } : {}),
      },
      ...(payload === undefined ? {} : { payload }),
    })
    const isJson = String(reply.headers['content-type']).includes('json')
    return { status: reply.statusCode, body: isJson ? reply.json() : reply.rawPayload }
  }
}

/** Opens a callout on a link of the demo's plant. @returns its id */
export async function openCallout(call: ReturnType<typeof caller>, linkId = 'visitor-wan'): Promise<string> {
  const id = uuidv7()
  const { status } = await call('PUT', `/api/callouts/${id}`, {
    linkId,
    title: 'Link is down',
    alarm: '',
    practiceSeed: null,
  })
  if (status !== 200) throw new Error(`the callout was answered with ${status}`)
  return id
}

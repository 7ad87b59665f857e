export { SAMPLE_PLAN } from './samplePlan.ts'
import { OTTERMERE } from '@cold-thread/demo'
import type { Sequelize } from 'sequelize'
import { buildApp } from '../app.ts'
import { readConfig } from '../config.ts'
import { connect } from '../db/connection.ts'
import { migrate } from '../db/migrations.ts'
import { TABLE_NAMES } from '../db/models.ts'
import type { App } from '../routes/schema.ts'
import { addAccount } from '../stores/accounts.ts'
import { savePlant } from '../stores/plants.ts'
import { ROLES, type Role } from '@cold-thread/contract'
import { v7 as uuidv7 } from 'uuid'

export interface TestServer {
  app: App
  sequelize: Sequelize
  /** Session cookie of an account of each role. */
  cookies: Record<Role, string>
  close(): Promise<void>
}

export const HOST = 'cold-thread.test'
export const ORIGIN = `http://${HOST}`
export const PASSWORD = 'a long password'

/** An application on an emptied database, with an account of each role and the demo's plant. */
export async function startTestServer(database: Record<string, string>): Promise<TestServer> {
  const sequelize = connect(readConfig(database).database)
  await migrate(sequelize)
  for (const table of TABLE_NAMES) await sequelize.getQueryInterface().bulkDelete(table, {})
  const app = await buildApp({ config: {}, sequelize, signInsPerMinute: 5 })
  await app.ready()
  await savePlant(OTTERMERE, 0, 'test', new Date())
  const cookies = {} as Record<Role, string>
  for (const role of ROLES) {
    const name = role.replace(' ', '-')
    await addAccount({ id: uuidv7(), name, displayName: role, role, password: PASSWORD })
    const reply = await app.inject({
      method: 'POST',
      url: '/api/session',
      headers: { host: HOST, origin: ORIGIN },
      payload: { name, password: PASSWORD },
    })
    cookies[role] = String(reply.headers['set-cookie']).split(';')[0]!
  }
  return {
    app,
    sequelize,
    cookies,
    async close() {
      await app.close()
      await sequelize.close()
    },
  }
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

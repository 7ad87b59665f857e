import { temporaryMariadb } from '../../scripts/lib/mariadb.mjs'
import { connect, emptyDatabase, TEMPLATE } from './databases.ts'
import { startInstallation } from './installation.ts'
import { DEMO_ROLES, handOver, passwordOf, type DemoRole } from './journeySetup.ts'

/** One private MariaDB with the demo's data in a template, in which each role has signed in once. */
export default async function setup(): Promise<() => Promise<void>> {
  const instance = await temporaryMariadb({ fast: true })
  const { host, port, user, password } = instance
  const database = { host, port, user, password }
  const connection = await connect(database)
  await emptyDatabase(connection, TEMPLATE)
  await connection.end()
  const demo = await startInstallation(database, TEMPLATE, { demo: true })
  const sessions = {} as Record<DemoRole, string>
  for (const role of DEMO_ROLES) sessions[role] = await sessionOf(demo.address, role)
  await demo.stop()
  handOver({ database, sessions })
  return () => instance.stop()
}

async function sessionOf(address: string, role: DemoRole): Promise<string> {
  const reply = await fetch(`${address}/api/session`, {
    method: 'POST',
    headers: { 'content-type': 'application/json', origin: address },
    body: JSON.stringify({ name: role, password: passwordOf(role) }),
  })
  const cookie = /^cold_thread_session=([^;]+)/.exec(reply.headers.get('set-cookie') ?? '')
  if (!cookie) throw new Error(`${role} can't sign in: ${reply.status} ${await reply.text()}`)
  return cookie[1]!
}

import { spawn } from 'node:child_process'
import { databaseEnv, temporaryMariadb } from '../../scripts/lib/mariadb.mjs'

const PORT = 8472
const ROOT = new URL('../../', import.meta.url).pathname
const PATIENCE = 60_000

/** Another installation, empty, with a database and a port of its own. @returns its address, and what ends it */
export async function startSecondInstallation(): Promise<{ address: string; stop(): Promise<void> }> {
  const database = await temporaryMariadb({ fast: true })
  const server = spawn('node', [`${ROOT}server/dist/main.js`], {
    stdio: 'ignore',
    env: {
      ...process.env,
      ...databaseEnv(database),
      COLD_THREAD_PORT: String(PORT),
      COLD_THREAD_WEB_FOLDER: `${ROOT}web/dist`,
      COLD_THREAD_DEMO: '0',
      NODE_ENV: 'production',
    },
  })
  const gone = new Promise<void>((resolve) => server.once('exit', () => resolve()))
  const stop = async () => {
    server.kill('SIGTERM')
    await gone
    await database.stop()
  }
  const address = `http://127.0.0.1:${PORT}`
  for (const begun = Date.now(); Date.now() - begun < PATIENCE && server.exitCode === null;) {
    const healthy = await fetch(`${address}/api/health`).then(
      ({ ok }) => ok,
      () => false,
    )
    if (healthy) return { address, stop }
    await new Promise((resolve) => setTimeout(resolve, 300))
  }
  await stop()
  throw new Error('the second installation did not start')
}

import { fork } from 'node:child_process'
import { fileURLToPath } from 'node:url'
import { databaseEnv } from '../../scripts/lib/mariadb.mjs'

const ROOT = fileURLToPath(new URL('../..', import.meta.url))

/** Connection facts of the private MariaDB that journeys share; each installation has a database of its own in it. */
export interface Database {
  host: string
  port: number
  user: string
  password: string
}

/** A server that listens, and what ends it. */
export interface Installation {
  address: string
  stop(): Promise<void>
}

/**
 * Starts a server as `npm start` does, on any free port.
 * @param name of its database, which must be there
 * @throws Error when it ends before it listens
 */
export async function startInstallation(
  database: Database,
  name: string,
  { demo = false } = {},
): Promise<Installation> {
  const server = fork(`${ROOT}/server/dist/main.js`, {
    stdio: ['ignore', 'ignore', 'inherit', 'ipc'],
    env: {
      ...process.env,
      ...databaseEnv({ ...database, name }),
      COLD_THREAD_PORT: '0',
      COLD_THREAD_WEB_FOLDER: `${ROOT}/web/dist`,
      COLD_THREAD_DEMO: demo ? '1' : '0',
      NODE_ENV: 'production',
    },
  })
  const gone = new Promise<void>((resolve) => server.once('exit', () => resolve()))
  const port = await new Promise<number>((resolve, reject) => {
    server.on('message', (message: { listening?: number; failed?: string }) => {
      if (message.listening !== undefined) resolve(message.listening)
      if (message.failed !== undefined) reject(new Error(message.failed))
    })
    server.once('exit', (status) => reject(new Error(`the server ended with ${status} before it listened`)))
  })
  return {
    address: `http://127.0.0.1:${port}`,
    async stop() {
      server.kill('SIGTERM')
      await gone
    },
  }
}

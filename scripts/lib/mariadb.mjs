// A private MariaDB on loopback: own data folder, own socket, a free port, a password made at first start.
import { spawn, spawnSync } from 'node:child_process'
import { createHash, randomBytes } from 'node:crypto'
import { chmodSync, chownSync, existsSync, mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { createServer } from 'node:net'
import { tmpdir, userInfo } from 'node:os'
import { join, resolve } from 'node:path'
import { setTimeout as sleep } from 'node:timers/promises'
import { run, StepError } from './step.mjs'

const SYSTEM_USER = 'mysql'
const LONGEST_SOCKET_PATH = 100
const READY_WITHIN_MS = 60_000

const DURABLE = []
/** For tests that do not kill the server: faster, loses acknowledged writes when killed. */
const FAST = [
  '--innodb-flush-log-at-trx-commit=0',
  '--innodb-doublewrite=0',
  '--innodb-flush-method=nosync',
  '--innodb-log-file-size=64M',
  '--innodb-fast-shutdown=2',
]

function isRoot() {
  return process.getuid() === 0
}

/** As root the database runs as a system user of its own. */
function systemUser() {
  if (!isRoot()) return null
  const look = () => {
    const id = (flag) => spawnSync('id', [flag, SYSTEM_USER], { encoding: 'utf8' })
    const uid = id('-u')
    return uid.status === 0 ? { uid: Number(uid.stdout), gid: Number(id('-g').stdout) } : null
  }
  if (!look())
    run('MariaDB', 'useradd', ['--system', '--no-create-home', '--shell', '/usr/sbin/nologin', SYSTEM_USER], {
      quiet: true,
      mend: `create a system user ${SYSTEM_USER}`,
    })
  return look()
}

/** Whether the database's user can work in a folder, and the socket's path is short enough. */
function canUse(folder, owner) {
  if (join(folder, 'mariadb.sock').length > LONGEST_SOCKET_PATH) return false
  try {
    mkdirSync(folder, { recursive: true, mode: 0o750 })
    if (owner) chownSync(folder, owner.uid, owner.gid)
  } catch {
    return false
  }
  if (!owner) return true
  const probe = spawnSync('sh', ['-c', `cd "${folder}" && test -w . && test -x .`], {
    uid: owner.uid,
    gid: owner.gid,
    stdio: 'ignore',
  })
  return probe.status === 0
}

/** The wanted folder, or one under the system's state or temporary area that is printed. */
function usableFolder(wanted, owner) {
  if (canUse(wanted, owner)) return wanted
  const name = `cold-thread-${createHash('sha256').update(resolve(wanted)).digest('hex').slice(0, 12)}`
  for (const area of ['/var/lib', tmpdir()]) {
    const folder = join(area, name)
    if (canUse(folder, owner)) {
      console.log(`The database can't work in ${wanted}; it is kept in ${folder}`)
      return folder
    }
  }
  throw new StepError(
    'MariaDB',
    `no folder that the database can use (${wanted}, /var/lib, ${tmpdir()})`,
    'make one of them writable',
  )
}

function freePort() {
  return new Promise((resolve, reject) => {
    const server = createServer()
    server.on('error', reject)
    server.listen(0, '127.0.0.1', () => {
      const { port } = server.address()
      server.close(() => resolve(port))
    })
  })
}

function mariadbd() {
  return existsSync('/usr/sbin/mariadbd') ? '/usr/sbin/mariadbd' : 'mariadbd'
}

function installed(folder) {
  return existsSync(join(folder, 'data', 'mysql'))
}

function initialise(folder, owner) {
  const asUser = owner ? [`--user=${SYSTEM_USER}`] : []
  // A first start that was interrupted leaves half a data folder: begin it anew.
  rmSync(join(folder, 'data'), { recursive: true, force: true })
  mkdirSync(join(folder, 'data'), { recursive: true, mode: 0o750 })
  if (owner) chownSync(join(folder, 'data'), owner.uid, owner.gid)
  run(
    'MariaDB',
    'mariadb-install-db',
    [
      '--no-defaults',
      ...asUser,
      `--datadir=${join(folder, 'data')}`,
      '--auth-root-authentication-method=socket',
      `--auth-root-socket-user=${userInfo().username}`,
      '--skip-test-db',
    ],
    { quiet: true, mend: `free disk space, or delete ${folder} to begin anew` },
  )
}

/** One folder serves one database: a second start must not touch what a running one is writing. */
function refuseSecond(folder) {
  const pid = existsSync(join(folder, 'mariadb.pid')) ? readFileSync(join(folder, 'mariadb.pid'), 'utf8').trim() : ''
  const commandLine = `/proc/${pid}/cmdline`
  if (!pid || !existsSync(commandLine) || !readFileSync(commandLine, 'utf8').includes(folder)) return
  throw new StepError(
    'MariaDB',
    `a database is already running on ${folder} (process ${pid})`,
    'stop the other Cold Thread first (Ctrl-C in its window), or give this one another --data folder',
  )
}

/**
 * Starts the database.
 * @param wantedFolder where its data, socket and password go
 * @param options `fast` for tests, `fresh` deletes what was there; `onDeath` is told when it ends without being stopped
 * @returns connection facts with pid, `stop()` and `restart()`
 */
export async function startMariadb(wantedFolder, { fast = false, fresh = false, onDeath } = {}) {
  const owner = systemUser()
  const folder = usableFolder(wantedFolder, owner)
  const passwordFile = join(folder, 'password')
  refuseSecond(folder)
  if (fresh) for (const part of ['data', 'password']) rmSync(join(folder, part), { recursive: true, force: true })
  if (!installed(folder) || !existsSync(passwordFile)) {
    initialise(folder, owner)
    writeFileSync(passwordFile, randomBytes(24).toString('base64url'), { mode: 0o600 })
    chmodSync(passwordFile, 0o600)
  }
  const password = readFileSync(passwordFile, 'utf8').trim()
  const socket = join(folder, 'mariadb.sock')
  const port = await freePort()
  const instance = { host: '127.0.0.1', port, name: 'cold_thread', user: 'cold_thread', password, folder, pid: 0 }
  let stopping = false
  let child

  const launch = async () => {
    const asUser = owner ? [`--user=${SYSTEM_USER}`] : []
    child = spawn(
      mariadbd(),
      [
        '--no-defaults',
        ...asUser,
        `--datadir=${join(folder, 'data')}`,
        `--socket=${socket}`,
        `--pid-file=${join(folder, 'mariadb.pid')}`,
        `--log-error=${join(folder, 'error.log')}`,
        '--bind-address=127.0.0.1',
        `--port=${port}`,
        '--skip-name-resolve',
        '--character-set-server=utf8mb4',
        '--collation-server=utf8mb4_unicode_ci',
        '--default-time-zone=+00:00',
        '--max-allowed-packet=256M',
        '--innodb-buffer-pool-size=256M',
        ...(fast ? FAST : DURABLE),
      ],
      // A group of its own: Ctrl-C must reach the server first, which still writes.
      { stdio: 'ignore', detached: true },
    )
    instance.pid = child.pid
    const ended = new Promise((resolve) => child.once('exit', resolve))
    child.ended = ended
    await ready(child, socket, folder)
    if (!stopping)
      child.once('exit', () => {
        if (!stopping) onDeath?.(instance)
      })
  }

  await launch()
  const sql = `CREATE DATABASE IF NOT EXISTS ${instance.name} CHARACTER SET utf8mb4;
    CREATE USER IF NOT EXISTS '${instance.user}'@'127.0.0.1' IDENTIFIED BY '${password}';
    GRANT ALL ON \`cold\\_thread%\`.* TO '${instance.user}'@'127.0.0.1';`
  run('MariaDB', 'mariadb', ['--no-defaults', `--socket=${socket}`, '-e', sql], {
    quiet: true,
    mend: `see ${join(folder, 'error.log')}`,
  })

  instance.restart = launch
  instance.stop = async () => {
    stopping = true
    if (child.exitCode === null && child.signalCode === null) {
      child.kill('SIGTERM')
      await child.ended
    }
  }
  return instance
}

async function ready(child, socket, folder) {
  const deadline = Date.now() + READY_WITHIN_MS
  while (Date.now() < deadline) {
    if (child.exitCode !== null)
      throw new StepError(
        'MariaDB',
        `it ended while starting: ${lastLines(join(folder, 'error.log'))}`,
        `see ${join(folder, 'error.log')}; is another start using ${folder}?`,
      )
    const probe = spawnSync('mariadb', ['--no-defaults', `--socket=${socket}`, '-e', 'SELECT 1'], { stdio: 'ignore' })
    if (probe.status === 0) return
    await sleep(100)
  }
  throw new StepError('MariaDB', 'it does not answer', `see ${join(folder, 'error.log')}`)
}

function lastLines(file) {
  return existsSync(file) ? readFileSync(file, 'utf8').trim().split('\n').slice(-2).join(' ') : ''
}

/** A database that lives as long as the caller, for tests. */
export async function temporaryMariadb(options) {
  const folder = mkdtempSync(join(tmpdir(), 'ct-db-'))
  chmodSync(folder, 0o755)
  const instance = await startMariadb(join(folder, 'db'), options)
  return {
    ...instance,
    get pid() {
      return instance.pid
    },
    restart: instance.restart,
    async stop() {
      await instance.stop()
      rmSync(folder, { recursive: true, force: true })
    },
  }
}

/** Connection facts as the server reads them. */
export function databaseEnv({ host, port, name, user, password }) {
  return {
    COLD_THREAD_DB_HOST: host,
    COLD_THREAD_DB_PORT: String(port),
    COLD_THREAD_DB_NAME: name,
    COLD_THREAD_DB_USER: user,
    COLD_THREAD_DB_PASSWORD: password,
  }
}

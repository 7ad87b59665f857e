// npm start, npm run demo: everything from a fresh machine to a running application.
import { fork } from 'node:child_process'
import { join } from 'node:path'
import { parseArgs } from 'node:util'
import { databaseEnv, startMariadb } from './lib/mariadb.mjs'
import { build, checkDisk, checkNode, DATA, installMariadb, installPackages, ROOT } from './lib/setup.mjs'
import { report, StepError } from './lib/step.mjs'

const USAGE = `npm start -- [options]        npm run demo -- [options]
  --host ADDRESS          address to listen on (127.0.0.1)           COLD_THREAD_HOST
  --port NUMBER           port to listen on (8460)                   COLD_THREAD_PORT
  --tls-certificate FILE  PEM certificate                            COLD_THREAD_TLS_CERTIFICATE
  --tls-key FILE          PEM key                                    COLD_THREAD_TLS_KEY
  --public-address URL    where browsers reach it, if elsewhere      COLD_THREAD_PUBLIC_ADDRESS
  --trusted-proxy LIST    proxies in front of it, addresses or       COLD_THREAD_TRUSTED_PROXY
                          networks as 10.1.0.0/16, by commas
  --data FOLDER           where the database is kept (.data)         COLD_THREAD_DATA
  --fresh                 demo only: begin anew, all demo data is deleted`

function readOptions() {
  try {
    const { values } = parseArgs({
      options: {
        demo: { type: 'boolean', default: false },
        fresh: { type: 'boolean', default: false },
        help: { type: 'boolean', default: false },
        host: { type: 'string' },
        port: { type: 'string' },
        data: { type: 'string' },
        'tls-certificate': { type: 'string' },
        'tls-key': { type: 'string' },
        'public-address': { type: 'string' },
        'trusted-proxy': { type: 'string' },
      },
    })
    return values
  } catch (error) {
    throw new StepError('options', error.message, `use one of these:\n${USAGE}`)
  }
}

async function main() {
  const options = readOptions()
  if (options.help) return console.log(USAGE)
  if (options.fresh && !options.demo)
    throw new StepError('options', '--fresh is for the demo', 'back up and delete the data folder by hand')
  checkNode()
  checkDisk()
  installMariadb()
  installPackages()
  build()

  const area = options.data ?? process.env.COLD_THREAD_DATA ?? DATA
  const folder = join(area, options.demo ? 'demo' : 'live')
  let server = null
  let stopping = false

  // The database is restarted when it dies; the server reconnects by itself.
  const onDeath = async (instance) => {
    if (stopping) return
    console.error('MariaDB ended unexpectedly; starting it again …')
    try {
      await instance.restart()
      console.error('MariaDB is back.')
    } catch (error) {
      report(error)
      await stop(1)
    }
  }
  const database = await startMariadb(folder, { fresh: options.fresh, onDeath })

  async function stop(status) {
    if (stopping) return
    stopping = true
    if (server && server.exitCode === null && server.signalCode === null) {
      const gone = new Promise((resolve) => server.once('exit', resolve))
      server.kill('SIGTERM')
      await gone
    }
    await database.stop()
    process.exit(status)
  }
  for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP']) process.on(signal, () => void stop(0))

  const given = (name, value) => (value === undefined ? {} : { [`COLD_THREAD_${name}`]: value })
  server = fork(join(ROOT, 'server', 'dist', 'main.js'), {
    // Not in the terminal's group: Ctrl-C is passed on by this script, once, in order.
    detached: true,
    env: {
      ...process.env,
      ...databaseEnv(database),
      ...given('HOST', options.host),
      ...given('PORT', options.port),
      ...given('TLS_CERTIFICATE', options['tls-certificate']),
      ...given('TLS_KEY', options['tls-key']),
      ...given('PUBLIC_ADDRESS', options['public-address']),
      ...given('TRUSTED_PROXY', options['trusted-proxy']),
      COLD_THREAD_WEB_FOLDER: join(ROOT, 'web', 'dist'),
      COLD_THREAD_DEMO: options.demo ? '1' : '0',
      NODE_ENV: 'production',
    },
  })
  server.on('message', (message) => {
    if (message.listening) announce(message.listening, options)
    if (message.failed) {
      const taken = /EADDRINUSE/.test(message.failed)
      report(
        new StepError(
          'server',
          message.failed,
          taken ? 'choose another port with --port NUMBER' : 'see the message above',
        ),
      )
    }
  })
  server.on('exit', (status) => {
    if (!stopping) void stop(status || 1)
  })
}

async function announce(port, options) {
  const tls = options['tls-certificate'] ?? process.env.COLD_THREAD_TLS_CERTIFICATE
  const host = options.host ?? process.env.COLD_THREAD_HOST ?? '127.0.0.1'
  const address =
    options['public-address'] ?? process.env.COLD_THREAD_PUBLIC_ADDRESS ?? `${tls ? 'https' : 'http'}://${host}:${port}`
  console.log(`\nCold Thread is at ${address}`)
  if (options.demo) {
    console.log('Demo sign-ins (name, password):')
    for (const [name, role] of [
      ['tech', 'technician'],
      ['lead', 'lead'],
      ['records', 'records keeper'],
      ['viewer', 'viewer'],
    ])
      console.log(`  ${name.padEnd(8)} thrushmere-${name.padEnd(8)}  ${role}`)
  } else console.log('The first visit makes the first account.')
  if (['127.0.0.1', 'localhost', '::1'].includes(host) && !options['public-address'])
    console.log(
      'A phone can’t reach this address; --host and --tls-certificate open it (npm run certificate for a trial).',
    )
  else if (address.startsWith('http:'))
    console.log(
      'Plain http: what is sent can be read on the way, and phones can’t open the app without network. With a certificate they can (npm run certificate for a trial).',
    )
  console.log('Ctrl-C stops everything.')
}

main().catch((error) => process.exit(report(error)))

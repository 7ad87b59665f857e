import { fileURLToPath } from 'node:url'
import { buildApp } from './app.ts'
import { readConfig } from './config.ts'
import { connect } from './db/connection.ts'
import { migrate } from './db/migrations.ts'
import { isEmpty, seed } from './seed.ts'

/** Starts the server. The parent process is told by message when it listens, and where. */
async function start(): Promise<void> {
  const config = readConfig(process.env)
  const sequelize = connect(config.database)
  await migrate(sequelize)
  if (process.env['COLD_THREAD_DEMO'] === '1' && (await isEmpty())) {
    const { demoData } = await import('@cold-thread/demo')
    await seed(demoData(new Date()), new Date())
  }
  const app = await buildApp({ config, sequelize, log: true })
  await app.listen({ host: config.host, port: config.port })
  const address = app.server.address()
  const port = typeof address === 'object' && address ? address.port : config.port
  process.send?.({ listening: port })

  let stopping = false
  const stop = async () => {
    if (stopping) return
    stopping = true
    await app.close()
    await sequelize.close()
    process.exit(0)
  }
  process.on('SIGTERM', () => void stop())
  process.on('SIGINT', () => void stop())
  process.on('disconnect', () => void stop())
}

if (process.argv[1] === fileURLToPath(import.meta.url))
  start().catch((error: unknown) => {
    process.send?.({ failed: error instanceof Error ? error.message : String(error) })
    console.error(error instanceof Error ? error.message : error)
    process.exit(1)
  })

import { fileURLToPath } from 'node:url'
import type { TestProject } from 'vitest/node'

declare module 'vitest' {
  interface ProvidedContext {
    /** Connection facts; each test process adds its number to the database's name. */
    database: Record<string, string>
    /** The bundled code of the threads that compute. */
    jobWorker: string
  }
}

interface MariadbScript {
  temporaryMariadb(options: { fast: boolean }): Promise<{ stop(): Promise<void> }>
  databaseEnv(instance: object): Record<string, string>
}

interface BundleScript {
  bundle(names: readonly string[], folder: string): Promise<void>
}

const BUNDLES = fileURLToPath(new URL('../../../.cache/test-bundles', import.meta.url))

/** One private MariaDB and one bundle of the job worker for all server tests. */
export default async function setup(project: TestProject): Promise<() => Promise<void>> {
  const scriptAt = (path: string) => import(new URL(path, import.meta.url).href)
  const mariadb = (await scriptAt('../../../scripts/lib/mariadb.mjs')) as MariadbScript
  const { bundle } = (await scriptAt('../../bundle.mjs')) as BundleScript
  const [instance] = await Promise.all([mariadb.temporaryMariadb({ fast: true }), bundle(['jobs/worker'], BUNDLES)])
  project.provide('database', mariadb.databaseEnv(instance))
  project.provide('jobWorker', `${BUNDLES}/worker.js`)
  return () => instance.stop()
}

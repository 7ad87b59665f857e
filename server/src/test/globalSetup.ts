import type { TestProject } from 'vitest/node'

declare module 'vitest' {
  interface ProvidedContext {
    database: Record<string, string>
  }
}

interface MariadbScript {
  temporaryMariadb(options: { fast: boolean }): Promise<{ stop(): Promise<void> }>
  databaseEnv(instance: object): Record<string, string>
}

/** One private MariaDB for all server tests. */
export default async function setup(project: TestProject): Promise<() => Promise<void>> {
  const script = (await import(new URL('../../../scripts/lib/mariadb.mjs', import.meta.url).href)) as MariadbScript
  const instance = await script.temporaryMariadb({ fast: true })
  project.provide('database', script.databaseEnv(instance))
  return () => instance.stop()
}

import { test as base } from '@playwright/test'
import { connect, copyTemplate, emptyDatabase } from './databases.ts'
import { journeySetup } from './journeySetup.ts'
import { startInstallation, type Installation } from './installation.ts'

export { expect } from '@playwright/test'
export type { Locator, Page } from '@playwright/test'

interface ForWorker {
  /** A server with a database of its own, as long as the worker runs. */
  installation: Installation & { reset(): Promise<void> }
}

interface ForTest {
  /** The demo's data as it was made, before each journey. */
  demoData: void
  /** Starts another, empty installation, which ends with the journey. @returns its address */
  secondInstallation: () => Promise<string>
}

/**
 * Runs in the page before its own code. Nothing moves by itself: what is pressed is where it will be, and colours are what
 * they come to. Simulated instruments count their own time by readings: they may read as often as the page keeps up with.
 */
function stillAndQuick(faster: number): void {
  addEventListener('DOMContentLoaded', () => {
    const still = document.createElement('style')
    still.textContent = '*, ::before, ::after { transition: none !important; animation: none !important }'
    document.head.append(still)
  })
  const own = window.setInterval.bind(window)
  window.setInterval = ((run: TimerHandler, due?: number, ...given: unknown[]) =>
    own(run, (due ?? 0) <= 1000 ? (due ?? 0) / faster : due, ...given)) as typeof window.setInterval
}

export const test = base.extend<ForTest, ForWorker>({
  installation: [
    // eslint-disable-next-line no-empty-pattern -- Playwright reads the names of what is asked for from the pattern
    async ({}, use, { parallelIndex }) => {
      const { database } = journeySetup()
      const name = `cold_thread_journeys_${parallelIndex}`
      const connection = await connect(database)
      await emptyDatabase(connection, name)
      await copyTemplate(connection, name)
      const installation = await startInstallation(database, name)
      await use({ ...installation, reset: () => copyTemplate(connection, name) })
      await installation.stop()
      await connection.end()
    },
    { scope: 'worker', auto: true },
  ],
  baseURL: async ({ installation }, use) => use(installation.address),
  context: async ({ context }, use) => {
    await context.addInitScript(stillAndQuick, 8)
    await use(context)
  },
  demoData: [
    async ({ installation }, use) => {
      await installation.reset()
      await use()
    },
    { auto: true },
  ],
  // eslint-disable-next-line no-empty-pattern -- as above
  secondInstallation: async ({}, use, { parallelIndex }) => {
    const started: Installation[] = []
    await use(async () => {
      const { database } = journeySetup()
      const name = `cold_thread_second_${parallelIndex}`
      const connection = await connect(database)
      await emptyDatabase(connection, name)
      await connection.end()
      const second = await startInstallation(database, name)
      started.push(second)
      return second.address
    })
    for (const one of started) await one.stop()
  },
})

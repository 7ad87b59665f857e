import { chromium, type Browser, type BrowserContext, type Page } from '@playwright/test'
import { spawn } from 'node:child_process'
import { existsSync, readFileSync, rmSync } from 'node:fs'
import { join } from 'node:path'
import { setTimeout as sleep } from 'node:timers/promises'
import { CHROMIUM_PATH } from './chromium.ts'

/** A browser with its profile on the disk whose processes can be killed at once, as a dead battery does. */
export interface KillableBrowser {
  context: BrowserContext
  page: Page
  /** SIGKILL to all of its processes. */
  kill(): Promise<void>
}

const STARTS_WITHIN_MS = 30_000

/**
 * @param profile folder of the profile: what the browser keeps outlives its death
 * @throws Error when the browser does not start in time
 */
export async function openKillable(
  profile: string,
  baseURL: string,
  size: { width: number; height: number },
  more: readonly string[] = [],
): Promise<KillableBrowser> {
  const portFile = join(profile, 'DevToolsActivePort')
  rmSync(portFile, { force: true })
  // A killed browser leaves its locks behind.
  for (const lock of ['SingletonLock', 'SingletonSocket', 'SingletonCookie'])
    rmSync(join(profile, lock), { force: true })
  const child = spawn(
    CHROMIUM_PATH,
    [
      '--no-sandbox',
      '--no-first-run',
      '--disable-gpu',
      '--disable-dev-shm-usage',
      '--remote-debugging-port=0',
      `--user-data-dir=${profile}`,
      `--window-size=${size.width},${size.height}`,
      ...more,
      'about:blank',
    ],
    { stdio: 'ignore', detached: true },
  )
  const ended = new Promise((resolve) => child.once('exit', resolve))
  const deadline = Date.now() + STARTS_WITHIN_MS
  while (!existsSync(portFile)) {
    if (Date.now() > deadline || child.exitCode !== null) throw new Error('the browser does not start')
    await sleep(50)
  }
  await sleep(50)
  const [port] = readFileSync(portFile, 'utf8').split('\n')
  const browser: Browser = await chromium.connectOverCDP(`http://127.0.0.1:${port}`)
  const context = browser.contexts()[0]!
  const page = context.pages()[0] ?? (await context.newPage())
  await page.setViewportSize(size)
  await page.goto(baseURL).catch(() => undefined)
  return {
    context,
    page,
    async kill() {
      process.kill(-child.pid!, 'SIGKILL')
      await ended
      await browser.close().catch(() => undefined)
    },
  }
}

// npm run bench:kills -- [entries] [kills] [seed]: entries made in the app while browser, server, database and network die
// at random moments. None that was acknowledged to the person may be lost, none may stand twice, all in their order.
import { fork, type ChildProcess } from 'node:child_process'
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { setTimeout as sleep } from 'node:timers/promises'
import { fileURLToPath } from 'node:url'
import { seededRandom } from '@cold-thread/core/math'
import { databaseEnv, temporaryMariadb } from '../../scripts/lib/mariadb.mjs'
import { openKillable, type KillableBrowser } from '../harness/killableBrowser.ts'

const [entries, kills, seed] = [process.argv[2] ?? 1000, process.argv[3] ?? 50, process.argv[4] ?? 1].map(Number) as [
  number,
  number,
  number,
]
const ROOT = fileURLToPath(new URL('../../', import.meta.url))
const PHONE = { width: 390, height: 844 }
const KINDS = ['browser', 'server', 'database', 'network'] as const
type Kind = (typeof KINDS)[number]

const random = seededRandom(seed)
const between = (low: number, high: number) => low + (high - low) * random.uniform()

/** Stays the same while the server dies and comes back, and is none that the system gives away meanwhile. */
const PORT = 8482

const database = await temporaryMariadb({})
const address = `http://127.0.0.1:${PORT}`
let server: ChildProcess

async function startServer(): Promise<void> {
  for (;;) {
    const said = await launchServer()
    if ('listening' in said) return
    console.error(`the server does not start: ${said.failed}; again in a second`)
    await sleep(1000)
  }
}

function launchServer(): Promise<{ listening: number } | { failed: string }> {
  server = fork(join(ROOT, 'server/dist/main.js'), {
    detached: true,
    stdio: 'ignore',
    env: {
      ...process.env,
      ...databaseEnv(database),
      COLD_THREAD_PORT: String(PORT),
      COLD_THREAD_WEB_FOLDER: join(ROOT, 'web/dist'),
      COLD_THREAD_DEMO: '1',
      NODE_ENV: 'production',
    },
  })
  return new Promise((resolve) => {
    server.once('message', (said: { listening: number } | { failed: string }) => resolve(said))
    server.once('exit', (status) => resolve({ failed: `it ended with ${status}` }))
  })
}

async function killServer(): Promise<void> {
  const ended = new Promise((resolve) => server.once('exit', resolve))
  server.kill('SIGKILL')
  await ended
}

const profile = mkdtempSync(join(tmpdir(), 'ct-kills-'))
let browser: KillableBrowser | undefined
const acknowledged: string[] = []
const counts: Record<Kind, number> = { browser: 0, server: 0, database: 0, network: 0 }
let callout = ''

/** The log's form on the screen, with or without a server behind it. */
async function openLog(): Promise<void> {
  browser = await openKillable(profile, `${address}/callouts/${callout}/join`, PHONE)
  await browser.page.getByLabel('Note', { exact: true }).waitFor({ timeout: 60_000 })
}

/** Enters a note; true when the app has said that it is entered, which is when its field is empty again. */
async function enter(text: string): Promise<boolean> {
  const field = browser!.page.getByLabel('Note', { exact: true })
  try {
    await field.fill(text, { timeout: 20_000 })
    await browser!.page.getByRole('button', { name: 'Log the note' }).click({ timeout: 20_000 })
    await browser!.page.waitForFunction(
      (id) => (document.getElementById(id) as HTMLTextAreaElement | null)?.value === '',
      (await field.getAttribute('id')) ?? '',
      { timeout: 20_000, polling: 10 },
    )
    return true
  } catch {
    return false
  }
}

async function trouble(kind: Kind): Promise<void> {
  counts[kind]++
  switch (kind) {
    case 'browser':
      return browser!.kill()
    case 'server':
      await killServer()
      await sleep(between(100, 1500))
      return startServer()
    case 'database':
      process.kill(database.pid, 'SIGKILL')
      await sleep(between(100, 800))
      return database.restart()
    case 'network':
      await browser!.context.setOffline(true)
      await sleep(between(200, 1500))
      await browser!.context.setOffline(false)
  }
}

try {
  await startServer()
  browser = await openKillable(profile, address, PHONE)
  await browser!.page.getByLabel('Name').fill('tech')
  await browser!.page.getByLabel('Password').fill('thrushmere-tech')
  await browser!.page.getByRole('button', { name: 'Sign in' }).click()
  await browser!.page.getByRole('link', { name: /Links beyond Reed Island are down/ }).click()
  await browser!.page.getByText(/On this device, \d/).waitFor({ timeout: 60_000 })
  callout = new URL(browser!.page.url()).pathname.split('/')[2]!
  await browser!.page.evaluate('navigator.serviceWorker.ready.then(() => true)')
  // Chromium writes cookies to the disk every 30 s: killed before, the person would have to sign in again.
  await sleep(35_000)
  await browser!.kill()
  await openLog()

  const begun = performance.now()
  let tried = 0
  for (let round = 0; round < kills; round++) {
    const kind = KINDS[Math.floor(random.uniform() * KINDS.length)]!
    const share = Math.ceil((entries - acknowledged.length) / (kills - round))
    const dies = sleep(between(0, 60 * share)).then(() => trouble(kind))
    for (let k = 0; k < share || kind === 'browser'; k++) {
      const text = `entry ${tried++}`
      if (await enter(text)) acknowledged.push(text)
      else if (kind === 'browser') break
      if (k > 3 * share + 50) break
    }
    await dies
    if (kind === 'browser') await openLog()
    if (round % 10 === 9) console.error(`${round + 1} deaths, ${acknowledged.length} entries acknowledged`)
  }
  while (acknowledged.length < entries) {
    const text = `entry ${tried++}`
    if (await enter(text)) acknowledged.push(text)
  }
  const entered = performance.now()
  await browser!.page.goto(`${address}/outbox`)
  await browser!.page
    .getByText('Nothing waits: everything entered here is on the server.')
    .waitFor({ timeout: 120_000 })
  const drained = performance.now()

  const log = (await browser!.page.evaluate(
    `fetch('/api/callouts/${callout}/observations').then((reply) => reply.json())`,
  )) as { entry: { kind: string; text?: string } }[]
  const kept = log.flatMap(({ entry }) =>
    entry.kind === 'note' && entry.text?.startsWith('entry ') ? [entry.text] : [],
  )
  const set = new Set(kept)
  const lost = acknowledged.filter((text) => !set.has(text))
  const numbers = kept.map((text) => Number(text.split(' ')[1]))
  const disordered = numbers.filter((number, k) => k > 0 && number < numbers[k - 1]!).length
  console.log(
    `${acknowledged.length} entries acknowledged of ${tried} tried, over ${kills} deaths: ${KINDS.map((kind) => `${kind} ${counts[kind]}`).join(', ')} (seed ${seed})`,
  )
  console.log(`lost: ${lost.length}; twice: ${kept.length - set.size}; out of order: ${disordered}`)
  console.log(`on the server without having been acknowledged: ${set.size - acknowledged.length + lost.length}`)
  console.log(
    `entered in ${((entered - begun) / 1000).toFixed(0)} s, the rest sent ${((drained - entered) / 1000).toFixed(1)} s later`,
  )
  if (lost.length > 0) console.log(`lost: ${lost.slice(0, 10).join(', ')}`)
  if (lost.length + kept.length - set.size + disordered > 0) process.exitCode = 1
} finally {
  await browser?.kill().catch(() => undefined)
  await killServer().catch(() => undefined)
  await database.stop()
  rmSync(profile, { recursive: true, force: true })
}

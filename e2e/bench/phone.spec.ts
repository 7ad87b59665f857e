import { expect, test, type BrowserContext, type Page } from '@playwright/test'
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { gzipSync } from 'node:zlib'
import { build, preview } from 'vite'
import { signInByForm } from '../harness/signIn.ts'

const PHONE = { width: 390, height: 844 }
/** A phone's processor against this machine's. */
const SLOWER = 4
const QUEUED = 500
/** So often each stage is opened. */
const OPENED = 9

/** Bytes of everything that a page loads until it stands, text gzipped, by kind. */
async function weigh(page: Page, go: () => Promise<void>): Promise<{ code: number; fonts: number; data: number }> {
  const sums = { code: 0, fonts: 0, data: 0 }
  const bodies: Promise<void>[] = []
  page.on('response', (response) => {
    // What the service worker puts away for later is not part of the first screen.
    if (response.request().serviceWorker() !== null) return
    bodies.push(
      response.body().then(
        (body) => {
          const path = new URL(response.url()).pathname
          if (/\.woff2$/.test(path)) sums.fonts += body.length
          else if (path.startsWith('/api/')) sums.data += gzipSync(body).length
          else sums.code += gzipSync(body).length
        },
        () => undefined,
      ),
    )
  })
  await go()
  await page.waitForLoadState('networkidle')
  await Promise.all(bodies)
  page.removeAllListeners('response')
  return sums
}

const kilobytes = (bytes: number) => (bytes / 1000).toFixed(0)

test('the first screen against a bare page of the same stack', async ({ browser, baseURL }) => {
  const outDir = mkdtempSync(join(tmpdir(), 'ct-bare-'))
  const root = fileURLToPath(new URL('../../web/bare/', import.meta.url))
  await build({ root, logLevel: 'error', build: { outDir, target: 'es2022', emptyOutDir: true } })
  const served = await preview({ root, logLevel: 'error', build: { outDir }, preview: { host: '127.0.0.1', port: 0 } })
  const fresh = () => browser.newContext({ viewport: PHONE, serviceWorkers: 'block' })
  const open = async (context: BrowserContext, address: string, ready: (page: Page) => Promise<void>) => {
    const page = await context.newPage()
    const weight = await weigh(page, async () => {
      await page.goto(address)
      await ready(page)
    })
    await context.close()
    return weight
  }
  const bare = await open(await fresh(), served.resolvedUrls!.local[0]!, (page) =>
    expect(page.getByLabel('Name')).toBeVisible(),
  )
  const ours = await open(await fresh(), `${baseURL}/`, (page) => expect(page.getByLabel('Name')).toBeVisible())
  // Who is signed in comes to the board at once; what then comes along by itself is not part of the screen.
  const known = await fresh()
  const first = await known.newPage()
  await signInByForm(first, 'viewer', baseURL)
  await first.close()
  const board = await open(known, `${baseURL}/`, (page) =>
    expect(page.getByRole('link', { name: /Links beyond Reed Island/ })).toBeVisible(),
  )
  await served.close()
  rmSync(outDir, { recursive: true, force: true })
  const sum = ({ code, data }: { code: number; data: number }) => code + data
  console.log(`bare page: code ${kilobytes(bare.code)} kB gz, fonts ${kilobytes(bare.fonts)} kB`)
  for (const [name, weight] of [
    ['first screen (sign-in)', ours],
    ['board', board],
  ] as const)
    console.log(
      `${name}: code ${kilobytes(weight.code)} kB gz, data ${kilobytes(weight.data)} kB gz, fonts ${kilobytes(weight.fonts)} kB: ${(sum(weight) / sum(bare)).toFixed(2)} × the bare page`,
    )
})

test('an offline callout on a phone’s processor, and a full outbox that drains', async ({ browser, baseURL }) => {
  const context = await browser.newContext({ viewport: PHONE })
  const page = await context.newPage()
  await signInByForm(page, 'tech', baseURL)
  await page.getByRole('link', { name: /Links beyond Reed Island are down/ }).click()
  await expect(page.getByText(/On this device, \d/)).toBeVisible({ timeout: 60_000 })
  const callout = new URL(page.url()).pathname.split('/')[2]!
  await page.evaluate('navigator.serviceWorker.ready.then(() => true)')
  // When something first stands on the page, ms since the navigation began, as the page's own clock has it.
  await page.addInitScript(`{
    const seen = []
    new MutationObserver(() => seen.push([performance.now(), document.querySelector('main h1') !== null, [...document.querySelectorAll('section[aria-label]')].map((section) => section.getAttribute('aria-label'))])).observe(document, { childList: true, subtree: true })
    window.firstShown = (selector) => {
      const label = /aria-label="(.*)"/.exec(selector)?.[1]
      return seen.find(([, title, labels]) => (label === undefined ? title : labels.includes(label)))[0]
    }
  }`)
  await context.setOffline(true)
  const devtools = await context.newCDPSession(page)
  await devtools.send('Emulation.setCPUThrottlingRate', { rate: SLOWER })
  for (const stage of ['join', 'locate', 'plan']) {
    const times: { title: number; stage: number }[] = []
    for (let k = 0; k < OPENED; k++) {
      await page.goto(`${baseURL}/callouts/${callout}/${stage}`, { waitUntil: 'commit' })
      const region = { join: 'Log', locate: 'Break', plan: 'Proposed repair' }[stage]!
      await page.getByRole('region', { name: region, exact: true }).waitFor({ timeout: 60_000 })
      const shown = (selector: string) => page.evaluate<number>(`window.firstShown(${JSON.stringify(selector)})`)
      times.push({ title: await shown('main h1'), stage: await shown(`section[aria-label="${region}"]`) })
    }
    // The machine itself is fast and slow by turns: the fastest says what the app takes at best, the median what it took.
    const told = (of: 'title' | 'stage') => {
      const sorted = times.map((time) => time[of]).sort((a, b) => a - b)
      return `${sorted[OPENED >> 1]!.toFixed(0)} ms (fastest ${sorted[0]!.toFixed(0)})`
    }
    console.log(`offline, ${SLOWER} × slower: ${stage} opens in ${told('title')}, with all on it ${told('stage')}`)
  }
  await devtools.send('Emulation.setCPUThrottlingRate', { rate: 1 })

  // As the app keeps them (web/src/field/fieldStore.ts).
  await page.evaluate(
    ({ callout, queued }) =>
      new Promise<void>((resolve, reject) => {
        const opened = indexedDB.open('cold-thread')
        opened.onsuccess = async () => {
          const answer = opened.result.transaction('answers').objectStore('answers').get('session')
          answer.onsuccess = () => {
            const { account } = (answer.result as { body: { account: { id: string; displayName: string } } }).body
            const transaction = opened.result.transaction('outbox', 'readwrite')
            for (let k = 0; k < queued; k++)
              transaction.objectStore('outbox').add({
                id: crypto.randomUUID(),
                calloutId: callout,
                accountId: account.id,
                by: account.displayName,
                enteredAt: new Date().toISOString(),
                kind: 'observation',
                observation: {
                  entry: { kind: 'note', text: `queued ${k}` },
                  observedAt: new Date().toISOString(),
                  supersedes: null,
                },
                attempts: 0,
                state: 'waits',
                refused: null,
              })
            transaction.oncomplete = () => resolve()
            transaction.onerror = () => reject(new Error('not kept'))
          }
        }
      }),
    { callout, queued: QUEUED },
  )
  await page.goto(`${baseURL}/outbox`)
  await expect(page.getByText(`${QUEUED} entries wait`)).toBeVisible()
  const begun = performance.now()
  await context.setOffline(false)
  await page.getByText('Nothing waits: everything entered here is on the server.').waitFor({ timeout: 120_000 })
  console.log(`${QUEUED} queued entries drained in ${((performance.now() - begun) / 1000).toFixed(1)} s`)
  await context.close()
})

import { DEMO_DAMAGES, shootBothWays } from '@cold-thread/demo'
import { expect, test, type Page } from '@playwright/test'
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { chromium } from '@playwright/test'
import { signIn } from './signIn.ts'

async function openCut(page: Page, stage: string): Promise<void> {
  await page.getByRole('link', { name: /Links beyond Reed Island are down/ }).click()
  await page.getByRole('tab', { name: stage }).click()
}

const waits = (page: Page) => page.getByRole('status', { name: 'What waits' })

async function logSplice(page: Page): Promise<void> {
  await page.getByLabel('Estimated loss, dB').fill('0,03')
  await page.getByRole('button', { name: /^Log:/ }).click()
}

test('the network goes in the middle: everything entered is on the server in the end, once and in order', async ({
  baseURL,
}) => {
  test.setTimeout(240_000)
  // A browser of its own with a profile on the disk, so that it can be killed and opened again.
  const profile = mkdtempSync(join(tmpdir(), 'cold-thread-profile-'))
  const options = {
    executablePath: '/usr/bin/chromium',
    ...(baseURL === undefined ? {} : { baseURL }),
    viewport: { width: 390, height: 844 },
  }
  let context = await chromium.launchPersistentContext(profile, options)
  let page = context.pages()[0]!
  await signIn(page, 'tech')
  await openCut(page, 'Locate')
  // 1. It is assigned to the technician: it comes along by itself.
  await expect(page.getByText(/On this device, \d+\.\d MB/)).toBeVisible({ timeout: 60_000 })
  const calloutId = new URL(page.url()).pathname.split('/')[2]!
  await page.evaluate(() => navigator.serviceWorker.ready.then(() => true))

  // 2. Without network: evidence moves the place, a trace is read and placed, a splice is logged.
  await context.setOffline(true)
  await page.reload()
  await expect(page.getByRole('region', { name: 'Break' })).toBeVisible({ timeout: 60_000 })
  await page.getByRole('button', { name: 'Add evidence' }).click()
  await page.getByLabel('What was seen').fill('post beside the cable')
  await page.getByLabel('Where', { exact: true }).click()
  await page.getByRole('option', { name: 'Reed Island' }).click()
  await page.getByRole('button', { name: 'Use this evidence' }).click()
  await expect(page.getByRole('list', { name: 'Evidence' })).toContainText('post beside the cable')
  await expect(waits(page)).toContainText('1 entry waits, kept on this device')
  await expect(waits(page)).toContainText('no network')
  const shots = shootBothWays('visitor-wan', 'present', DEMO_DAMAGES.cut, new Date('2026-03-01T02:40:00Z'))
  const shot = shots.find(({ direction, wavelength }) => direction === 'ab' && wavelength === 1550)!
  await page.getByLabel('Trace files, present').setInputFiles({
    name: 'field-ab-1550.sor',
    mimeType: 'application/octet-stream',
    buffer: shot.content,
  })
  await expect(page.getByText('field-ab-1550.sor').first()).toBeVisible({ timeout: 30_000 })
  await expect(page.getByRole('region', { name: 'Break' })).toBeVisible({ timeout: 30_000 })
  await page.getByRole('tab', { name: 'Join' }).click()
  await logSplice(page)
  await expect(waits(page)).toContainText('3 entries wait')

  // 3. The browser is killed and opened again, still without network.
  const killed = context.browser()
  await context.close()
  await killed?.close()
  context = await chromium.launchPersistentContext(profile, options)
  await context.setOffline(true)
  page = context.pages()[0]!
  await page.goto(`/callouts/${calloutId}/join`)
  await expect(page.getByText(/fiber 7, attempt 1/)).toBeVisible({ timeout: 30_000 })
  await expect(waits(page)).toContainText('3 entries wait')
  await page.goto('/outbox')
  await expect(page.getByText(/Splice: .* fiber 7, attempt 1, 0\.03 dB/)).toBeVisible()

  // 4. The network is back: all of it arrives, in order and once.
  await context.setOffline(false)
  await page.getByRole('button', { name: 'Send now' }).click()
  await expect(page.getByText('Nothing waits: everything entered here is on the server.')).toBeVisible({
    timeout: 60_000,
  })
  const [log, traces] = await page.evaluate(async (id) => {
    const read = async (what: string) => (await fetch(`/api/callouts/${id}/${what}`)).json()
    return Promise.all([read('observations'), read('traces')])
  }, calloutId)
  const kinds = (log as { entry: { kind: string } }[])
    .map(({ entry }) => entry.kind)
    .filter((kind) => kind !== 'packed' && kind !== 'step')
  expect(kinds.slice(-2)).toEqual(['evidence', 'splice'])
  expect(kinds.filter((kind) => kind === 'splice')).toHaveLength(1)
  expect((traces as { fileName: string }[]).filter(({ fileName }) => fileName === 'field-ab-1550.sor')).toHaveLength(1)
  await context.close()
  rmSync(profile, { recursive: true, force: true })
})

test('a refused entry says why and is sent again or taken out; signing out warns of what waits', async ({ page }) => {
  await signIn(page, 'tech')
  await openCut(page, 'Join')
  // The server refuses once, as it would a splice on a node that was renamed meanwhile.
  await page.route('**/observations/*', (route) =>
    route.request().method() === 'PUT'
      ? route.fulfill({
          status: 422,
          contentType: 'application/json',
          body: JSON.stringify({
            code: 'invalid-request',
            message: 'the link does not pass node "x"',
            place: 'entry.node',
          }),
        })
      : route.continue(),
  )
  await logSplice(page)
  await expect(waits(page)).toContainText('1 refused')
  await waits(page).getByRole('link').click()
  await expect(page.getByText('the link does not pass node "x" (entry.node)')).toBeVisible()
  await page.getByRole('button', { name: 'Sign out' }).click()
  await expect(page.getByText('One entry is not on the server')).toBeVisible()
  await page.getByRole('button', { name: 'Stay' }).click()
  await page.unroute('**/observations/*')
  await page.getByRole('button', { name: 'Send again' }).click()
  await expect(page.getByText('Nothing waits: everything entered here is on the server.')).toBeVisible()
  await expect(waits(page)).toBeEmpty()
})

test('a second browser sees an entry within two seconds', async ({ browser, page }) => {
  await signIn(page, 'tech')
  await openCut(page, 'Join')
  const second = await (await browser.newContext()).newPage()
  await signIn(second, 'lead')
  await openCut(second, 'Join')
  await expect(second.getByRole('region', { name: 'Log' })).toBeVisible()
  await page.waitForTimeout(1000)
  await page.getByLabel('Remark').first().fill('seen by the lead at once')
  await logSplice(page)
  await expect(second.getByText(/seen by the lead at once/)).toBeVisible({ timeout: 2000 })
  await second.context().close()
})

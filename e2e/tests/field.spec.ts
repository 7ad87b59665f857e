import { DEMO_DAMAGES, shootBothWays } from '@cold-thread/demo'
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { create } from 'qrcode'
import { choose } from '../harness/choose.ts'
import { openKillable } from '../harness/killableBrowser.ts'
import { withoutPolling } from '../harness/live.ts'
import { passwordOf } from '../harness/journeySetup.ts'
import { signIn } from '../harness/signIn.ts'
import { stageLink } from '../harness/stageLink.ts'
import { expect, test, type Page } from '../harness/test.ts'

const PHONE = { width: 390, height: 844 }
/** The smallest PNG: signature, header of 1 × 1, data, end (PNG specification, W3C). */
const PNG = Buffer.from(
  'iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg==',
  'base64',
)

/** A film of one still: a QR code, black on white, in the middle of a frame (YUV4MPEG2, 4:2:0). */
function filmOf(text: string): Buffer {
  const [width, height, scale] = [640, 480, 8]
  const { modules } = create(text, { errorCorrectionLevel: 'M' })
  const luma = Buffer.alloc(width * height, 235)
  const [left, top] = [width, height].map((side) => (side - modules.size * scale) >> 1) as [number, number]
  for (let y = 0; y < modules.size * scale; y++)
    for (let x = 0; x < modules.size * scale; x++)
      if (modules.get(Math.floor(y / scale), Math.floor(x / scale))) luma[(top + y) * width + left + x] = 16
  const frame = Buffer.concat([Buffer.from('FRAME\n'), luma, Buffer.alloc((width * height) / 2, 128)])
  return Buffer.concat([Buffer.from(`YUV4MPEG2 W${width} H${height} F10:1 Ip A1:1 C420\n`), frame, frame])
}

// The app is kept on the device here.
test.use({ serviceWorkers: 'allow' })

async function openCut(page: Page, stage: string): Promise<void> {
  await page.getByRole('link', { name: /Links beyond Reed Island are down/ }).click()
  await stageLink(page, stage).click()
}

const waits = (page: Page) => page.getByRole('status', { name: 'What waits' })

async function logSplice(page: Page): Promise<void> {
  await page.getByLabel('Estimated loss, dB').fill('0,03')
  await page.getByRole('button', { name: /^Log:/ }).click()
}

test('the network goes in the middle: everything entered is on the server in the end, once and in order', async ({
  baseURL,
}) => {
  // A browser of its own with a profile on the disk, so that it can be killed and opened again.
  const profile = mkdtempSync(join(tmpdir(), 'cold-thread-profile-'))
  let browser = await openKillable(profile, baseURL!, PHONE)
  let { context, page } = browser
  await signIn(page, 'tech', baseURL)
  await openCut(page, 'Locate')
  // 1. It is assigned to the technician: it comes along by itself.
  await expect(page.getByText(/On this device, \d+\.\d MB/)).toBeVisible()
  const calloutId = new URL(page.url()).pathname.split('/')[2]!
  await page.evaluate(() => navigator.serviceWorker.ready.then(() => true))

  // 2. Without network: evidence moves the place, a trace is read and placed, a splice is logged.
  await context.setOffline(true)
  await page.reload()
  await expect(page.getByRole('region', { name: 'Break' })).toBeVisible()
  await page.getByRole('button', { name: 'Add evidence' }).click()
  await page.getByLabel('What was seen').fill('post beside the cable')
  await choose(page.getByLabel('Where', { exact: true }), 'Reed Island')
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
  await expect(page.getByText('field-ab-1550.sor').first()).toBeVisible()
  await expect(page.getByRole('region', { name: 'Break' })).toBeVisible()
  await stageLink(page, 'Join').click()
  await logSplice(page)
  await expect(waits(page)).toContainText('3 entries wait')
  await page.getByLabel('What it shows').fill('post in the towpath')
  await page.getByLabel('Photo', { exact: true }).setInputFiles({ name: 'p.png', mimeType: 'image/png', buffer: PNG })
  await expect(page.getByRole('img', { name: 'post in the towpath' })).toBeVisible()
  await expect(waits(page)).toContainText('4 entries wait')

  // 3. The browser is killed (SIGKILL, as by a dead battery) and opened again, still without network.
  await browser.kill()
  browser = await openKillable(profile, 'about:blank', PHONE)
  ;({ context, page } = browser)
  await context.setOffline(true)
  await page.goto(`${baseURL}/callouts/${calloutId}/join`)
  await expect(page.getByText(/fiber 7, attempt 1/)).toBeVisible()
  await expect(page.getByRole('img', { name: 'post in the towpath' })).toBeVisible()
  await expect(waits(page)).toContainText('4 entries wait')
  await page.goto(`${baseURL}/outbox`)
  await expect(page.getByText(/Splice: .* fiber 7, attempt 1, 0\.03 dB/)).toBeVisible()

  // 4. The network is back: all of it arrives, in order and once. Chromium writes cookies to the disk every 30 s: when it
  // was killed before, one signs in again first.
  await context.setOffline(false)
  await page.reload()
  const signedOut = page.getByLabel('Password')
  await expect(signedOut.or(page.getByRole('heading', { name: 'Outbox' }))).toBeVisible()
  if (await signedOut.isVisible()) {
    await page.getByLabel('Name').fill('tech')
    await signedOut.fill(passwordOf('tech'))
    await page.getByRole('button', { name: 'Sign in' }).click()
  }
  await expect(page.getByText('Nothing waits: everything entered here is on the server.')).toBeVisible({
    timeout: 60_000,
  })
  const [log, traces, photos] = await page.evaluate(async (id) => {
    const read = async (what: string) => (await fetch(`/api/callouts/${id}/${what}`)).json()
    return Promise.all([read('observations'), read('traces'), read('attachments')])
  }, calloutId)
  const kinds = (log as { entry: { kind: string } }[])
    .map(({ entry }) => entry.kind)
    .filter((kind) => kind !== 'packed' && kind !== 'step')
  expect(kinds.slice(-2)).toEqual(['evidence', 'splice'])
  expect(kinds.filter((kind) => kind === 'splice')).toHaveLength(1)
  expect((traces as { fileName: string }[]).filter(({ fileName }) => fileName === 'field-ab-1550.sor')).toHaveLength(1)
  expect((photos as { caption: string; bytes: number }[]).map(({ caption, bytes }) => [caption, bytes])).toEqual([
    ['post in the towpath', PNG.length],
  ])
  await browser.kill()
  rmSync(profile, { recursive: true, force: true })
})

test('a full device says that an entry is not kept, loses nothing that was typed, and takes it when there is room', async ({
  page,
  baseURL,
}) => {
  // Before the store is opened: the browser asks for its room once and remembers that for a while.
  const devtools = await page.context().newCDPSession(page)
  const origin = baseURL!
  await devtools.send('Storage.overrideQuotaForOrigin', { origin, quotaSize: 3_000_000 })
  await signIn(page, 'tech')
  await openCut(page, 'Join')
  await expect(page.getByRole('region', { name: 'Log', exact: true })).toBeVisible()
  const file = { name: 'scan.bin', mimeType: 'application/octet-stream', buffer: Buffer.alloc(6_000_000, 7) }
  await page.getByLabel('What it shows').fill('kept in the end')
  await page.getByLabel('Files', { exact: true }).setInputFiles(file)
  await expect(page.getByText(/This device is full: the entry is not kept\. Make room/)).toBeVisible()
  await expect(page.getByLabel('What it shows')).toHaveValue('kept in the end')
  await devtools.send('Storage.overrideQuotaForOrigin', { origin })
  await page.getByLabel('Files', { exact: true }).setInputFiles(file)
  await expect(page.getByRole('list', { name: 'Photos and files' }).getByText('kept in the end')).toBeVisible()
  await expect(page.getByLabel('What it shows')).toHaveValue('')
  await expect(waits(page)).toBeEmpty()
})

test('the camera reads the tag of a closure and opens the place', async ({ baseURL }) => {
  // A camera that sees what a person would hold it at: the tag's code, as uncompressed video.
  const folder = mkdtempSync(join(tmpdir(), 'cold-thread-camera-'))
  const film = join(folder, 'tag.y4m')
  writeFileSync(film, filmOf(`${baseURL}/at/weir`))
  const browser = await openKillable(join(folder, 'profile'), baseURL!, PHONE, [
    '--use-fake-ui-for-media-stream',
    '--use-fake-device-for-media-stream',
    `--use-file-for-fake-video-capture=${film}`,
  ])
  const { page } = browser
  await signIn(page, 'tech', baseURL)
  await page.getByRole('button', { name: 'Scan a tag' }).click()
  await expect(page.getByRole('heading', { name: 'Weir closure' })).toBeVisible()
  await expect(page.getByRole('region', { name: 'Open here' })).toBeVisible()
  await browser.kill()
  rmSync(folder, { recursive: true, force: true })
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

test('a second browser sees an entry at once', async ({ browser, page, baseURL }) => {
  await signIn(page, 'tech')
  await openCut(page, 'Join')
  const second = await (await browser.newContext({ baseURL: baseURL! })).newPage()
  await withoutPolling(second)
  const listening = second.waitForResponse(/\/live$/)
  await signIn(second, 'lead')
  await openCut(second, 'Join')
  await expect(second.getByRole('region', { name: 'Log' })).toBeVisible()
  await listening
  await page.getByLabel('Remark').first().fill('seen by the lead at once')
  await logSplice(page)
  await expect(second.getByText(/seen by the lead at once/)).toBeVisible()
  await second.context().close()
})

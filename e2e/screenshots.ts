// Takes the pictures of docs/screenshots from a running demo: npm run screenshots -- http://127.0.0.1:8460 [folder]
import { repairedFiles, SURVEY, surveyFiles } from '@cold-thread/demo'
import { chromium, type Page } from '@playwright/test'
import { randomUUID } from 'node:crypto'
import { mkdirSync } from 'node:fs'
import { join } from 'node:path'
import { choose } from './harness/choose.ts'
import { CHROMIUM_PATH } from './harness/chromium.ts'
import { doUntil, stepOf } from './harness/runSheet.ts'
import { stageLink } from './harness/stageLink.ts'

const [address = 'http://127.0.0.1:8460', folder = 'docs/screenshots', only = ''] = process.argv.slice(2)
const WIDE = { width: 1280, height: 800 }
const PHONE = { width: 390, height: 844 }

interface View {
  name: string
  size: { width: number; height: number }
  dark?: boolean
  go(page: Page): Promise<void>
}

async function openCallout(page: Page, title: string, stage: string): Promise<void> {
  await page.goto(address)
  await page.getByRole('link', { name: new RegExp(title) }).click()
  await stageLink(page, stage).click()
  await page.waitForTimeout(2500)
}

async function openPlan(page: Page, title: string): Promise<void> {
  await openCallout(page, title, 'Plan')
  await page.getByRole('list', { name: 'Order of work' }).waitFor({ timeout: 60_000 })
  await page.waitForTimeout(500)
}

/** A splicing session whose splices show a dirty groove. */
async function openSplicing(page: Page): Promise<void> {
  await openCallout(page, 'Links beyond Reed Island', 'Join')
  const begin = page.getByRole('button', { name: 'Begin the session' })
  if (await begin.isVisible()) {
    await begin.click()
    await page.getByRole('button', { name: 'It was accepted' }).click()
    await choose(page.getByLabel('The simulated splicer is'), 'dirty groove')
    const splice = page.getByRole('region', { name: 'Splice', exact: true })
    const advice = page.getByRole('region', { name: 'Advice' })
    for (let i = 0; i < 12 && !(await advice.isVisible()); i++) {
      await splice.getByLabel('The sleeve is on').check()
      await splice.getByLabel(/These two lie in the splicer/).check()
      await splice.getByRole('button', { name: 'Splice on the simulated splicer' }).click()
      await splice.getByRole('status').waitFor()
      await splice.getByRole('button', { name: /^(Accept|Redo|Stop and find out why)$/ }).click()
      await page.waitForTimeout(800)
    }
  }
  await page.evaluate('window.scrollTo(0, 0)')
}

/** The first look at a dirty connector. */
async function openEndFace(page: Page): Promise<void> {
  await openCallout(page, 'Lock cameras flicker', 'Join')
  const faces = page.getByRole('region', { name: 'End faces' })
  await faces.getByRole('button', { name: /simulated microscope/ }).click()
  await faces.getByRole('button', { name: 'Keep this look' }).waitFor({ timeout: 60_000 })
  await faces.evaluate((section) => section.scrollIntoView())
  await page.waitForTimeout(500)
}

/** The fibers of a tube that was spliced: one joint poor, one fiber open. */
async function openEveryFiber(page: Page): Promise<void> {
  const id = randomUUID()
  await page.request.put(`${address}/api/callouts/${id}`, {
    headers: { origin: address },
    data: { linkId: SURVEY.linkId, title: 'One tube spliced anew', alarm: '', practiceSeed: null },
  })
  await page.goto(`${address}/callouts/${id}/fibers`)
  const fibers = Array.from({ length: 24 }, (_, k) => k + 25)
  const files = repairedFiles(new Date('2026-03-01T09:10:00Z'), fibers, [1310, 1550])
  await page.getByLabel('Trace files of the cable').setInputFiles(
    files.map(({ fileName, content }) => ({
      name: fileName,
      mimeType: 'application/octet-stream',
      buffer: Buffer.from(content),
    })),
  )
  await page.getByRole('button', { name: /^Send/ }).click({ timeout: 60_000 })
  await page.getByRole('region', { name: 'All fibers together' }).waitFor({ timeout: 120_000 })
  await page.getByRole('button', { name: /^All,/ }).click()
  const table = page.getByRole('table', { name: 'Fibers' })
  for (let k = 0; k < 6; k++) await table.press('ArrowDown')
  await page.evaluate(() => window.scrollTo(0, 0))
  await page.waitForTimeout(600)
}

/** A reference set and a link read on the simulated meter; the next one is being read. */
async function openLossTest(page: Page): Promise<void> {
  await openCallout(page, 'Links beyond Reed Island', 'Prove')
  const section = page.getByRole('region', { name: 'Loss test, source and meter' })
  await section.getByRole('button', { name: 'As the simulated meter shows it' }).click()
  await section.getByRole('button', { name: 'As the simulated meter shows it' }).waitFor({ timeout: 15_000 })
  await section.getByRole('button', { name: 'Keep the reference' }).click()
  const read = section.getByRole('button', { name: /^Simulated meter: / })
  await read.click()
  await section.getByText('within', { exact: true }).waitFor({ timeout: 15_000 })
  await read.click()
  await section.getByText('Daily check of source, cords and meter').click()
  await section.evaluate((element) => element.scrollIntoView())
  await page.waitForTimeout(700)
}

/** A run sheet for bringing a thin cable in, done until a step says this. */
async function openSheet(page: Page, words: RegExp): Promise<void> {
  await openCallout(page, 'Lock cameras flicker', 'Open')
  const another = page.getByRole('button', { name: 'Begin another' })
  if (await another.isVisible()) await another.click()
  await choose(page.getByLabel('What is to be done'), /bring a cable in/)
  await page.getByLabel('Cable’s outer diameter, mm').fill('11.2')
  await page.getByLabel('Traffic on its fibers').uncheck()
  await page.getByRole('button', { name: 'Begin this sheet' }).click()
  await stepOf(page).waitFor()
  await doUntil(page, words)
  if (await page.getByRole('group', { name: 'Loss while you work' }).isVisible()) {
    await page.getByRole('button', { name: 'Begin: this is the level before' }).click({ timeout: 15_000 })
    await page.getByRole('slider').press('End')
    await page.getByText('release it').waitFor()
  }
  await stepOf(page).evaluate((step) => step.scrollIntoView({ block: step.clientHeight > 600 ? 'start' : 'center' }))
}

const VIEWS: View[] = [
  { name: 'board', size: WIDE, go: async (page) => void (await page.waitForTimeout(800)) },
  { name: 'locate', size: WIDE, go: (page) => openCallout(page, 'Office network shows errors', 'Locate') },
  {
    name: 'simulated-otdr',
    size: WIDE,
    go: async (page) => {
      await openCallout(page, 'Lock cameras flicker', 'Locate')
      await page.getByRole('button', { name: 'Shoot these settings' }).click()
      await page.getByText(/a loss of .* would be seen/).waitFor()
      await page.evaluate(() => document.querySelector('[aria-label="Traces of the fault"]')?.scrollIntoView())
      await page.waitForTimeout(150)
    },
  },
  { name: 'every-fiber', size: WIDE, go: openEveryFiber },
  { name: 'loss-test', size: WIDE, dark: true, go: openLossTest },
  { name: 'locate-phone', size: PHONE, go: (page) => openCallout(page, 'Office network shows errors', 'Locate') },
  {
    name: 'cable-survey',
    size: WIDE,
    go: async (page) => {
      await page.getByRole('button', { name: 'New callout' }).click()
      await choose(page.getByRole('combobox', { name: 'Link' }), 'Visitor centre to gauge house, telemetry')
      await page.getByLabel('What is wrong').fill('Several circuits of cable TN-4 are down')
      await page.getByRole('button', { name: 'Open the callout' }).click()
      await page.getByRole('link', { name: 'Survey the cable' }).click()
      const files = surveyFiles(new Date('2026-03-01T05:10:00Z')).map(({ fileName, content }) => ({
        name: fileName,
        mimeType: 'application/octet-stream',
        buffer: Buffer.from(content),
      }))
      await page.getByLabel('Trace files of the cable').setInputFiles(files)
      await page.getByRole('button', { name: /^Send/ }).click({ timeout: 60_000 })
      await page.getByRole('heading', { name: 'What is hit' }).waitFor({ timeout: 120_000 })
      await page.waitForTimeout(800)
    },
  },
  { name: 'plan', size: WIDE, go: (page) => openPlan(page, 'Links beyond Reed Island') },
  {
    name: 'plan-order',
    size: WIDE,
    go: async (page) => {
      await openPlan(page, 'Links beyond Reed Island')
      await page.evaluate(() => document.querySelector('[aria-label="Order of work"]')?.scrollIntoView())
      await page.waitForTimeout(400)
    },
  },
  { name: 'open', size: WIDE, go: (page) => openSheet(page, /Bushing over the cable/) },
  { name: 'open-phone', size: PHONE, dark: true, go: (page) => openSheet(page, /Tighten the clamp/) },
  {
    name: 'lengths',
    size: WIDE,
    go: async (page) => {
      await page.goto(`${address}/lengths`)
      await choose(page.getByLabel('Construction'), /rollable ribbon/)
      await page.getByLabel('Armored').check()
      await page.getByLabel('Second jacket').check()
      await page.evaluate(() => document.querySelector('[aria-label="Cable end"]')?.scrollIntoView())
      await page.waitForTimeout(300)
    },
  },
  {
    name: 'closure',
    size: WIDE,
    go: async (page) => {
      await page.goto(`${address}/at/lock-9`)
      await page.getByRole('heading', { name: 'Ports' }).waitFor()
      await page.evaluate(() => document.querySelector('[aria-label="Ports"]')?.scrollIntoView())
      await page.waitForTimeout(300)
    },
  },
  { name: 'join', size: WIDE, go: openSplicing },
  { name: 'end-face', size: WIDE, go: openEndFace },
  { name: 'prove', size: WIDE, go: (page) => openCallout(page, 'Flood telemetry drops out', 'Prove') },
  { name: 'close', size: WIDE, go: (page) => openCallout(page, 'Flood telemetry drops out', 'Close') },
  {
    name: 'kit',
    size: WIDE,
    go: async (page) => {
      await page.goto(`${address}/kit`)
      await page.waitForTimeout(800)
    },
  },
  {
    name: 'plant',
    size: WIDE,
    go: async (page) => {
      await page.goto(`${address}/plant`)
      await page.waitForTimeout(800)
    },
  },
]

const browser = await chromium.launch({ executablePath: CHROMIUM_PATH })
mkdirSync(folder, { recursive: true })

/** Signs in once: sign-in attempts are limited. */
async function signedIn() {
  const context = await browser.newContext()
  const page = await context.newPage()
  await page.goto(address)
  await page.getByLabel('Name').fill('lead')
  await page.getByLabel('Password').fill('thrushmere-lead')
  await page.getByRole('button', { name: 'Sign in' }).click()
  await page.getByRole('heading', { name: 'Callouts' }).waitFor()
  const state = await context.storageState()
  await context.close()
  return state
}

const session = await signedIn()
for (const { name, size, dark, go } of VIEWS) {
  if (only !== '' && !only.split(',').includes(name)) continue
  const context = await browser.newContext({
    viewport: size,
    colorScheme: dark ? 'dark' : 'light',
    storageState: session,
  })
  const page = await context.newPage()
  page.on('pageerror', (error) => console.error(name, error.message))
  page.on('console', (message) => {
    if (message.type() === 'error') console.error(name, message.text())
  })
  await page.goto(address)
  await page.getByRole('heading', { name: 'Callouts' }).waitFor()
  await go(page)
  await page.screenshot({ path: join(folder, `${name}.png`) })
  await context.close()
}
await browser.close()

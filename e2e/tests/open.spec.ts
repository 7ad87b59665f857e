import { expect, test, type Page } from '@playwright/test'
import { signIn } from './signIn.ts'
import { stageLink } from './stageLink.ts'

/** The smallest PNG: signature, header of 1 × 1, data, end (PNG specification, W3C). */
const PNG = Buffer.from(
  'iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg==',
  'base64',
)

const stepOf = (page: Page) => page.getByRole('region', { name: 'Step', exact: true })
const done = (page: Page) => stepOf(page).getByRole('button', { name: 'Done', exact: true })

/** Which step is shown: “Open, step 8 of 41”. */
const place = (page: Page) => stepOf(page).getByText(/, step \d+ of \d+/)

/** Does the step that is shown as a careful person does, and waits until the next one stands there. */
async function doStep(page: Page): Promise<void> {
  const step = stepOf(page)
  const before = await place(page).innerText()
  for (const box of await step.getByRole('checkbox').all())
    if (!(await box.locator('xpath=ancestor::label').innerText()).includes('Keep where')) await box.check()
  for (const field of await step.getByRole('textbox').all()) {
    const described = await field.getAttribute('aria-describedby')
    const help = described === null ? '' : await page.locator(`[id="${described}"]`).innerText()
    const expected = /expected ([\d.]+)/.exec(help)?.[1]
    const numeric = (await field.getAttribute('inputmode')) !== 'text'
    await field.fill(expected ?? (numeric ? '1' : 'as on record'))
  }
  const photo = step.getByLabel('Photo of this step')
  if ((await photo.count()) > 0) {
    await photo.setInputFiles({ name: 'step.png', mimeType: 'image/png', buffer: PNG })
    await expect(step.getByText('1 photo kept')).toBeVisible()
  }
  if ((await step.getByRole('group', { name: 'Loss while you work' }).count()) > 0) {
    await step.getByRole('button', { name: 'Begin: this is the level before' }).click({ timeout: 15_000 })
    await expect(step.getByRole('status').getByText('holds')).toBeVisible({ timeout: 15_000 })
  }
  await done(page).click()
  await expect(place(page)).not.toHaveText(before)
}

/** Does steps until one that says this is shown. */
async function doUntil(page: Page, words: RegExp): Promise<void> {
  for (let i = 0; i < 60; i++) {
    if (words.test(await stepOf(page).innerText())) return
    await doStep(page)
  }
  throw new Error(`no step says ${words}`)
}

async function openSheet(page: Page): Promise<void> {
  await page.getByRole('link', { name: /Lock cameras flicker/ }).click()
  await stageLink(page, 'Open').click()
}

test('a closure is opened and closed: an over-tight clamp is flagged, a leak found, a shift handed over, a photo kept', async ({
  browser,
  page,
  baseURL,
}) => {
  test.setTimeout(240_000)
  await signIn(page, 'tech')
  await openSheet(page)
  await page.getByLabel('Where', { exact: true }).click()
  await page.getByRole('option', { name: /Lock 9 closure/ }).click()
  await page.getByLabel('What is to be done').click()
  await page.getByRole('option', { name: /bring a cable in/ }).click()
  await page.getByLabel('Cable’s outer diameter, mm').fill('wide')
  await expect(page.getByRole('button', { name: 'Begin this sheet' })).toBeDisabled()
  await page.getByLabel('Cable’s outer diameter, mm').fill('11,2')
  await expect(page.getByText('under 12.7 mm: tape and a bushing')).toBeVisible()
  await page.getByRole('button', { name: 'Begin this sheet' }).click()

  // 1. A caution where life is at stake is said by the person, or the step is not done; Enter does it.
  await expect(place(page)).toContainText('At the place, step 1 of')
  await page.keyboard.press('Enter')
  await expect(stepOf(page).getByRole('alert').filter({ hasText: 'To be confirmed' })).toBeVisible()
  await expect(stepOf(page).getByRole('button', { name: 'Leave out' })).toHaveCount(0)

  // 2. Cutting waits for a lead; the lead, in another browser, sees what was entered, and gives the word.
  await doUntil(page, /Wait for the lead’s word to cut/)
  await expect(done(page)).toBeDisabled()
  await expect(stepOf(page).getByText(/a lead’s word is needed/)).toBeVisible()
  const other = await browser.newContext(baseURL === undefined ? {} : { baseURL })
  const lead = await other.newPage()
  await signIn(lead, 'lead')
  await openSheet(lead)
  await expect(stepOf(lead).getByText('Wait for the lead’s word to cut')).toBeVisible()
  await stepOf(lead).getByRole('button', { name: 'Give the lead’s word' }).click()
  await expect(stepOf(page).getByText(/Duty lead gave the word/)).toBeVisible({ timeout: 2000 })

  // 3. The vent comes before the clamp: the step after it is locked while the vent is not done.
  await doUntil(page, /press its core until no pressure/)
  await page.keyboard.press(']')
  await expect(stepOf(page).getByText('Take the clamp ring off')).toBeVisible()
  await expect(stepOf(page).getByRole('status').filter({ hasText: 'vent it first' })).toBeVisible()
  await expect(done(page)).toBeDisabled()
  await page.keyboard.press('[')

  // 4. The count differs from the record: stop, count again, give the reason.
  await doUntil(page, /Count the tubes against the record/)
  await stepOf(page).getByLabel('Tubes', { exact: true }).fill('3')
  await done(page).click()
  await expect(stepOf(page).getByRole('alert').filter({ hasText: 'Stop and count again' })).toBeVisible()
  await stepOf(page).getByLabel('Tubes, counted again').fill('3')
  await done(page).click()
  await stepOf(page).getByLabel('Reason').fill('one tube was cut away in an earlier repair')
  await done(page).click()
  await expect(stepOf(page).getByText('Choose the port')).toBeVisible()

  // 5. Tightening: too tight adds loss, is flagged and can't be done; noted as failed, released, done.
  await doUntil(page, /Tighten the clamp/)
  const step = stepOf(page)
  await step.getByRole('button', { name: 'Begin: this is the level before' }).click({ timeout: 15_000 })
  const screw = step.getByRole('slider')
  await screw.focus()
  await screw.press('End')
  await expect(step.getByRole('status').getByText('release it')).toBeVisible({ timeout: 20_000 })
  await done(page).click()
  await expect(step.getByRole('alert').filter({ hasText: /dB were added: release/ })).toBeVisible()
  await step.getByRole('button', { name: 'Note this as a failed try' }).click()
  await step.getByRole('button', { name: 'Keep as failed' }).click()
  await expect(step.getByText(/does not count/)).toBeVisible()
  await screw.press('Home')
  await expect(step.getByRole('status').getByText('holds')).toBeVisible({ timeout: 20_000 })

  // 6. The shift changes: what is open, what failed and what comes next stand in the hand-over.
  const handOver = page.getByRole('region', { name: 'Hand-over' })
  await expect(handOver).toContainText('Open now: closure open, trays out, fibers bare, cable cut')
  await expect(handOver).toContainText('Next: “Tighten the clamp')
  await expect(handOver).toContainText('dB were added; released (Night technician)')
  await handOver.getByLabel('Hand over to').fill('Duty lead')
  await handOver.getByRole('button', { name: 'Hand over' }).click()
  await expect(page.getByRole('region', { name: 'Hand-over' })).toContainText(
    'Night technician handed over to Duty lead',
  )
  await expect(lead.getByRole('region', { name: 'Hand-over' })).toContainText('handed over to Duty lead', {
    timeout: 2000,
  })
  await expect(stepOf(lead).getByText('Tighten the clamp')).toBeVisible()

  // 7. The lead goes on, up to the pressure test: a leak first, then it holds.
  await doUntil(lead, /Pressure test with a regulated source/)
  const readings = async (end: string) => {
    const fields = {
      'Gauge at the start, kPa': '35',
      'Temperature then, °C': '20',
      'Gauge at the end, kPa': end,
      'Temperature at the end, °C': '10',
      'Minutes between': '15',
    }
    for (const [label, value] of Object.entries(fields)) await stepOf(lead).getByLabel(label).fill(value)
  }
  await readings('20')
  await expect(stepOf(lead).getByRole('status')).toContainText('leaks')
  await done(lead).click()
  await expect(stepOf(lead).getByRole('alert').filter({ hasText: 'It leaks' })).toBeVisible()
  await stepOf(lead).getByRole('button', { name: 'It failed' }).click()
  await stepOf(lead).getByLabel('What failed').fill('a plug was loose in port 6')
  await stepOf(lead).getByRole('button', { name: 'Keep as failed' }).click()
  await expect(stepOf(lead).getByText(/a plug was loose/)).toBeVisible()
  // 136.3 kPa · 283.15 K / 293.15 K − 101.3 kPa = 30.4 kPa: cooling alone.
  await readings('30,2')
  await expect(stepOf(lead).getByRole('status')).toContainText('cooling alone takes 35.0 kPa to 30.4 kPa')
  await done(lead).click()

  // 8. Pressure out, measured again; the sheet is complete in both browsers, with the photo on the server.
  await expect(stepOf(lead).getByText('Let the pressure out')).toBeVisible()
  for (const words of [/Let the pressure out/, /Measure again/]) {
    await expect(stepOf(lead)).toContainText(words)
    for (const box of await stepOf(lead).getByRole('checkbox').all()) await box.check()
    if (words.source === 'Measure again') {
      await stepOf(lead).getByRole('button', { name: 'Begin: this is the level before' }).click({ timeout: 15_000 })
      await expect(stepOf(lead).getByRole('status').getByText('holds')).toBeVisible({ timeout: 15_000 })
    }
    await done(lead).click()
  }
  await expect(lead.getByText('Every step is done or left out with its reason')).toBeVisible()
  await expect(page.getByText('Every step is done or left out with its reason')).toBeVisible({ timeout: 2000 })
  await stageLink(page, 'Join').click()
  await expect(page.getByRole('list', { name: 'Photos and files' }).getByRole('listitem').first()).toBeVisible()
  await other.close()
})

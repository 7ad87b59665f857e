import { DEMO_DAMAGES, shootBothWays } from '@cold-thread/demo'
import { readFileSync } from 'node:fs'
import Papa from 'papaparse'
import { choose } from '../harness/choose.ts'
import { pdfText } from '../harness/pdfText.ts'
import { signIn, signInByForm } from '../harness/signIn.ts'
import { stageLink } from '../harness/stageLink.ts'
import { expect, test, type Locator, type Page } from '../harness/test.ts'

const BREAK_AT = DEMO_DAMAGES.break.at.chainage

const files = (role: 'present' | 'after') =>
  shootBothWays('level-control', role, DEMO_DAMAGES.break, new Date('2026-03-01T02:40:00Z')).map((shot) => ({
    name: shot.fileName,
    mimeType: 'application/octet-stream',
    buffer: shot.content,
  }))

/** Shot when the joint was made, and made badly. */
const poorFiles = () =>
  shootBothWays(
    'level-control',
    'present',
    { at: DEMO_DAMAGES.break.at, breaks: false, loss: 0.62 },
    new Date('2026-03-01T05:10:00Z'),
  ).map((shot) => ({
    name: shot.fileName.replace('present', 'poor'),
    mimeType: 'application/octet-stream',
    buffer: shot.content,
  }))

/** "12 734 m" as a number. */
async function metresIn(locator: Locator): Promise<number> {
  return Number((await locator.textContent())!.replaceAll(/[^\d.]/g, ''))
}

async function fileSaved(page: Page, link: Locator): Promise<{ name: string; bytes: Buffer }> {
  const [download] = await Promise.all([page.waitForEvent('download'), link.click()])
  return { name: download.suggestedFilename(), bytes: readFileSync((await download.path())!) }
}

test('from the alarm to the signed proof: upload, place, splice, measure again, verdict, signature, files', async ({
  page,
  secondInstallation,
}) => {
  // 1. The board: the fresh callout waits for its first shot.
  await signInByForm(page, 'lead')
  await page.getByRole('link', { name: /Level control link is down/ }).click()
  await expect(page.getByRole('heading', { name: 'Shoot the link' })).toBeVisible()

  // 2. A file that is no trace is refused with its reason and nothing is kept.
  const picker = page.getByLabel('Trace files, present')
  await picker.setInputFiles({ name: 'photo.sor', mimeType: 'image/png', buffer: Buffer.from('not a trace at all') })
  const refusal = page.getByRole('region', { name: 'Traces of the fault' }).getByRole('alert')
  await expect(refusal).toContainText('photo.sor')
  await expect(refusal).toContainText('byte 0')

  // 3. Four real files, both ends and two wavelengths: the break is placed on the ground, within its interval.
  await picker.setInputFiles(files('present'))
  const card = page.getByRole('region', { name: 'Break' })
  await expect(card).toBeVisible()
  await expect(card.getByText('Pinned from both sides by known features')).toBeVisible()
  await expect(card.getByText('from the far end')).toBeVisible()
  // Each file that comes in places the break anew: all four count.
  for (const { name } of files('present')) await expect(page.getByRole('link', { name })).toBeVisible()
  await expect.poll(async () => (await metresIn(card.locator('strong').nth(1))) >= BREAK_AT).toBe(true)
  const place = await metresIn(card.locator('p').first())
  expect(Math.abs(place - BREAK_AT)).toBeLessThan(20)
  const [low, high] = await Promise.all([
    metresIn(card.locator('strong').nth(0)),
    metresIn(card.locator('strong').nth(1)),
  ])
  expect(low).toBeLessThanOrEqual(BREAK_AT)
  expect(high).toBeGreaterThanOrEqual(BREAK_AT)
  await expect(card.getByText(/Swing Bridge 14 hand-hole/).first()).toBeVisible()
  await expect(card.getByText(/locate this cable and every other buried service/)).toBeVisible()

  // 4. The splice: place, fiber and colours are there; the first attempt is judged bad, the second good.
  await page.keyboard.press('4')
  await expect(page.getByLabel('Where', { exact: true })).toContainText('New closure at the located fault')
  await expect(page.getByText('slate')).toBeVisible() // fiber 5 in the blue tube, TIA-598-D
  await page.getByLabel('Estimated loss, dB').fill('0,18')
  await expect(page.getByText('Redo', { exact: true })).toBeVisible()
  await page.getByRole('button', { name: 'Log: redo' }).click()
  await expect(page.getByRole('heading', { name: 'Splice, attempt 2' })).toBeVisible()
  await page.getByLabel('Estimated loss, dB').fill('0.02')
  await page.getByRole('button', { name: 'Log: accepted' }).click()
  await expect(page.getByText('accepted', { exact: true })).toBeVisible()

  // 5. Measured again: the verdict, with the new splice among the joints.
  await stageLink(page, 'Prove').click()
  await expect(page.getByText('Can’t tell yet')).toBeVisible()
  await page.getByLabel('Trace files, after').setInputFiles(poorFiles())
  await expect(page.getByText('Not restored', { exact: true })).toBeVisible()
  const next = page.getByRole('list', { name: 'Next' })
  await expect(next).toContainText(/redo the splice at \d+ m: up to 0\.\d\d dB, about \d+ min/)

  // Done again, measured again: now it is.
  await stageLink(page, 'Join').click()
  await page.getByLabel('Estimated loss, dB').fill('0.01')
  await page.getByRole('button', { name: 'Log: accepted' }).click()
  await expect(page.getByRole('heading', { name: 'Splice, attempt 4' })).toBeVisible()
  await stageLink(page, 'Prove').click()
  await page.getByLabel('Trace files, after').setInputFiles(files('after'))
  await expect(page.getByText('Restored', { exact: true })).toBeVisible()
  const table = page.getByRole('table', { name: 'Readings at 1550 nm' })
  const added = table.getByRole('row', { name: /splice, new/ })
  const spliceLoss = await metresIn(added.getByRole('cell').nth(3))
  expect(spliceLoss).toBeGreaterThan(0.01)
  expect(spliceLoss).toBeLessThan(0.1)
  expect(Math.abs((await metresIn(added.getByRole('cell').first())) - BREAK_AT)).toBeLessThan(25)

  // 6. Signed: what that changes in the record is shown first; afterwards nothing more is taken.
  await stageLink(page, 'Close').click()
  const changes = page.getByRole('region', { name: 'What signing changes in the record' })
  await expect(changes.getByText(/^new closure at \d+ m$/)).toBeVisible()
  await expect(changes.getByText(/^fiber 5, .*: spliced at/)).toBeVisible()
  // What it was: the likeliest by the traces is offered, the lead says what was found.
  await expect(page.getByLabel('What it was')).toContainText('cut or clean break')
  await choose(page.getByLabel('What it was'), 'pulled cable')
  await page.getByRole('button', { name: 'Sign as Duty lead' }).click()
  await expect(page.getByRole('heading', { name: 'Signed off' })).toBeVisible()
  await expect(page.getByText(/Duty lead, .*; it was: pulled cable/)).toBeVisible()
  await expect(
    page.getByRole('region', { name: 'The record as built' }).getByText(/^new closure at \d+ m$/),
  ).toBeVisible()
  await stageLink(page, 'Join').click()
  await expect(page.getByRole('button', { name: /^Log:/ })).toHaveCount(0)

  // 7. The files leave as they came.
  await stageLink(page, 'Close').click()
  const sent = files('present')[0]!
  const stored = await fileSaved(page, page.getByRole('link', { name: sent.name }))
  expect(stored.bytes.equals(sent.buffer)).toBe(true)
  const readings = await fileSaved(page, page.getByRole('link', { name: 'Readings as CSV' }))
  const rows = Papa.parse<Record<string, string>>(readings.bytes.toString('utf8').trim(), { header: true }).data
  const total = rows.find((row) => row['place'] === 'whole link' && row['wavelength_nm'] === '1550')!
  expect(Math.abs(Number(total['loss_after_dB']) - Number(total['loss_before_dB']))).toBeLessThan(0.15)

  // The whole callout leaves as one file; it is here already, and is not taken in twice.
  const zip = await fileSaved(page, page.getByRole('link', { name: 'Whole callout, ZIP' }))
  await page.getByRole('link', { name: 'Callouts' }).click()
  await page
    .getByLabel('Callout as ZIP')
    .setInputFiles({ name: 'callout.zip', mimeType: 'application/zip', buffer: zip.bytes })
  await expect(page.getByRole('alert')).toContainText('in this installation already')
  await page.goBack()

  // Another, empty installation takes it in, and gives out the same file again.
  const other = await (await page.context().browser()!.newContext()).newPage()
  await other.goto(await secondInstallation())
  await other.getByLabel('Sign-in name').fill('other')
  await other.getByLabel('Full name, as reports show it').fill('Other lead')
  await other.getByLabel(/^Password/).fill('another place')
  await other.getByRole('button', { name: 'Make the account' }).click()
  await other
    .getByLabel('Callout as ZIP')
    .setInputFiles({ name: zip.name, mimeType: 'application/zip', buffer: zip.bytes })
  await expect(other.getByRole('heading', { name: 'Level control link is down' })).toBeVisible()
  await stageLink(other, 'Close').click()
  await expect(other.getByRole('heading', { name: 'Signed off' })).toBeVisible()
  const again = await fileSaved(other, other.getByRole('link', { name: 'Whole callout, ZIP' }))
  expect(again.bytes.equals(zip.bytes)).toBe(true)
  await other.context().close()

  // 8. The report says the same, with the signature.
  const report = await fileSaved(page, page.getByRole('link', { name: 'PDF, A4' }))
  const text = await pdfText(report.bytes)
  expect(text).toMatch(/^Level control link is down Restored/)
  expect(text).toContain(`${Number(total['loss_after_dB']).toFixed(2)} ±`)
  expect(text).toContain('It was pulled cable')
  expect(text).toMatch(/Signed Duty lead, \d{4}-\d\d-\d\d/)
})

test('the simulated OTDR proves a repaired closure', async ({ page }) => {
  await signIn(page, 'tech')
  await page.getByRole('link', { name: /Office network shows errors/ }).click()
  await stageLink(page, 'Locate').click()
  await expect(page.getByText('At Lock 9 closure', { exact: true })).toBeVisible()
  await expect(page.getByText('0.90 dB').first()).toBeVisible()
  await stageLink(page, 'Prove').click()
  // Locate has a button of the same name.
  await expect(page.getByRole('region', { name: 'Traces of the fault' })).toBeHidden()
  await page.getByRole('button', { name: 'Shoot both ends at both wavelengths' }).click()
  await expect(page.getByText('Restored', { exact: true })).toBeVisible()
  const row = page.getByRole('table', { name: 'Readings at 1550 nm' }).getByRole('row', { name: /Lock 9 closure/ })
  await expect(row.getByText('holds')).toBeVisible()

  // At night a technician signs provisionally; the lead sees by whom, and that nothing has changed since.
  await stageLink(page, 'Close').click()
  await page.getByLabel('Remark').fill('closure shut at three')
  await page.getByRole('button', { name: 'Sign provisionally as Night technician' }).click()
  const signed = page.getByRole('status').filter({ hasText: 'Signed provisionally by Night technician' })
  await expect(signed).toContainText('closure shut at three')
  await expect(signed).toContainText('Nothing has changed since.')
  await stageLink(page, 'Prove').click()
  await page.getByRole('button', { name: 'Shoot both ends at both wavelengths' }).click()
  await expect(page.getByRole('button', { name: 'Shoot both ends at both wavelengths' })).toBeEnabled({
    timeout: 60_000,
  })
  await stageLink(page, 'Close').click()
  await expect(signed).toContainText(/has changed since: \d+ traces/)
})

test('the thread view goes from event to event and reads all lanes by keyboard', async ({ page }) => {
  await signIn(page, 'viewer')
  await page.getByRole('link', { name: /Flood telemetry drops out/ }).click()
  await stageLink(page, 'Locate').click()
  const thread = page.getByRole('group', { name: /Thread view/ })
  await thread.focus()
  await page.keyboard.press(']')
  const reading = page.getByLabel('Reading at the cursor')
  await expect(reading).toContainText('baseline → ')
  const first = await reading.textContent()
  await page.keyboard.press(']')
  await expect(reading).not.toHaveText(first!)
  await page.keyboard.press('f')
  await expect(reading).toContainText('27')

  // Two markers placed by keyboard: loss and attenuation between them, by two points and by least squares.
  await page.getByRole('button', { name: 'Measure' }).click()
  await thread.focus()
  await page.keyboard.press('m')
  await page.keyboard.press(']')
  await page.keyboard.press('m')
  const between = page.getByRole('table', { name: 'Between the markers' })
  const reading1550 = between.getByRole('row', { name: /present →/ }).getByRole('cell')
  await expect(reading1550.nth(4)).toContainText('±')
  expect(await metresIn(reading1550.nth(1))).toBeGreaterThan(10)

  // A viewer reads and changes nothing.
  await expect(page.getByRole('button', { name: 'Choose .sor files' })).toHaveCount(0)
})

test('the records keeper imports a plant; a contradiction is refused by name and changes nothing', async ({ page }) => {
  await signIn(page, 'records')
  await page.getByRole('link', { name: 'Plant' }).click()
  await expect(page.getByRole('heading', { name: 'Thrushmere Navigation' })).toBeVisible()
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('button', { name: 'Export plant' }).click(),
  ])
  const plant = JSON.parse(readFileSync((await download.path())!, 'utf8')) as { nodes: { routeId: string }[] }
  plant.nodes[2]!.routeId = 'nowhere'
  const spoiled = { name: 'plant.json', mimeType: 'application/json', buffer: Buffer.from(JSON.stringify(plant)) }
  await page.getByLabel('Plant bundle').setInputFiles(spoiled)
  await expect(page.getByRole('alert')).toContainText('nodes[2].routeId')
  await expect(page.getByText('Baselines both ways at 1310 and 1550 nm')).toHaveCount(3)
})

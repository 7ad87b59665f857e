import { closureModelOf, compileSheet, emptyOutcome, factsOf, isSheet, PROCEDURES } from '@cold-thread/core/open'
import { THRUSHMERE, THRUSHMERE_OPEN_BOOK } from '@cold-thread/demo'
import { request } from '@playwright/test'
import { randomUUID } from 'node:crypto'
import { readFile } from 'node:fs/promises'
import { choose } from '../harness/choose.ts'
import { pickUp } from '../harness/dragging.ts'
import { withoutPolling } from '../harness/live.ts'
import { done, doStep, doUntil, place, stepOf } from '../harness/runSheet.ts'
import { sessionCookie, signIn } from '../harness/signIn.ts'
import { stageLink } from '../harness/stageLink.ts'
import { expect, test, type Locator, type Page } from '../harness/test.ts'

async function openSheet(page: Page): Promise<void> {
  await page.getByRole('link', { name: /Lock cameras flicker/ }).click()
  await stageLink(page, 'Open').click()
}

test('a closure is opened and closed: an over-tight clamp is flagged, a leak found, a shift handed over, a photo kept', async ({
  browser,
  page,
  baseURL,
}) => {
  const failed: string[] = []
  page.on('response', (response) => {
    if (response.status() >= 500) failed.push(`${response.status()} ${response.url()}`)
  })
  await signIn(page, 'tech')
  await openSheet(page)
  await choose(page.getByLabel('Where', { exact: true }), /Lock 9 closure/)
  await choose(page.getByLabel('What is to be done'), /bring a cable in/)
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
  for (const one of [page, lead]) await withoutPolling(one)
  await signIn(lead, 'lead')
  await openSheet(lead)
  await expect(stepOf(lead).getByText('Wait for the lead’s word to cut')).toBeVisible()
  await stepOf(lead).getByRole('button', { name: 'Give the lead’s word' }).click()
  await expect(stepOf(page).getByText(/Duty lead gave the word/)).toBeVisible()
  // Until the sheet is handed over the lead looks at something else.
  await lead.goto('/lengths')

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
  await step.getByRole('button', { name: 'Begin: this is the level before' }).click()
  const screw = step.getByRole('slider')
  await screw.focus()
  await screw.press('End')
  await expect(step.getByRole('status').getByText('release it')).toBeVisible()
  await done(page).click()
  await expect(step.getByRole('alert').filter({ hasText: /dB were added: release/ })).toBeVisible()
  await step.getByRole('button', { name: 'Note this as a failed try' }).click()
  await step.getByRole('button', { name: 'Keep as failed' }).click()
  await expect(step.getByText(/does not count/)).toBeVisible()
  await screw.press('Home')
  await expect(step.getByRole('status').getByText('holds')).toBeVisible()

  // 6. The shift changes: what is open, what failed and what comes next stand in the hand-over.
  await lead.goto(page.url())
  await expect(stepOf(lead).getByText('Tighten the clamp')).toBeVisible()
  const handOver = page.getByRole('region', { name: 'Hand-over' })
  await expect(handOver).toContainText('Open now: closure open, trays out, fibers bare, cable cut')
  await expect(handOver).toContainText('Next: “Tighten the clamp')
  await expect(handOver).toContainText('dB were added; released (Night technician)')
  await handOver.getByLabel('Hand over to').fill('Duty lead')
  await handOver.getByRole('button', { name: 'Hand over' }).click()
  await expect(page.getByRole('region', { name: 'Hand-over' })).toContainText(
    'Night technician handed over to Duty lead',
  )
  await expect(lead.getByRole('region', { name: 'Hand-over' })).toContainText('handed over to Duty lead')
  await expect(stepOf(lead).getByText('Tighten the clamp')).toBeVisible()

  // 7. The lead goes on, up to the pressure test: a leak first, then it holds.
  const sheet = page.url()
  await page.goto('/lengths')
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
  await page.goto(sheet)

  // 8. Pressure out, measured again; the sheet is complete in both browsers, with the photo on the server.
  await expect(stepOf(lead).getByText('Let the pressure out')).toBeVisible()
  for (const words of [/Let the pressure out/, /Measure again/, /Ask the desk whether everything on/]) {
    await expect(stepOf(lead)).toContainText(words)
    for (const box of await stepOf(lead).getByRole('checkbox').all()) await box.check()
    if (words.source === 'Measure again') {
      await stepOf(lead).getByRole('button', { name: 'Begin: this is the level before' }).click()
      await expect(stepOf(lead).getByRole('status').getByText('holds')).toBeVisible()
    }
    await done(lead).click()
  }
  await expect(lead.getByText('Every step is done or left out with its reason')).toBeVisible()
  await expect(page.getByText('Every step is done or left out with its reason')).toBeVisible()
  await stageLink(page, 'Join').click()
  await expect(page.getByRole('list', { name: 'Photos and files' }).getByRole('listitem').first()).toBeVisible()
  // 9. The plan counts what steps took; these were too quick to have been done by a hand, and are left out.
  await stageLink(page, 'Plan').click()
  await page.getByText('Where the minutes come from').click()
  await expect(page.getByText(/vent, then open the closure: .* done/)).toHaveCount(0)
  expect(failed).toEqual([])
  await other.close()
})

test('two browsers on one sheet see each other at once, and neither loses an entry', async ({
  browser,
  page,
  baseURL,
}) => {
  await signIn(page, 'tech')
  await page.getByRole('link', { name: /Office network shows errors/ }).click()
  await stageLink(page, 'Open').click()
  await page.getByRole('button', { name: 'Begin this sheet' }).click()
  await expect(place(page)).toContainText('step 1 of')
  const address = page.url()
  const other = await browser.newContext(baseURL === undefined ? {} : { baseURL })
  const lead = await other.newPage()
  for (const one of [page, lead]) await withoutPolling(one)
  await signIn(lead, 'lead')
  await lead.goto(address)
  await expect(place(lead)).toContainText('step 1 of')
  // Both do the same step at the same moment; then each in turn.
  for (const one of [page, lead]) for (const box of await stepOf(one).getByRole('checkbox').all()) await box.check()
  await Promise.all([done(page).click(), done(lead).click()])
  for (const one of [page, lead]) await expect(place(one)).toContainText('step 2 of')
  const list = (one: Page) => one.getByRole('region', { name: 'All steps' })
  for (const one of [page, lead])
    await expect(list(one).getByText(/does not count, .* had settled it before/)).toBeVisible()
  for (const [i, [one, another]] of [
    [page, lead],
    [lead, page],
    [page, lead],
    [lead, page],
  ].entries() as unknown as [number, [Page, Page]][]) {
    await doStep(one)
    await expect(place(another)).toContainText(`step ${i + 3} of`)
  }
  await expect(list(page).getByText('Duty lead', { exact: false }).first()).toBeVisible()
  await other.close()
})

test('a closure’s ports and trays by mouse and keys, an operator’s own procedure, a template in true size', async ({
  page,
}) => {
  await signIn(page, 'lead')
  // 1. A cable is dragged to another port; a tray’s tube by key; what differs from the record is told, and kept.
  await page.goto('/at/aqueduct')
  const port = (n: number) => page.getByRole('group', { name: new RegExp(`^Port ${n}:`) })
  await expect(port(2)).toHaveAccessibleName('Port 2: TN-3')
  await port(3).scrollIntoViewIfNeeded()
  const [from, to] = await Promise.all([
    page.getByLabel('Cable TN-3, port 2: drag to a port').boundingBox(),
    port(3).boundingBox(),
  ])
  await page.mouse.move(from!.x + from!.width / 2, from!.y + from!.height / 2)
  await page.mouse.down()
  await page.mouse.move(from!.x + 40, from!.y + 10, { steps: 4 })
  await page.mouse.move(to!.x + to!.width / 2, to!.y + to!.height / 2, { steps: 8 })
  await page.mouse.up()
  await expect(port(3)).toHaveAccessibleName('Port 3: TN-3')
  await expect(port(2)).toHaveAccessibleName('Port 2: plug')
  await expect(page.getByText('port 3: plug before, TN-3 now')).toBeVisible()
  // By the keys of what is dragged: picked up, one port on, back again by Escape; then for good.
  const chip = (n: number) => page.getByLabel(`Cable TN-3, port ${n}: drag to a port`)
  await chip(3).focus()
  const carry = async (from: number, arrow: string, to: number, last: 'Space' | 'Escape') => {
    await chip(from).focus()
    await pickUp(page, new RegExp(`^TN-3 (picked up|over port ${from})$`))
    await page.keyboard.press(arrow)
    await expect(page.getByText(`TN-3 over port ${to}`)).toBeAttached()
    await page.keyboard.press(last)
  }
  await carry(3, 'ArrowRight', 4, 'Escape')
  await expect(page.getByText('TN-3 left where it was')).toBeAttached()
  await expect(port(3)).toHaveAccessibleName('Port 3: TN-3')
  await carry(3, 'ArrowRight', 4, 'Space')
  await expect(port(4)).toHaveAccessibleName('Port 4: TN-3')
  await carry(4, 'ArrowLeft', 3, 'Space')
  await expect(port(3)).toHaveAccessibleName('Port 3: TN-3')
  await page.getByRole('button', { name: /TN-2 tube 1 blue to TN-3 .*: to the tray after/ }).press('Enter')
  await expect(page.getByText(/tray 1 before, tray 2 now/)).toBeVisible()
  await page.getByLabel('Remark').fill('label of port 3 is worn')
  await page.getByRole('button', { name: 'This is how I leave it' }).click()
  await expect(page.getByText(/As left .* by Duty lead/)).toBeVisible()
  await expect(page.getByRole('region', { name: 'History' })).toContainText('label of port 3 is worn')
  await page.reload()
  await expect(port(3)).toHaveAccessibleName('Port 3: TN-3')

  // 2. A step is added to a procedure; the next sheet has it, one that was begun keeps its own.
  const begin = async (title: RegExp) => {
    await page.goto('/')
    await page.getByRole('link', { name: title }).click()
    await stageLink(page, 'Open').click()
    const first = page.getByRole('button', { name: 'Begin this sheet' })
    await expect(first.or(page.getByRole('button', { name: 'Begin another' }))).toBeVisible()
    if (!(await first.isVisible())) await page.getByRole('button', { name: 'Begin another' }).click()
    await first.click()
    await expect(page.getByRole('region', { name: 'All steps' })).toBeVisible()
  }
  await begin(/Lock cameras flicker/)
  await page.goto('/open-book')
  const row = page.getByText('Gel-sealed dome: open', { exact: true }).locator('xpath=ancestor::div[2]')
  await row.getByRole('button', { name: 'Copy and change' }).click()
  await page.getByRole('button', { name: 'Change step 1', exact: true }).click()
  await page
    .getByLabel('What is done in step 1')
    .fill('Vent it by the operator’s own way, until the gauge shows nothing.')
  await page.getByRole('button', { name: 'Save' }).click()
  await expect(page.getByText(/version 3; the operator’s own/)).toBeVisible()
  await begin(/Office network shows errors/)
  await expect(page.getByRole('region', { name: 'All steps' })).toContainText('Vent it by the operator’s own way')
  await page.goto('/')
  await page.getByRole('link', { name: /Lock cameras flicker/ }).click()
  await stageLink(page, 'Open').click()
  await expect(page.getByRole('region', { name: 'All steps' })).toContainText('press its core until no pressure')

  // 3. Lengths: a figure that is none is refused where it stands; the template comes as a PDF.
  await page.goto('/lengths')
  await page.getByLabel('Sheath off, m').fill('-1')
  await expect(page.getByText('above 0, 20 at most')).toBeVisible()
  await page.getByLabel('Sheath off, m').fill('1,25')
  await expect(page.getByText(/Mark the sheath at/)).toContainText('1.25 m (49 3/16 in)')
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('button', { name: /1:1 template of pre-polished connector, soft-coated fiber, SC, A4/ }).click(),
  ])
  expect(download.suggestedFilename()).toMatch(/^template-.*-a4\.pdf$/)
  expect((await readFile(await download.path())).subarray(0, 5).toString()).toBe('%PDF-')
})

test('on a phone, cables and tubes are moved by finger', async ({ browser, baseURL }) => {
  const phone = await browser.newContext({
    ...(baseURL === undefined ? {} : { baseURL }),
    viewport: { width: 390, height: 844 },
    hasTouch: true,
    isMobile: true,
  })
  const page = await phone.newPage()
  await signIn(page, 'tech')
  await page.goto('/at/lock-9')
  const fingers = await phone.newCDPSession(page)
  const middle = async (locator: Locator) => {
    const box = (await locator.boundingBox())!
    return { x: box.x + box.width / 2, y: box.y + box.height / 2 }
  }
  /** A finger comes down, moves and goes up again, as the browser's own touch events. */
  const drag = async (what: Locator, where: Locator) => {
    await what.scrollIntoViewIfNeeded()
    const [from, to] = [await middle(what), await middle(where)]
    const touch = (type: 'touchStart' | 'touchMove' | 'touchEnd', touchPoints: { x: number; y: number }[]) =>
      fingers.send('Input.dispatchTouchEvent', { type, touchPoints })
    await touch('touchStart', [from])
    for (let i = 1; i <= 10; i++)
      await touch('touchMove', [{ x: from.x + ((to.x - from.x) * i) / 10, y: from.y + ((to.y - from.y) * i) / 10 }])
    await expect(page.getByText(/ over (port|tray) \d/)).toBeAttached()
    await touch('touchEnd', [])
  }
  const port = (n: number) => page.getByRole('group', { name: new RegExp(`^Port ${n}:`) })
  const chip = page.getByLabel(/^Cable \S+, port 2: drag to a port$/)
  const name = /^Cable (\S+),/.exec((await chip.getAttribute('aria-label'))!)![1]!
  await drag(chip, port(4))
  await expect(port(4)).toHaveAccessibleName(`Port 4: ${name}`)
  await expect(port(2)).toHaveAccessibleName('Port 2: plug')
  const tray = (n: number) => page.getByRole('group', { name: new RegExp(`^Tray ${n}:`) })
  const tube = tray(1)
    .getByLabel(/: drag to a tray$/)
    .first()
  const words = (await tube.getAttribute('aria-label'))!
  await drag(tube, tray(2))
  await expect(tray(2).getByLabel(words)).toBeVisible()
  // A swipe over the page scrolls it, and moves nothing.
  const before = await page.evaluate(() => window.scrollY)
  await fingers.send('Input.synthesizeScrollGesture', { x: 20, y: 500, yDistance: -300 })
  expect(await page.evaluate(() => window.scrollY)).toBeGreaterThan(before)
  await phone.close()
})

/** A sheet on which three fibers fewer than on record were counted in the first tube of cable TN-1. */
async function countFewer(baseURL: string): Promise<void> {
  const model = closureModelOf('gel-sealed dome, six ports', THRUSHMERE_OPEN_BOOK.closures)!
  const facts = factsOf(THRUSHMERE, { node: 'lock-9', cable: 'TN-1', chainage: 8230 }, 're-enter', model)
  const sheet = compileSheet({ facts, procedures: PROCEDURES, model, given: {} })
  if (!isSheet(sheet)) throw new Error(sheet.why)
  const field = await request.newContext({
    baseURL,
    extraHTTPHeaders: { origin: baseURL, cookie: sessionCookie('tech') },
  })
  const put = async (path: string, data: object) =>
    expect((await field.put(`/api/callouts/${path}`, { data })).status()).toBe(200)
  const [calloutId, sheetId] = [randomUUID(), randomUUID()]
  await put(calloutId, { linkId: 'visitor-wan', title: 'Counted', alarm: '', practiceSeed: null })
  const log = (id: string, entry: object) =>
    put(`${calloutId}/observations/${id}`, { entry, observedAt: new Date().toISOString(), supersedes: null })
  await log(sheetId, {
    kind: 'sheet',
    sheet: { ...sheet, steps: sheet.steps.filter(({ id }) => id === 'joints.count') },
  })
  const counted = facts.groupFibers! - 3
  await log(randomUUID(), {
    kind: 'sheet-step',
    sheetId,
    ...emptyOutcome('joints.count'),
    values: { 'group-fibers': counted, 'group-fibers-again': counted },
    reason: 'three were never pulled in',
  })
  await field.dispose()
}

test('a count that differs reaches whoever keeps the record, who puts it right with the reason', async ({
  page,
  baseURL,
}) => {
  await countFewer(baseURL!)
  await signIn(page, 'records')
  await page.goto('/plant')
  const cables = page.getByRole('region', { name: 'Cables' })
  await cables.getByRole('button', { name: 'Correct the record of TN-2' }).click()
  const dialog = page.getByRole('dialog')
  await dialog.getByLabel('Outer diameter, mm').fill('wide')
  await dialog.getByLabel('Reason').fill('measured at the aqueduct')
  await dialog.getByRole('button', { name: 'Correct it' }).click()
  await expect(dialog.getByRole('alert')).toContainText('outer diameter: from 1 to 200 mm')
  await dialog.getByLabel('Outer diameter, mm').fill('13,4')
  await expect(dialog.getByText(/Will say: outer diameter: 13.4 mm/)).toBeVisible()
  // Fewer fibers than the links need: refused, with the link that stands against it.
  await dialog.getByLabel('Fibers', { exact: true }).fill('12')
  await dialog.getByRole('button', { name: 'Correct it' }).click()
  await expect(dialog.getByRole('alert')).toContainText('put the link right first')
  await dialog.getByLabel('Fibers', { exact: true }).fill('48')
  await dialog.getByRole('button', { name: 'Correct it' }).click()
  await expect(dialog).toHaveCount(0)
  await expect(cables).toContainText('measured at the aqueduct')
  // A sheet has counted fewer fibers than are on record.
  await expect(cables.getByText('found otherwise')).toBeVisible()
  await cables.getByRole('button', { name: 'The record stands' }).first().click()
  await page.getByRole('dialog').getByLabel('Reason').fill('the fourth tube was found behind the core')
  await page.getByRole('dialog').getByRole('button', { name: 'Let it stand' }).click()
  await expect(cables.getByText('found otherwise')).toHaveCount(0)
  await expect(cables).toContainText('looked at, the record stands. the fourth tube was found behind the core')
})

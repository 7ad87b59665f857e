import ICAL from 'ical.js'
import { readFileSync } from 'node:fs'
import { pickUp, settled } from '../harness/dragging.ts'
import { signIn, signInByForm } from '../harness/signIn.ts'
import { stageLink } from '../harness/stageLink.ts'
import { expect, test, type Page } from '../harness/test.ts'

async function openPlan(page: Page, title: RegExp): Promise<void> {
  await page.getByRole('link', { name: title }).click()
  await stageLink(page, 'Plan').click()
  await expect(page.getByRole('region', { name: 'Proposed repair' })).toBeVisible()
  await scheduled(page)
}

async function scheduled(page: Page): Promise<void> {
  await expect(page.getByRole('progressbar', { name: 'Scheduling' })).toHaveCount(0)
  await expect(page.getByRole('list', { name: 'Order of work' })).toBeVisible()
}

const back = (page: Page) => page.getByRole('region', { name: 'Circuits back over time' }).getByRole('listitem')
/** Picks up the line that has the focus and takes it so many lines up, or to the top. */
async function carryUp(page: Page, lines = 1): Promise<void> {
  await pickUp(page, /^(Picked up draggable item|Draggable item .+ was moved over)/)
  const spoken = page.locator('[id^=DndLiveRegion]')
  const before = await spoken.innerText()
  for (let k = 0; k < lines; k++) {
    await page.keyboard.press('ArrowUp')
    await settled(page)
  }
  await expect(spoken).not.toHaveText(before)
}

const line = (page: Page, name: string) => page.getByRole('button', { name: `Move: ${name}` })

test('a cut without slack: repairs compared, order changed by keyboard and by drag, saved and approved', async ({
  page,
}) => {
  await signIn(page, 'tech')
  await openPlan(page, /Links beyond Reed Island are down/)
  const card = page.getByRole('region', { name: 'Proposed repair' })
  await expect(card).toContainText('First: surface-laid cable over the break. Then: new section with two closures')
  await expect(card).toContainText(/slack is \d.* m short/)

  // 1. Compared: what can't be done says why, another repair can be chosen.
  const compared = page.getByRole('region', { name: 'Repairs compared' })
  await compared.getByText(/Not possible here/).click()
  await expect(compared.getByText(/all 24 fibers of cable TN-3 are taken to be hit/)).toBeVisible()
  await compared.getByRole('radio', { name: 'Surface-laid cable over the break' }).click()
  await expect(page.getByRole('region', { name: 'Chosen repair' })).toContainText('Surface-laid cable')
  await compared.getByRole('radio', { name: 'New section with two closures' }).click()
  await page.getByRole('button', { name: 'Compare other crews and tools' }).click()
  const whatIf = page.getByRole('table', { name: 'What if' })
  await expect(whatIf.getByRole('row', { name: /a second crew/ })).toContainText('sooner')
  // Nothing is spliced or winched: splicers, ribbons and hauling are not asked about; the first row is the plan itself.
  await expect(whatIf.getByRole('row')).toHaveCount(3)
  const finished = await card
    .getByText('Temporary repair finished')
    .locator('xpath=following-sibling::*[1]')
    .innerText()
  await expect(whatIf.getByRole('row', { name: /as planned: 1 crew/ })).toContainText(finished)

  // 2. By keyboard: the second tube before the first brings the pumps back first.
  await scheduled(page)
  await expect(back(page).first()).toContainText('level control')
  await line(page, 'open tube 2, join mechanically fibers 17, 20').focus()
  await carryUp(page)
  await page.keyboard.press('Space')
  await expect(back(page).first()).toContainText('pumps')

  // 3. By drag: back again.
  await scheduled(page)
  const [from, to] = await Promise.all(
    ['open tube 1, join mechanically fibers 5, 7', 'open tube 2, join mechanically fibers 17, 20'].map(async (name) => {
      await line(page, name).scrollIntoViewIfNeeded()
      return line(page, name)
    }),
  )
  await from!.hover()
  await page.mouse.down()
  const target = (await to!.boundingBox())!
  await page.mouse.move(target.x + 20, target.y + 10, { steps: 12 })
  await expect(page.getByText(/was moved over droppable area/)).toBeAttached()
  await page.mouse.up()
  await expect(back(page).first()).toContainText('level control')

  // 4. An order that can't be is refused with its reason, and taken back.
  await scheduled(page)
  const clear = line(page, 'fence and mark the temporary cable')
  await clear.focus()
  await carryUp(page, 20)
  await page.keyboard.press('Space')
  await expect(page.getByText(/each waits for the one before/)).toBeVisible()
  await page.getByRole('button', { name: 'Take the change back' }).click()
  await expect(page.getByText(/each waits for the one before/)).toHaveCount(0)

  // 5. Saved, seen by a lead, approved.
  await page.getByRole('button', { name: 'Save as version 1' }).click()
  await expect(page.getByRole('table', { name: 'Saved plans' })).toContainText('waits for a lead')
  await page.getByRole('button', { name: 'Sign out' }).click()
  await signInByForm(page, 'lead')
  await openPlan(page, /Links beyond Reed Island are down/)
  await page.getByLabel('Remark').fill('fetch the cable from the store')
  await page.getByRole('button', { name: 'Approve version 1' }).click()
  await expect(page.getByRole('table', { name: 'Saved plans' })).toContainText('approved')
})

test('a degraded link is worked in a window: too short is warned of, the calendar is read again', async ({ page }) => {
  await signIn(page, 'tech')
  await openPlan(page, /Lock cameras flicker/)
  await page.getByRole('radio', { name: 'Move circuits to spare fibers' }).click()
  await scheduled(page)
  const when = page.getByRole('region', { name: 'When' })
  await when
    .getByRole('radio', { name: /Midday pause.*too short/ })
    .first()
    .click()
  await expect(when.getByText(/the 90 % finish passes the window.s end by/)).toBeVisible()
  await expect(when.getByText(/there is no moment in it/)).toBeVisible()

  await when
    .getByRole('radio', { name: /Weeknights.*fits/ })
    .first()
    .click()
  await expect(when.getByText(/last point of no return/)).toBeVisible()
  const downloading = page.waitForEvent('download')
  await when.getByRole('button', { name: 'Calendar file' }).click()
  const file = await (await downloading).path()
  const events = new ICAL.Component(ICAL.parse(readFileSync(file, 'utf8')))
    .getAllSubcomponents('vevent')
    .map((component) => new ICAL.Event(component))
  expect(events).toHaveLength(2)
  const [work, window] = events as [ICAL.Event, ICAL.Event]
  expect(work.summary).toContain('Move circuits to spare fibers')
  expect(work.startDate.toJSDate() < window.startDate.toJSDate()).toBe(true)
  expect(window.startDate.toJSDate().toISOString()).toMatch(/T01:00:00/)
  expect(work.description).toMatch(/last point of no return/)
})

test('the van is packed, a missing thing replaced; steps done are learned from, and shown', async ({ page }) => {
  await signIn(page, 'tech')
  await openPlan(page, /Links beyond Reed Island are down/)
  const packing = page.getByRole('region', { name: 'Packing' })
  await expect(packing.getByText(/1 missing/)).toBeVisible()
  await packing.getByRole('button', { name: 'Take it instead' }).click()
  await expect(packing.getByText(/in place of surface-laid cable/)).toBeVisible()
  await expect(packing.getByText(/^1 of \d+ packed$/)).toBeVisible()
  await packing.getByRole('checkbox', { name: /splice sleeve/ }).click()
  await expect(packing.getByText(/^2 of \d+ packed$/)).toBeVisible()

  await page.getByRole('button', { name: 'Done: locate buried services' }).click()
  await page.getByLabel('Minutes it took').fill('40')
  await page.getByRole('button', { name: 'Done', exact: true }).click()
  await expect(page.getByText(/in 40 min, planned/)).toBeVisible()
  await page.getByText('Where the minutes come from').click()
  await expect(page.getByText(/locate buried services: 15 .* by the rule book, 18 .* with 1 done/)).toBeVisible({
    timeout: 30_000,
  })
})

test('what the kit lacks, plans say; what is entered, they count', async ({ page }) => {
  await signIn(page, 'lead')
  await page.getByRole('link', { name: 'Kit' }).click()
  await expect(page.getByText(/calibration ran out on 2026-02-28/)).toBeVisible()
  await page.getByLabel('Find').fill('closure gel')
  await page.getByRole('button', { name: /Fewer: closure gel/ }).click()
  await page.getByRole('button', { name: /Fewer: closure gel/ }).click()
  await page.getByRole('button', { name: 'Save the kit' }).click()
  await expect(page.getByRole('button', { name: 'Save the kit' })).toHaveCount(0)
  await page.getByRole('link', { name: 'Callouts' }).click()
  await openPlan(page, /Links beyond Reed Island are down/)
  await expect(page.getByText(/not at hand: closure for 24 fibers/)).toBeVisible()

  await page.getByRole('link', { name: 'Kit' }).click()
  await page.getByLabel('Find').fill('closure gel')
  await page.getByRole('button', { name: /More: closure gel/ }).click()
  await page.getByRole('button', { name: /More: closure gel/ }).click()
  await page.getByRole('button', { name: 'Save the kit' }).click()
  await expect(page.getByRole('button', { name: 'Save the kit' })).toHaveCount(0)

  for (const [label, value] of [
    ['Price', '6000'],
    ['Years kept', '5'],
    ['Worth then', '1000'],
    ['Upkeep a year', '500'],
    ['Rent a day', '75'],
    ['Days of use a year', '30'],
  ] as const)
    await page.getByLabel(label, { exact: true }).fill(value)
  await expect(page.getByText(/owning costs 1,500 a year/)).toBeVisible()
})

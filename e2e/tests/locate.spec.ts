import { choose } from '../harness/choose.ts'
import { signIn } from '../harness/signIn.ts'
import { stageLink } from '../harness/stageLink.ts'
import { expect, test, type Locator, type Page } from '../harness/test.ts'

async function openPractice(page: Page, title: string, link: string): Promise<void> {
  await page.getByRole('button', { name: 'New callout' }).click()
  await choose(page.getByRole('combobox', { name: 'Link' }), link)
  await page.getByLabel('What is wrong').fill(title)
  await page.getByRole('checkbox', { name: /Practice/ }).check()
  await page.getByRole('button', { name: 'Open the callout' }).click()
  await expect(page.getByRole('heading', { name: title })).toBeVisible()
}

test('a report moves suspicion before any trace; taken back, it is as it was', async ({ page }) => {
  await signIn(page, 'tech')
  await openPractice(page, 'Report before trace', 'Basin to gauge house, level control')
  await expect(page.getByRole('heading', { name: 'Shoot the link' })).toBeVisible()
  await expect(page.getByText(/Set range/)).toBeVisible()

  await page.getByRole('button', { name: 'Add evidence' }).click()
  await page.getByLabel('What was seen').fill('digger on the towpath')
  await choose(page.getByLabel('Where', { exact: true }), 'Lock 12')
  await page.getByRole('button', { name: 'Use this evidence' }).click()
  const card = page.getByRole('region', { name: 'Break' })
  await expect(card).toBeVisible()
  await expect(card.getByText('Not good enough to dig')).toBeVisible()
  await expect(page.getByRole('list', { name: 'Evidence' })).toContainText('digger on the towpath')

  await page.getByRole('button', { name: 'Take back' }).click()
  await expect(page.getByRole('heading', { name: 'Shoot the link' })).toBeVisible()
})

/** Presses until it is gone: what is computed anew above it may move it away under the pointer. */
async function takeOut(button: Locator): Promise<void> {
  await expect(async () => {
    if ((await button.count()) > 0) await button.click()
    await expect(button).toHaveCount(0, { timeout: 3000 })
  }).toPass()
}

test('a next test carried out on the simulated OTDR is not proposed again, and evidence that contradicts is said aloud', async ({
  page,
}) => {
  await signIn(page, 'tech')
  await page.getByRole('link', { name: /Office network shows errors/ }).click()
  await stageLink(page, 'Locate').click()
  await expect(page.getByText('At Lock 9 closure', { exact: true })).toBeVisible()

  // 1. With the shots from the far end and at 1310 nm taken out, they are what comes next.
  for (const name of ['ba-1310', 'ba-1550', 'ab-1310'])
    await takeOut(page.getByRole('button', { name: new RegExp(`${name}\\.sor out of the evidence`) }))
  const tests = page.getByRole('list', { name: 'Next tests' })
  await expect(tests.getByText(/shoot at 1310 nm as well/)).toBeVisible()

  // Opening a closure can disturb its other fibers: locked until that is confirmed.
  await expect(tests.getByText('Locked')).toHaveCount(1)
  await tests.getByRole('checkbox', { name: /tell the desk first/ }).check()
  await expect(tests.getByText('Released by you')).toBeVisible()

  // 2. Carried out on the stand-in, the other wavelength is known and proposed no more.
  const panel = page.getByRole('region', { name: 'Simulated OTDR' })
  await choose(panel.getByLabel('Wavelength'), '1310 nm')
  await choose(panel.getByLabel('Pulse'), '300 ns')
  await panel.getByRole('button', { name: 'Shoot these settings' }).click()
  const card = page.getByRole('region', { name: /Added loss/ })
  await expect(card.getByText(/^1310 nm/)).toContainText('dB')
  await expect(page.getByText(/shoot at 1310 nm as well/)).toHaveCount(0)
  await expect(card.getByText(/about the same at 1310 nm and 1550 nm/).first()).toBeVisible()

  // 3. A closure opened without a finding, where all traces put the loss: unlikely, said aloud, the place stays.
  await page.getByRole('button', { name: 'Add evidence' }).click()
  await choose(page.getByLabel('Kind of evidence', { exact: true }), 'Opened and looked')
  await choose(page.getByLabel('What was opened', { exact: true }), 'Lock 9 closure')
  await page.getByRole('button', { name: 'Use this evidence' }).click()
  await expect(page.getByText(/Lock 9 closure opened: nothing wrong: this is unlikely by the rest/)).toBeVisible({
    timeout: 30_000,
  })
  await expect(page.getByText('At Lock 9 closure', { exact: true })).toBeVisible()

  // 4. The line for the desk and the table of events say the same.
  await expect(page.getByRole('region', { name: 'For the desk' })).toContainText('added loss at Lock 9 closure')
  const row = page.getByRole('table', { name: 'Events of the trace' }).getByRole('row', { name: /step/ }).first()
  await row.click()
  await expect(page.getByLabel('Reading at the cursor')).toContainText('8 230')

  // 5. A mark of one's own is kept with who and when, and can be undone.
  await page.getByLabel('Mark at, m').fill('4321')
  await page.getByLabel('What you see there').fill('faint step')
  await page.getByRole('button', { name: 'Add the mark' }).click()
  const marked = page.getByRole('row', { name: /mark: faint step/ })
  await expect(marked).toContainText('added by Night technician')
  await marked.getByRole('button', { name: 'Undo' }).click()
  await expect(marked).toHaveCount(0)
})

test('the device’s own position stands on the map and on the thread, once it is asked for', async ({
  page,
  context,
}) => {
  await context.grantPermissions(['geolocation'])
  await context.setGeolocation({ longitude: -29.884, latitude: 46.058, accuracy: 20 })
  await signIn(page, 'tech')
  await openPractice(page, 'Walking the towpath', 'Basin to gauge house, level control')
  const thread = page.getByRole('group', { name: /^Thread view/ })
  await expect(thread).toBeVisible()
  await expect(thread.getByRole('img', { name: /^You are/ })).toHaveCount(0)
  await page.getByRole('button', { name: 'Where am I?' }).click()
  await expect(page.getByText(/You are at .* from the route \(the device is sure to 20.m\)/)).toBeVisible()
  await expect(thread.getByRole('img', { name: /^You are at/ })).toBeVisible()
  await page.getByRole('button', { name: 'Hide where I am' }).click()
  await expect(thread.getByRole('img', { name: /^You are/ })).toHaveCount(0)
})

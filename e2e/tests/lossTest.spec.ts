import { choose } from '../harness/choose.ts'
import { signIn } from '../harness/signIn.ts'
import { stageLink } from '../harness/stageLink.ts'
import { expect, test } from '../harness/test.ts'

test('a loss test: reference by power, readings fiber after fiber and pasted, a reference that moved', async ({
  page,
}) => {
  await signIn(page, 'tech')
  await page.getByRole('link', { name: /Links beyond Reed Island are down/ }).click()
  await stageLink(page, 'Prove').click()
  const section = page.getByRole('region', { name: 'Loss test, source and meter' })
  const verdict = page.getByRole('region', { name: 'Verdict' })

  // 1. What the meter shows, in its own unit.
  await section.getByLabel('The meter shows, dBm').fill('bright')
  await expect(section.getByRole('button', { name: 'Keep the reference' })).toBeDisabled()
  await section.getByLabel('The meter shows, dBm').fill('100 µW')
  await section.getByRole('button', { name: 'Keep the reference' }).click()
  await expect(section.getByText('not looked at since it was set')).toBeVisible()

  // 2. Over its budget: the verdict says so, and what to do.
  const table = section.getByRole('table', { name: /Losses at 1310 nm/ })
  const own = section.getByLabel(/^Meter at Basin to visitor centre, office network/)
  await own.fill('-31')
  await own.press('Enter')
  await expect(table.getByRole('row', { name: /office network/ })).toContainText('over')
  await expect(verdict).toContainText('Not restored')
  await expect(verdict).toContainText(/loss test at 1310 nm from Basin control room: 21\.00 dB ± 0\.\d\d dB, over/)

  // 3. Cleaned and read again; the next fibers are pasted from a table.
  await own.fill('-19,4 dBm')
  await own.press('Enter')
  await expect(table.getByRole('row', { name: /office network/ })).toContainText('within')
  await expect(verdict).not.toContainText('loss test at')
  const next = section.getByLabel(/^Meter at/).nth(1)
  await next.focus()
  await page.evaluate(() => {
    const data = new DataTransfer()
    data.setData('text', 'fiber 17\t-18.9\nfiber 20\t-19.1')
    document.activeElement!.dispatchEvent(
      new ClipboardEvent('paste', { clipboardData: data, bubbles: true, cancelable: true }),
    )
  })
  await section.getByRole('button', { name: 'Keep 2 readings' }).click()
  await expect(table.getByText('within', { exact: true })).toHaveCount(3)

  // 4. Looked at again the reference has moved: what was read is no proof.
  await section.getByLabel('Reference looked at again, dBm').fill('-10.4')
  await expect(section.getByText(/Moved by -0\.40 dB, more than 0\.1 dB/)).toBeVisible()
  await section.getByRole('button', { name: 'Keep the look' }).click()
  await expect(table.getByText('no proof', { exact: true })).toHaveCount(3)
  await expect(verdict).toContainText('the reference had moved')

  // 5. The daily check: no light, a level too low; good at one wavelength, low at the other; a bad sleeve, named.
  await section.getByText('Daily check of source, cords and meter').scrollIntoViewIfNeeded()
  await section.getByLabel('Through the cord, dBm').fill('-17')
  await expect(section.getByText(/the wrong leg of a duplex cord/)).toBeVisible()
  await section.getByLabel('Through the cord, dBm').fill('low')
  await expect(section.getByText(/no light reaches the meter.*a cap left on/)).toBeVisible()
  await section.getByLabel('Cord', { exact: true }).fill('LC 1')
  await section.getByLabel('Third cord', { exact: true }).fill('LC 5')
  const look = async (level: string, third: string, sleeve: string) => {
    await section.getByLabel('Through the cord, dBm').fill(level)
    await section.getByLabel('Zeroed, through the third cord, dB').fill(third)
    await section.getByLabel('Sleeve', { exact: true }).fill(sleeve)
    await section.getByRole('button', { name: 'Keep the check' }).click()
    await expect(section.getByLabel('Through the cord, dBm')).toHaveValue('')
  }
  await look('-10.2', '0.2', 'sleeve 2')
  const summary = section.locator('summary').filter({ hasText: 'Daily check' })
  await expect(summary).toContainText(/Good LC 1, 1310 nm.*1550 nm not yet/)
  await section.getByLabel('Through the cord, dBm').fill('-17')
  await expect(section.getByText(/1310 nm is as it should be through the same cord: likely/)).toBeVisible()
  for (let k = 0; k < 2; k++) await look('-10.1', '0.9', 'sleeve 1')
  await section.getByLabel('Through the cord, dBm').fill('-10.1')
  await section.getByLabel('Zeroed, through the third cord, dB').fill('0.9')
  await expect(section.getByText(/replace sleeve 1, not the first cord/)).toBeVisible()
  await section.getByRole('button', { name: 'Keep the check' }).click()
  await expect(summary).toContainText('Third cord or sleeve loses too much')

  // 6. Received power, where there are no traces of both times to hold it against.
  const received = page.getByRole('region', { name: 'Received power' })
  await received.getByLabel('Before the fault, dBm').fill('-12,1')
  await received.getByLabel('After the repair, dBm').fill('-12.4')
  await received.getByRole('button', { name: 'Keep both' }).click()
  await expect(received.getByText(/-12\.1 dBm before, -12\.4 dBm after; no traces of both times/)).toBeVisible()
})

test('both ways on the simulated meter, a cord turned round, a trunk with one dark channel', async ({ page }) => {
  await signIn(page, 'tech')
  await page.getByRole('link', { name: /Lock cameras flicker/ }).click()
  await stageLink(page, 'Prove').click()
  const section = page.getByRole('region', { name: 'Loss test, source and meter' })

  // 1. The cords for this link's ends, drawn; the reference comes from the meter once it has come to rest.
  await expect(section.getByRole('img', { name: /^cord SC\/UPC to / }).first()).toBeVisible()
  await section.getByRole('button', { name: 'As the simulated meter shows it' }).click()
  await expect(section.getByLabel('The meter shows, dBm')).toHaveValue(/^-\d+\.\d\d$/)
  await section.getByLabel('Test cords and adapters, by their names').click()
  await page.getByRole('option', { name: /SC\/UPC to LC\/UPC/ }).click()
  await expect(section.getByText(/\d+ of \d+ matings/)).toBeVisible()
  await section.getByRole('button', { name: 'Keep the reference' }).click()

  // 2. A silent meter and one that talks nonsense take nothing; in order it is read from both ends.
  const table = section.getByRole('table', { name: /Losses at 1310 nm/ })
  const fault = async (name: string) => {
    await choose(section.getByLabel('The simulated meter is'), name)
  }
  const read = section.getByRole('button', { name: /^Simulated meter: / })
  await fault('nonsense')
  await read.click()
  await expect(section.getByText(/sends what can’t be a reading: nothing is taken/)).toBeVisible()
  await fault('silent')
  await expect(section.getByText('The meter is silent', { exact: false })).toBeVisible()
  await fault('in order')
  await expect(table.getByRole('row').nth(1)).toContainText('within')
  const first = await table.getByRole('row').nth(1).getByRole('cell').nth(2).innerText()
  await choose(section.getByLabel('Light goes'), 1)
  await expect(table.getByRole('row').nth(1)).toContainText('not read')
  await read.click()
  await expect(table.getByRole('row').nth(1)).toContainText('within')
  const second = await table.getByRole('row').nth(1).getByRole('cell').nth(2).innerText()
  expect(Math.abs(Number(first) - Number(second))).toBeLessThan(0.4)

  // 3. A cord by itself: the higher reading names its bad end.
  await section.getByText('Which end is bad?').click()
  await section.getByLabel('Cable or cord').fill('patch 7')
  await section.getByLabel('First end at the launch cord').fill('0,3 dB')
  await section.getByLabel('Turned round').fill('1.2 dB')
  await section.getByRole('button', { name: 'Keep both readings' }).click()
  await expect(section.getByRole('list', { name: 'Read both ways round' })).toContainText(
    'patch 7 0.30 dB, turned 1.20 dB: the second end is the worse one',
  )

  // 4. Twelve channels, referenced with a dirty pin, then clean; one is dark, it is mended, all are good; at the other end
  // the reference is copied.
  const trunks = page.getByRole('region', { name: 'Multi-fiber trunks' })
  await trunks.getByText('Read a trunk channel by channel').click()
  await trunks.getByLabel('Trunk', { exact: true }).fill('Trunk 1')
  const cord = trunks.getByLabel('The simulated reference cord has')
  await choose(cord, 'one pin dirty')
  await trunks.getByRole('button', { name: 'Reference with the simulated tester' }).click()
  await expect(trunks.getByRole('status')).toContainText(/not even.*channel \d+: clean and inspect the reference cord/)
  await choose(cord, 'no fault')
  await trunks.getByRole('button', { name: 'Reference with the simulated tester' }).click()
  await expect(trunks.getByRole('status')).toContainText('even on every channel')
  await trunks.getByRole('button', { name: 'Keep the reference' }).click()
  await expect(trunks.getByRole('button', { name: 'Look at the reference again' })).toBeVisible()
  await choose(trunks.getByLabel('The simulated trunk has'), 'one channel dark')
  await trunks.getByRole('button', { name: 'Read with the simulated tester' }).click()
  await expect(trunks.getByRole('status')).toContainText(/channel \d+ dark; the others are polarity B/i)
  await trunks.getByRole('button', { name: 'Keep the trunk’s readings' }).click()
  await expect(trunks.getByText('not good')).toBeVisible()
  await trunks.getByRole('button', { name: 'It was copied from the tester at the first end' }).click()
  await expect(trunks.getByRole('region', { name: 'Reference of the tester' })).toContainText('copied from the tester')
  await choose(trunks.getByLabel('Source at'), 'the first end')
  await choose(trunks.getByLabel('The simulated trunk has'), 'no fault')
  await trunks.getByRole('button', { name: 'Read with the simulated tester' }).click()
  await trunks.getByRole('button', { name: 'Keep the trunk’s readings' }).click()
  await expect(trunks.getByText('every channel good')).toBeVisible()
})

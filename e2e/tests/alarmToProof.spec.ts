import { expect, test, type Page } from '@playwright/test'

async function signIn(page: Page, name: string): Promise<void> {
  await page.goto('/')
  await page.getByLabel('Name').fill(name)
  await page.getByLabel('Password').fill(`ottermere-${name}`)
  await page.getByRole('button', { name: 'Sign in' }).click()
  await expect(page.getByRole('heading', { name: 'Callouts' })).toBeVisible()
}

test('a repaired link is measured again, proved and signed', async ({ page }) => {
  await signIn(page, 'lead')
  await page.getByRole('link', { name: /Office network shows errors/ }).click()

  // The fault of the demo sits at the Lock 9 closure: 0.9 dB.
  await page.getByRole('tab', { name: 'Locate' }).click()
  await expect(page.getByText('At Lock 9 closure')).toBeVisible()
  await expect(page.getByText('0.90 dB').first()).toBeVisible()

  // Without new traces nothing can be said.
  await page.getByRole('tab', { name: 'Prove' }).click()
  await expect(page.getByText('Can’t tell yet')).toBeVisible()

  await page.getByRole('button', { name: 'Shoot with the simulated OTDR' }).click()
  await expect(page.getByText('Restored', { exact: true })).toBeVisible({ timeout: 60_000 })
  const row = page.getByRole('table', { name: 'Readings at 1550 nm' }).getByRole('row', { name: /Lock 9 closure/ })
  const after = Number((await row.getByRole('cell').nth(3).textContent())!.trim())
  expect(after).toBeLessThan(0.3)
  await expect(row.getByText('holds')).toBeVisible()

  await page.getByRole('tab', { name: 'Close' }).click()
  await page.getByRole('button', { name: /Sign as/ }).click()
  await expect(page.getByRole('heading', { name: 'Signed off' })).toBeVisible()
  const download = page.waitForEvent('download')
  await page.getByRole('link', { name: 'Readings as CSV' }).click()
  expect((await download).suggestedFilename()).toMatch(/^readings-.*\.csv$/)
})

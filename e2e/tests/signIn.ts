import { expect, type Page } from '@playwright/test'

/** Signs in with one of the demo's accounts and waits for the board. */
export async function signIn(
  page: Page,
  name: 'tech' | 'lead' | 'records' | 'viewer',
  /** Needed where the page's own browser has no base address. */
  address = '',
): Promise<void> {
  await page.goto(`${address}/`)
  await page.getByLabel('Name').fill(name)
  await page.getByLabel('Password').fill(`thrushmere-${name}`)
  await page.getByRole('button', { name: 'Sign in' }).click()
  await expect(page.getByRole('heading', { name: 'Callouts' })).toBeVisible()
}

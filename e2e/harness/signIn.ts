import { expect, type Page } from '@playwright/test'
import { journeySetup, passwordOf, type DemoRole } from './journeySetup.ts'

/** The session of one of the demo's accounts as a browser sends it. */
export function sessionCookie(role: DemoRole): string {
  return `cold_thread_session=${journeySetup().sessions[role]}`
}

/** Opens the board as one of the demo's accounts, whose session was begun when the demo's data was made. */
export async function signIn(
  page: Page,
  role: DemoRole,
  /** Needed where the page's own browser has no base address. */
  address = '',
): Promise<void> {
  await page.context().addCookies([
    {
      name: 'cold_thread_session',
      value: journeySetup().sessions[role],
      domain: '127.0.0.1',
      path: '/',
      httpOnly: true,
      sameSite: 'Strict',
      // A browser that is killed and opened again has it still.
      expires: Math.floor(Date.now() / 1000) + 86_400,
    },
  ])
  await page.goto(`${address}/`)
  await expect(page.getByRole('heading', { name: 'Callouts' })).toBeVisible()
}

/** Signs in with name and password, as a person does. */
export async function signInByForm(page: Page, role: DemoRole, address = ''): Promise<void> {
  await page.goto(`${address}/`)
  await page.getByLabel('Name').fill(role)
  await page.getByLabel('Password').fill(passwordOf(role))
  await page.getByRole('button', { name: 'Sign in' }).click()
  await expect(page.getByRole('heading', { name: 'Callouts' })).toBeVisible()
}

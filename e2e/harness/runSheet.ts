import { expect, type Page } from '@playwright/test'

/** The smallest PNG: signature, header of 1 × 1, data, end (PNG specification, W3C). */
const PNG = Buffer.from(
  'iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg==',
  'base64',
)

/** The step that is shown. */
export const stepOf = (page: Page) => page.getByRole('region', { name: 'Step', exact: true })
export const done = (page: Page) => stepOf(page).getByRole('button', { name: 'Done', exact: true })

/** Which step is shown: “Open, step 8 of 41”. */
export const place = (page: Page) => stepOf(page).getByText(/, step \d+ of \d+/)

/** Does the step that is shown as a careful person does, and waits until the next one stands there. */
export async function doStep(page: Page): Promise<void> {
  const before = await place(page).innerText()
  await fillStep(page)
  await done(page).click()
  await expect(place(page)).not.toHaveText(before)
}

/** Everything that the step that is shown asks for. */
export async function fillStep(page: Page): Promise<void> {
  const step = stepOf(page)
  // The step before may go from the page while its boxes are read: then they are read anew.
  await expect(async () => {
    for (const box of await step.getByRole('checkbox').all())
      if (!(await box.locator('xpath=ancestor::label').innerText({ timeout: 1000 })).includes('Keep where'))
        await box.check({ timeout: 1000 })
  }).toPass({ timeout: 20_000 })
  for (const field of await step.getByRole('textbox').all()) {
    // Nothing a careful person does here needs one.
    if ((await field.getAttribute('name')) === 'reason') continue
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
    await step.getByRole('button', { name: 'Begin: this is the level before' }).click()
    await expect(step.getByRole('status').getByText('holds')).toBeVisible()
  }
}

/** Does steps until one that says this is shown. */
export async function doUntil(page: Page, words: RegExp): Promise<void> {
  for (let i = 0; i < 60; i++) {
    if (words.test(await stepOf(page).innerText())) return
    await doStep(page)
  }
  throw new Error(`no step says ${words}`)
}

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

/** What a step asks for, read from the page at one go: most ask for little. Boxes and fields by their number in the step. */
function asksOf(step: Element) {
  const boxes = [...step.querySelectorAll<HTMLInputElement>('input[type=checkbox]')]
  const fields = [...step.querySelectorAll<HTMLInputElement>('input[type=text], textarea:not([aria-hidden])')]
  return {
    boxes: boxes.flatMap((box, n) =>
      box.checked || (box.closest('label')?.textContent ?? '').includes('Keep where') ? [] : [n],
    ),
    fields: fields.flatMap((field, n) => {
      // Nothing a careful person does here needs a reason.
      if (field.name === 'reason') return []
      const help = document.getElementById(field.getAttribute('aria-describedby') ?? '')?.textContent ?? ''
      const expected = /expected ([\d.]+)/.exec(help)?.[1]
      return [{ n, value: expected ?? (field.inputMode === 'text' ? 'as on record' : '1') }]
    }),
    photo: [...step.querySelectorAll('input[type=file]')].length > 0,
    loss: step.querySelector('[aria-label="Loss while you work"]') !== null,
  }
}

/** Everything that the step that is shown asks for. */
export async function fillStep(page: Page): Promise<void> {
  const step = stepOf(page)
  // The step before may go from the page while its boxes are read: then they are read anew.
  await expect(async () => {
    const { boxes } = await step.evaluate(asksOf)
    for (const n of boxes) await step.locator('input[type=checkbox]').nth(n).check({ timeout: 1000 })
  }).toPass({ timeout: 20_000 })
  const { fields, photo, loss } = await step.evaluate(asksOf)
  for (const { n, value } of fields)
    await step.locator('input[type=text], textarea:not([aria-hidden])').nth(n).fill(value)
  if (photo) {
    await step.getByLabel('Photo of this step').setInputFiles({ name: 'step.png', mimeType: 'image/png', buffer: PNG })
    await expect(step.getByText('1 photo kept')).toBeVisible()
  }
  if (loss) {
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

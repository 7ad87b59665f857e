import { expect, type Locator } from '@playwright/test'

/**
 * Chooses from a list that drops down: opened by mouse, chosen by key. What redraws the page between the press and the
 * release of a button, such as a reading that comes in, can't undo it.
 * @param option its name, or its number from 0
 */
export async function choose(select: Locator, option: string | RegExp | number): Promise<void> {
  const page = select.page()
  await select.click()
  const options = page.getByRole('option', typeof option === 'number' ? {} : { name: option })
  await options.nth(typeof option === 'number' ? option : 0).press('Enter')
  await expect(page.getByRole('listbox')).toHaveCount(0)
}

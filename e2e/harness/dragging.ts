import { expect, type Page } from '@playwright/test'

/**
 * Picks up by the space key what has the focus.
 * @param spoken what is said to a screen reader once it is picked up
 */
export async function pickUp(page: Page, spoken: string | RegExp): Promise<void> {
  await page.keyboard.press('Space')
  await expect(page.getByText(spoken)).toBeAttached()
  await settled(page)
}

/**
 * Waits until what the page has put off is done: a drag by keys listens to the next key, and knows where things are,
 * only a task and a frame after it has begun.
 */
export async function settled(page: Page): Promise<void> {
  await page.evaluate(
    () => new Promise<void>((resolve) => setTimeout(() => requestAnimationFrame(() => setTimeout(resolve)))),
  )
}

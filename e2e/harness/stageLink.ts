import type { Locator, Page } from '@playwright/test'

/** The way to a stage of the callout that is open. */
export function stageLink(page: Page, name: string): Locator {
  return page.getByRole('navigation', { name: 'Stages' }).getByRole('link', { name })
}

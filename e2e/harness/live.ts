import type { Page } from '@playwright/test'

/** Pages ask again by themselves after this, in milliseconds, or more. */
const POLLING = 10_000

/**
 * From its next load on the page never asks again by itself: what others enter can only reach it as it is told.
 * Of its timers those that are due so late stay silent.
 */
export async function withoutPolling(page: Page): Promise<void> {
  await page.addInitScript((polling) => {
    const own = window.setTimeout.bind(window)
    window.setTimeout = ((run: TimerHandler, due?: number, ...given: unknown[]) =>
      (due ?? 0) >= polling ? 0 : own(run, due, ...given)) as typeof window.setTimeout
  }, POLLING)
}

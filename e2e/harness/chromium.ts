import type { PlaywrightTestOptions, PlaywrightWorkerOptions } from '@playwright/test'

/** Debian's Chromium, without a monitor. */
export const CHROMIUM = {
  viewport: { width: 1280, height: 800 },
  launchOptions: { executablePath: '/usr/bin/chromium' },
  // Keeping the whole app on the device costs each journey seconds: those without network ask for it.
  serviceWorkers: 'block',
} satisfies Partial<PlaywrightTestOptions & PlaywrightWorkerOptions>

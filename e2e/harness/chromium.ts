import type { PlaywrightTestOptions, PlaywrightWorkerOptions } from '@playwright/test'

/** Debian's Chromium without a window: with it the journeys took a sixth less of the processor than with the whole browser. */
export const CHROMIUM_PATH = '/usr/bin/chromium-headless-shell'

/** How journeys and benches see the app. */
export const CHROMIUM = {
  viewport: { width: 1280, height: 800 },
  // Nobody looks: layout is the same, a quarter of the pixels is drawn.
  deviceScaleFactor: 0.5,
  launchOptions: { executablePath: CHROMIUM_PATH },
  // Keeping the whole app on the device costs each journey seconds: those without network ask for it.
  serviceWorkers: 'block',
} satisfies Partial<PlaywrightTestOptions & PlaywrightWorkerOptions>

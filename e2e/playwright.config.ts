import { defineConfig } from '@playwright/test'
import { CHROMIUM } from './harness/chromium.ts'

// Every journey finds the demo's data as it was made, so that they run side by side and in any order. Nothing is timed
// here: a time-out only ends what would never come, also where something else keeps the machine busy.
export default defineConfig({
  testDir: './tests',
  timeout: 600_000,
  expect: { timeout: 90_000 },
  workers: 3,
  fullyParallel: true,
  reporter: [['line'], ['json', { outputFile: '../test-results/journeys.json' }]],
  outputDir: '../test-results/journeys',
  globalSetup: './harness/globalSetup.ts',
  use: CHROMIUM,
})

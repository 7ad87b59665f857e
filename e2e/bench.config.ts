// npm run bench:frames and others in the browser: what the demo costs in headless Chromium.
import { defineConfig } from '@playwright/test'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { CHROMIUM } from './harness/chromium.ts'

const PORT = 8471

export default defineConfig({
  testDir: './bench',
  timeout: 300_000,
  expect: { timeout: 20_000 },
  workers: 1,
  reporter: 'line',
  outputDir: '../test-results/bench',
  use: { ...CHROMIUM, deviceScaleFactor: 1, serviceWorkers: 'allow', baseURL: `http://127.0.0.1:${PORT}` },
  webServer: {
    command: `node ../scripts/start.mjs --demo --fresh --port ${PORT} --data ${join(tmpdir(), 'cold-thread-bench')}`,
    url: `http://127.0.0.1:${PORT}/api/health`,
    timeout: 180_000,
    gracefulShutdown: { signal: 'SIGINT', timeout: 15_000 },
  },
})

import { defineConfig } from '@playwright/test'
import { tmpdir } from 'node:os'
import { join } from 'node:path'

const PORT = 8471

export default defineConfig({
  testDir: './tests',
  timeout: 120_000,
  expect: { timeout: 20_000 },
  workers: 1,
  reporter: 'line',
  outputDir: '../test-results',
  use: {
    baseURL: `http://127.0.0.1:${PORT}`,
    viewport: { width: 1280, height: 800 },
    launchOptions: { executablePath: '/usr/bin/chromium' },
  },
  webServer: {
    command: `node ../scripts/start.mjs --demo --fresh --port ${PORT} --data ${join(tmpdir(), 'cold-thread-e2e')}`,
    url: `http://127.0.0.1:${PORT}/api/health`,
    timeout: 180_000,
    gracefulShutdown: { signal: 'SIGINT', timeout: 15_000 },
  },
})

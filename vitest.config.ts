import { defineConfig } from 'vitest/config'

export default defineConfig({
  test: {
    projects: [
      // Pure functions share nothing that one file could spoil for another.
      { test: { name: 'core', include: ['core/src/**/*.test.ts'], isolate: false } },
      { test: { name: 'contract', include: ['contract/src/**/*.test.ts'] } },
      { test: { name: 'demo', include: ['demo/src/**/*.test.ts'], testTimeout: 60_000 } },
      { test: { name: 'cli', include: ['cli/src/**/*.test.ts'], testTimeout: 60_000 } },
      {
        test: {
          name: 'web',
          include: ['web/src/**/*.test.ts', 'web/src/**/*.test.tsx'],
          environment: 'jsdom',
          setupFiles: ['web/src/test/setup.ts'],
          testTimeout: 20_000,
        },
      },
      { test: { name: 'scripts', include: ['scripts/**/*.test.ts'] } },
      {
        test: {
          name: 'server',
          include: ['server/src/**/*.test.ts'],
          globalSetup: ['server/src/test/globalSetup.ts'],
          testTimeout: 60_000,
          hookTimeout: 90_000,
        },
      },
    ],
  },
})

import { availableParallelism } from 'node:os'
import { defineConfig } from 'vitest/config'

// Files share their process: what a package takes to load is paid once, and each file leaves the process as it found it.
export default defineConfig({
  test: {
    isolate: false,
    // Nothing is timed here: a time-out only ends what would never come, also where something else keeps the machine busy.
    testTimeout: 300_000,
    hookTimeout: 300_000,
    restoreMocks: true,
    unstubGlobals: true,
    maxWorkers: Math.max(2, availableParallelism()),
    projects: [
      { extends: true, test: { name: 'core', include: ['core/src/**/*.test.ts'] } },
      { extends: true, test: { name: 'contract', include: ['contract/src/**/*.test.ts'] } },
      { extends: true, test: { name: 'demo', include: ['demo/src/**/*.test.ts'] } },
      { extends: true, test: { name: 'cli', include: ['cli/src/**/*.test.ts'] } },
      {
        extends: true,
        test: {
          name: 'web',
          include: ['web/src/**/*.test.ts', 'web/src/**/*.test.tsx'],
          environment: 'jsdom',
          setupFiles: ['web/src/test/setup.ts'],
        },
      },
      {
        extends: true,
        test: { name: 'scripts', include: ['scripts/**/*.test.ts', 'lint/**/*.test.ts'] },
      },
      {
        extends: true,
        test: {
          name: 'server',
          include: ['server/src/**/*.test.ts'],
          globalSetup: ['server/src/test/globalSetup.ts'],
        },
      },
    ],
  },
})

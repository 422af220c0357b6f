import { fileURLToPath } from 'node:url'
import { defineConfig } from 'vitest/config'

/** Workspaces whose test files can share one world, and with it the circuits that are built once. */
const shared = new Set(['core', 'contract', 'server', 'cli'])

/** Ends a test that hangs (ms); no test that works comes near it, on a busy machine either. */
const LONG_MS = 300_000

export default defineConfig({
  test: {
    maxWorkers: 2,
    projects: [
      { test: { name: 'scripts', root: 'scripts', include: ['*.test.mjs'], environment: 'node', testTimeout: LONG_MS } },
      ...['core', 'contract', 'server', 'web', 'cli'].map((name) => ({
        test: {
          name,
          root: `packages/${name}`,
          include: ['src/**/*.test.{ts,tsx}'],
          environment: 'node',
          testTimeout: LONG_MS,
          hookTimeout: LONG_MS,
          isolate: !shared.has(name),
          ...(name === 'server'
            ? { globalSetup: fileURLToPath(new URL('packages/server/src/demo-once.test-data.ts', import.meta.url)) }
            : {}),
        },
      })),
    ],
  },
})

import { defineConfig } from 'vitest/config'

/** Workspaces of pure functions: their test files can share one world, and with it the circuits that are built once. */
const pure = new Set(['core', 'contract', 'cli'])

export default defineConfig({
  test: {
    maxWorkers: 2,
    projects: [
      { test: { name: 'scripts', root: 'scripts', include: ['*.test.mjs'], environment: 'node', testTimeout: 120_000 } },
      ...['core', 'contract', 'server', 'web', 'cli'].map((name) => ({
        test: {
          name,
          root: `packages/${name}`,
          include: ['src/**/*.test.{ts,tsx}'],
          environment: 'node',
          testTimeout: 30_000,
          hookTimeout: 60_000,
          isolate: !pure.has(name),
        },
      })),
    ],
  },
})

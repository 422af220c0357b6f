import { defineConfig } from 'vitest/config'

export default defineConfig({
  test: {
    projects: ['core', 'contract', 'server', 'web', 'cli'].map((name) => ({
      test: {
        name,
        root: `packages/${name}`,
        include: ['src/**/*.test.{ts,tsx}'],
        environment: 'node',
        testTimeout: 30_000,
        hookTimeout: 60_000,
      },
    })),
  },
})

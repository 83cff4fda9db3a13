import { defineConfig } from 'vitest/config'

export default defineConfig({
  test: {
    globalSetup: ['scripts/require-build.mjs'],
    setupFiles: ['core/src/testing/overwrite-scratch.ts'],
    include: [
      '{core,api,capture,replay,server,web,demo,scripts}/src/**/*.test.{ts,tsx}',
      'scripts/*.test.ts',
    ],
    // A busy machine with two cores may take five times as long as a quiet one.
    testTimeout: 60_000,
    hookTimeout: 120_000,
  },
})

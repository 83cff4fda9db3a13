import { defineConfig } from 'vitest/config'

export default defineConfig({
  test: {
    include: [
      '{core,api,capture,replay,server,web,demo,scripts}/src/**/*.test.{ts,tsx}',
      'scripts/*.test.ts',
    ],
    testTimeout: 20_000,
    hookTimeout: 60_000,
  },
})

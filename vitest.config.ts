import { defineConfig } from 'vitest/config'

const inFolders = (folders: string) => `{${folders}}/src/**/*.test.{ts,tsx}`

export default defineConfig({
  test: {
    globalSetup: ['scripts/require-build.mjs'],
    setupFiles: ['core/src/testing/overwrite-scratch.ts'],
    // A busy machine with two cores may take five times as long as a quiet one.
    testTimeout: 60_000,
    hookTimeout: 120_000,
    projects: [
      {
        extends: true,
        // What leaves nothing behind shares its modules: to load them anew for each file takes longer than most tests.
        test: {
          name: 'together',
          isolate: false,
          sequence: { groupOrder: 0 },
          include: [inFolders('core,api,web')],
        },
      },
      {
        extends: true,
        // With a database of their own beside them, these leave a single worker's core idle half of the time.
        test: {
          name: 'apart',
          maxWorkers: 2,
          // Groups of another number of workers run one after the other.
          sequence: { groupOrder: 1 },
          include: [inFolders('capture,replay,server,demo,scripts'), 'scripts/*.test.ts'],
        },
      },
    ],
  },
})

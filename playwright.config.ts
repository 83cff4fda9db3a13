import { defineConfig } from '@playwright/test'

export default defineConfig({
  testDir: 'e2e',
  // A busy machine with two cores may take several times as long as a quiet one.
  timeout: 120_000,
  expect: { timeout: 20_000 },
  workers: 1,
  retries: 0,
  reporter: [['list'], ['json']],
  use: {
    baseURL: process.env['BASE_URL'] ?? 'http://127.0.0.1:4180',
    viewport: { width: 1280, height: 800 },
    launchOptions: {
      executablePath: process.env['CHROMIUM'] ?? '/usr/bin/chromium',
      args: [
        '--no-sandbox',
        '--disable-gpu',
        '--no-first-run',
        '--disable-background-networking',
        '--disable-component-update',
        '--disable-sync',
      ],
    },
  },
})

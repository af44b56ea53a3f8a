import { defineConfig } from '@playwright/test'
import { chromiumLaunch } from './e2e/chromium'

/** What is fed in real time through the microphone path must not be late: such tests have the machine to themselves. */
const REAL_TIME = /(microphone|microphoneDenied|psk31Microphone|blind|levelClipping|levelHum)\.spec\.ts$/

export default defineConfig({
  testDir: 'e2e',
  workers: 1,
  projects: [
    { name: 'paced', testIgnore: REAL_TIME },
    { name: 'realTime', testMatch: REAL_TIME },
  ],
  timeout: 300_000,
  // Real time on a shared machine: what fails once is tried once more, and `npm test` says so.
  retries: 1,
  expect: { timeout: 15_000 },
  reporter: [['list'], ['json', { outputFile: process.env.E2E_RESULTS ?? 'test-results/e2e.json' }]],
  outputDir: process.env.E2E_FILES ?? 'test-results/files',
  use: {
    viewport: { width: 1280, height: 800 },
    acceptDownloads: true,
    actionTimeout: 60_000,
    launchOptions: chromiumLaunch(),
  },
})

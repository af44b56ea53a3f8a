import { defineConfig } from '@playwright/test'
import { chromiumLaunch } from './e2e/chromium'

export default defineConfig({
  testDir: 'e2e',
  workers: 1,
  timeout: 300_000,
  // Real time on a shared machine: what fails once is tried once more, and `npm test` says so.
  retries: 1,
  expect: { timeout: 15_000 },
  reporter: [['list'], ['json', { outputFile: 'test-results/e2e.json' }]],
  outputDir: 'test-results/files',
  use: {
    viewport: { width: 1280, height: 800 },
    acceptDownloads: true,
    actionTimeout: 60_000,
    launchOptions: chromiumLaunch(),
  },
})

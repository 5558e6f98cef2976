import { defineConfig } from '@playwright/test';

/** Real journeys in Debian's Chromium, two files at a time, each on an installation of its own. A second try proves nothing. */
export default defineConfig({
  testDir: '.',
  // The longest begin first.
  projects: [
    { name: 'long', testMatch: /\/(people|outside)\.spec\.ts$/ },
    { name: 'short', testMatch: '*.spec.ts', testIgnore: /\/(people|outside)\.spec\.ts$/ },
  ],
  workers: 2,
  retries: 0,
  timeout: 150_000,
  expect: { timeout: 10_000 },
  reporter: [
    ['list'],
    ['json', { outputFile: process.env.KETTLE_JOURNEY_REPORT ?? '../.data/reports/journeys.json' }],
  ],
  globalSetup: './testing/start-database.ts',
  use: {
    browserName: 'chromium',
    viewport: { width: 1280, height: 800 },
    trace: 'retain-on-failure',
    launchOptions: {
      executablePath: process.env.KETTLE_CHROMIUM ?? '/usr/bin/chromium',
      args: [
        '--no-sandbox',
        '--disable-gpu',
        '--disable-quic',
        '--no-first-run',
        '--disable-background-networking',
        '--disable-component-update',
        '--disable-sync',
      ],
    },
  },
});

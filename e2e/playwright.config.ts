import { defineConfig } from '@playwright/test';

/** Real journeys in Debian's Chromium, three files at a time (they wait for half of theirs), each on an installation of its own. A second try proves nothing. */
export default defineConfig({
  testDir: '.',
  // The longest begin first.
  projects: process.env.KETTLE_PAGES
    ? [{ name: 'pages', testMatch: /\/(pages|kit|texts)\.spec\.ts$/ }]
    : [
        { name: 'long', testMatch: /\/(people|outside)\.spec\.ts$/ },
        {
          name: 'short',
          testMatch: '*.spec.ts',
          testIgnore: /\/(people|outside|pages|kit|texts)\.spec\.ts$/,
        },
      ],
  workers: 3,
  retries: 0,
  timeout: 240_000,
  // Two shared cores stand still for seconds at times; what is not there after so long does not come.
  expect: { timeout: 25_000 },
  reporter: [
    ['list'],
    ['json', { outputFile: process.env.KETTLE_JOURNEY_REPORT ?? '../.data/reports/journeys.json' }],
  ],
  globalSetup: './testing/start-database.ts',
  use: {
    browserName: 'chromium',
    actionTimeout: 25_000,
    // A rep in Britain: the first admin's country is the browser's.
    locale: 'en-GB',
    viewport: { width: 1280, height: 800 },
    // Nothing has to be waited for until it has slid in; dragging is tried with motion.
    contextOptions: { reducedMotion: 'reduce' },
    // Recording every act takes a fifth of the time; a failure leaves a picture and what the page said.
    trace: process.env.KETTLE_TRACE ? 'retain-on-failure' : 'off',
    screenshot: 'only-on-failure',
    launchOptions: {
      // The browser without windows: it draws the same pages in half the time.
      executablePath: process.env.KETTLE_CHROMIUM ?? '/usr/bin/chromium-headless-shell',
      args: [
        '--no-sandbox',
        '--disable-gpu',
        '--disable-quic',
        '--no-first-run',
        '--disable-background-networking',
        '--disable-component-update',
        '--disable-sync',
        // No page lives long enough to pay for optimised code: a fifth of what the pages take.
        '--js-flags=--no-opt,--no-maglev',
      ],
    },
  },
});

import { defineConfig } from '@playwright/test';

import { stage, stageCount } from './tests/stage';

/** The real app on the real server, database and stand-in desks; `npm test` starts them and names the address. */
export default defineConfig({
  testDir: 'tests',
  outputDir: '../.data/playwright',
  timeout: 600_000,
  // Two cores draw the page, serve it and play three desks at once, and a slow disk can hold a write up for many seconds;
  // nothing here is a claim about speed.
  expect: { timeout: 120_000 },
  workers: stageCount,
  reporter: [['list'], ['json']],
  use: {
    baseURL: stage.url,
    viewport: { width: 390, height: 844 },
    hasTouch: true,
    // What a test looks at comes from the server; opening the page without one is a test of its own.
    serviceWorkers: 'block',
    launchOptions: {
      executablePath: '/usr/bin/chromium',
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
    screenshot: 'only-on-failure',
    trace: 'off',
  },
});

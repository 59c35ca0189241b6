import { defineConfig } from '@playwright/test';
import { LAUNCH } from './support/browser.ts';

export default defineConfig({
  testDir: '.',
  testMatch: '*.e2e.ts',
  globalSetup: './support/run.ts',
  outputDir: '../test-results/e2e',
  // One program for all of them, a project for each. A page waits much of its time, for pictures and for jobs: three keep two cores at work.
  fullyParallel: true,
  workers: 3,
  timeout: 300_000,
  // On a machine at work elsewhere a page can be late once; scripts/test.mjs lists what passed at the second go only.
  retries: 1,
  expect: { timeout: 20_000 },
  reporter: [['list'], ['json', { outputFile: '../test-results/e2e.json' }]],
  use: {
    viewport: { width: 1280, height: 800 },
    launchOptions: LAUNCH,
    acceptDownloads: true,
    screenshot: 'only-on-failure',
  },
});

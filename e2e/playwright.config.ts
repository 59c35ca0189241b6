import { defineConfig } from '@playwright/test';
import { LAUNCH } from './support/browser.ts';

/** One of the tests on Seat watches how smoothly a drag is painted: it wants the machine for itself, after all others. */
const SIDE_BY_SIDE = ['journey', 'plates', 'editing', 'follow', 'hand', 'front', 'blend', 'send', 'others', 'scene'];

export default defineConfig({
  testDir: '.',
  // Each starts a program of its own: the journey begins from an empty state.
  projects: [
    ...SIDE_BY_SIDE.map((name) => ({ name, testMatch: `${name}.e2e.ts` })),
    { name: 'seat', testMatch: 'seat.e2e.ts', dependencies: SIDE_BY_SIDE },
  ],
  outputDir: '../test-results/e2e',
  // Files side by side, each with a program of its own; the tests of a file one after the other.
  workers: 2,
  timeout: 300_000,
  // On a machine at work elsewhere a page can be late once; scripts/test.mjs tells which needed a second try.
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

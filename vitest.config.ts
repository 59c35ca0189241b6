import vue from '@vitejs/plugin-vue';
import { defineConfig } from 'vitest/config';

/** Real MariaDB (one for the run, a database of its own for each file), real ffmpeg, real processes. */
const whole = {
  // Loading the service takes longer than many a test of it: files share a process's modules, and each starts a service of its own.
  isolate: false,
  // On a machine at work elsewhere one can be late once; scripts/test.mjs lists what passed at the second go only.
  retry: 1,
  globalSetup: ['server/test/set-up-run.ts'],
  testTimeout: 240_000,
  hookTimeout: 120_000,
};

export default defineConfig({
  test: {
    projects: [
      {
        test: {
          name: 'core',
          include: ['core/**/*.test.ts', 'demo/**/*.test.ts', 'bench/**/*.test.ts', 'scripts/**/*.test.ts'],
          testTimeout: 120_000,
          // Nothing in core remembers anything from test to test but what it would remember in the page: files share a thread's modules.
          setupFiles: ['core/test/use-compiled-kernels.ts'],
          pool: 'threads',
          isolate: false,
        },
      },
      {
        plugins: [vue()],
        test: { name: 'web', include: ['web/src/**/*.test.ts'], environment: 'jsdom', testTimeout: 30_000 },
      },
      { test: { name: 'cli', include: ['cli/**/*.test.ts'], ...whole } },
      { test: { name: 'server', include: ['server/**/*.test.ts'], ...whole } },
    ],
    maxWorkers: 2,
  },
});

import vue from '@vitejs/plugin-vue';
import { defineConfig } from 'vitest/config';

export default defineConfig({
  test: {
    projects: [
      {
        test: {
          name: 'core',
          include: ['core/**/*.test.ts', 'demo/**/*.test.ts', 'bench/**/*.test.ts', 'scripts/**/*.test.ts'],
          testTimeout: 120_000,
        },
      },
      {
        plugins: [vue()],
        test: { name: 'web', include: ['web/src/**/*.test.ts'], environment: 'jsdom', testTimeout: 30_000 },
      },
      // Real MariaDB, real ffmpeg, real processes: each file has a database and a port of its own. On a machine at work elsewhere one of them can be late once: what passed at the second try only is told so.
      { test: { name: 'cli', include: ['cli/**/*.test.ts'], testTimeout: 240_000, hookTimeout: 120_000, retry: 1 } },
      {
        test: {
          name: 'server',
          include: ['server/**/*.test.ts'],
          testTimeout: 240_000,
          hookTimeout: 120_000,
          retry: 1,
        },
      },
    ],
    maxWorkers: 2,
  },
});

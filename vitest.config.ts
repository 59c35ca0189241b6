import vue from '@vitejs/plugin-vue';
import { BootstrapVueNextResolver } from 'bootstrap-vue-next/resolvers';
import Components from 'unplugin-vue-components/vite';
import { defineConfig } from 'vitest/config';

/** Sources run as they would in the program: through the test runner's own loader hot loops take twice the time. Coverage needs that one. */
const native =
  process.env.YARLOP_TEST_SOURCES === 'yes'
    ? { setupFiles: [], server: { deps: { external: [] } } }
    : {
        setupFiles: ['scripts/native-sources.mjs'],
        server: { deps: { external: [/\/(core|demo|bench|server|cli)\/(?!.*\.test\.ts$).*\.ts$/] } },
      };

/** Real MariaDB (one for the run, a database of its own for each file), real ffmpeg, real processes. */
const whole = {
  // Loading the service takes longer than many a test of it: files share a process's modules, and each starts a service of its own.
  isolate: false,
  // A file waits much of its time, for processes that begin and for the disk: three keep two cores at work.
  maxWorkers: 3,
  sequence: { groupOrder: 1 },
  // On a machine at work elsewhere one can be late once; scripts/test.mjs lists what passed at the second go only.
  retry: 1,
  globalSetup: ['server/test/set-up-run.ts'],
  setupFiles: native.setupFiles,
  // Built programs are loaded as they are.
  server: { deps: { external: [/\.cache\/programs\//, ...native.server.deps.external] } },
  testTimeout: 240_000,
  hookTimeout: 120_000,
};

/** What the page is made of. A file that mounts something says so in its first line: @vitest-environment happy-dom. */
const page = {
  // Components come by name, as in the build.
  plugins: [vue(), Components({ resolvers: [BootstrapVueNextResolver()], dts: false })],
  test: { include: ['web/src/**/*.test.ts'], testTimeout: 30_000, pool: 'threads' as const, ...native },
};

// What is done once for a run is loaded by this process.
if (native.setupFiles.length > 0) await import('./scripts/native-sources.mjs');

export default defineConfig({
  test: {
    projects: [
      {
        test: {
          name: 'core',
          include: ['core/**/*.test.ts', 'demo/**/*.test.ts', 'bench/**/*.test.ts', 'scripts/**/*.test.ts'],
          testTimeout: 120_000,
          // Nothing in core remembers anything from test to test but what it would remember in the page: files share a thread's modules.
          setupFiles: [...native.setupFiles, 'core/test/use-compiled-kernels.ts'],
          server: native.server,
          pool: 'threads',
          isolate: false,
        },
      },
      { ...page, test: { ...page.test, name: 'web', exclude: ['web/src/**/*.mocked.test.ts'], isolate: false } },
      // What a file puts in the place of a module must not reach others.
      { ...page, test: { ...page.test, name: 'web, mocked', include: ['web/src/**/*.mocked.test.ts'] } },
      { test: { name: 'cli', include: ['cli/**/*.test.ts'], ...whole } },
      { test: { name: 'server', include: ['server/**/*.test.ts'], ...whole } },
    ],
    maxWorkers: 2,
  },
});

// Builds the service, its threads and the command line once, so that a process begins in a fraction of the second that loading
// several hundred TypeScript modules one by one takes. A build is a folder named by the state of the sources: it is made beside
// and moved into place whole, so that processes that begin at the same time never see half of one, and a process that still runs
// keeps the build it began with.
import { createHash } from 'node:crypto';
import { existsSync, mkdirSync, readdirSync, renameSync, rmSync, statSync } from 'node:fs';
import { readFile } from 'node:fs/promises';
import { dirname, join, relative } from 'node:path';
import { fileURLToPath, pathToFileURL } from 'node:url';

const root = dirname(dirname(fileURLToPath(import.meta.url)));
/** Inside the project, so that its packages are found; a test of the building itself names a folder of its own. */
const builds = join(root, '.cache', process.env.YARLOP_TEST_PROGRAMS ?? 'programs');
const PROGRAMS = [
  'cli/main.ts',
  'server/start/main.ts',
  'server/start/worker.ts',
  'server/jobs/job-process.ts',
  'server/jobs/job-thread.ts',
  'server/jobs/seat-thread.ts',
  'server/jobs/sampling-thread.ts',
  'server/kernels/helper-thread.ts',
];
/** Packages that bring compiled code, or threads of their own that they find beside their files. */
const LEFT_OUT = ['sharp', 'pino', 'pino-http'];
const ROOMS = ['cli', 'core', 'server'];
const KEPT_MS = 24 * 3600 * 1000;

/**
 * Loads a program or thread of this project by the path of its TypeScript source: the built one, or the source itself through
 * tsx where it is not among the programs (a test's own thread) or nothing can be written here.
 */
export async function loadProgram(source) {
  const built = await builtProgram(source);
  if (built) {
    process.setSourceMapsEnabled(true);
    return import(pathToFileURL(built).href);
  }
  const { register } = await import('tsx/esm/api');
  register();
  return import(pathToFileURL(source).href);
}

async function builtProgram(source) {
  const name = relative(root, source);
  if (!PROGRAMS.includes(name)) return null;
  const folder = join(builds, stateOfSources());
  if (!existsSync(folder)) {
    try {
      await build(folder);
    } catch (error) {
      if (!['EACCES', 'EROFS', 'ENOSPC'].includes(error.code)) throw error;
      return null;
    }
  }
  return join(folder, name.replace(/\.ts$/, '.js'));
}

/** Names, sizes and times of all that may go into a build, as one word. */
function stateOfSources() {
  const hash = createHash('sha256');
  const add = (path) => {
    const { size, mtimeMs } = statSync(path);
    hash.update(`${path} ${size} ${mtimeMs}\n`);
  };
  const walk = (folder) => {
    for (const entry of readdirSync(folder, { withFileTypes: true })) {
      if (entry.isDirectory()) walk(join(folder, entry.name));
      else if (/\.(ts|json)$/.test(entry.name) && !entry.name.endsWith('.test.ts')) add(join(folder, entry.name));
    }
  };
  for (const room of ROOMS) walk(join(root, room));
  for (const file of ['package-lock.json', 'scripts/build-programs.mjs']) add(join(root, file));
  return hash.digest('hex').slice(0, 32);
}

async function build(folder) {
  const part = `${folder}.${process.pid}.${Date.now()}`;
  mkdirSync(builds, { recursive: true });
  const esbuild = await import('esbuild');
  await esbuild.build({
    absWorkingDir: root,
    entryPoints: PROGRAMS,
    outdir: part,
    outbase: root,
    bundle: true,
    splitting: true,
    // Packages go in as well: finding and reading their many small files is most of what a process or thread begins with.
    external: LEFT_OUT,
    banner: {
      js: "import { createRequire as requireOf } from 'node:module';\nconst require = requireOf(import.meta.url);",
    },
    platform: 'node',
    format: 'esm',
    target: 'node20',
    sourcemap: true,
    sourcesContent: false,
    logLevel: 'error',
    plugins: [placesOfSources],
  });
  try {
    renameSync(part, folder);
  } catch (error) {
    // Another process was first with the same build.
    rmSync(part, { recursive: true, force: true });
    if (!existsSync(folder)) throw error;
  }
  for (const name of readdirSync(builds)) {
    const old = join(builds, name);
    if (old !== folder && Date.now() - statSync(old).mtimeMs > KEPT_MS) rmSync(old, { recursive: true, force: true });
  }
}

/** Modules find files beside themselves (migrations, kernels, threads): in a build they still name the place of their source. */
const placesOfSources = {
  name: 'places-of-sources',
  setup(build) {
    build.onLoad({ filter: /\.ts$/ }, async ({ path }) => {
      const text = await readFile(path, 'utf8');
      const contents = text
        .replaceAll('import.meta.url', () => JSON.stringify(pathToFileURL(path).href))
        .replaceAll('import.meta.dirname', () => JSON.stringify(dirname(path)));
      return { contents, loader: 'ts' };
    });
  },
};

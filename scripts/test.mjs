// `npm test`: installs what is missing, then lint, types, unit and server tests, and the journeys in the browser.
// Ends with a line "N passed, N failed".
import { spawn, spawnSync } from 'node:child_process';
import { existsSync, mkdirSync, readFileSync, rmSync } from 'node:fs';
import { dirname, join, relative } from 'node:path';
import { fileURLToPath } from 'node:url';
import { ensureDebian } from './ensure-debian.mjs';
import { ensurePackages } from './ensure-packages.mjs';

const root = dirname(dirname(fileURLToPath(import.meta.url)));
const bin = (name) => join(root, 'node_modules/.bin', name);
const results = join(root, 'test-results');

ensurePackages(root);
ensureDebian(['mariadb-server', 'ffmpeg', 'chromium', 'opencv-doc', 's3cmd', 'unzip']);
rmSync(results, { recursive: true, force: true });
mkdirSync(results, { recursive: true });
const { buildInterface } = await import('./build-interface.mjs');
const { buildKernels } = await import('./build-kernels.mjs');
buildKernels();

let passed = 0;
let failed = 0;
/** What failed and why, said once more at the end, where it is found. */
const fallen = [];
const quiet = { ...process.env, FORCE_COLOR: '0', NO_COLOR: '1' };

/** Runs a program to its end; what it prints is seen. */
function run(title, command, args) {
  console.log(`\n== ${title}`);
  const started = Date.now();
  const { status } = spawnSync(command, args, { cwd: root, stdio: ['ignore', 'inherit', 'inherit'], env: quiet });
  console.log(`   ${title}: ${Math.round((Date.now() - started) / 1000)} s`);
  return status === 0;
}

/** Checks that either hold or do not, two at a time; what each prints is seen when it has ended. */
async function checks(list) {
  const waiting = [...list];
  const worker = async () => {
    for (let next = waiting.shift(); next; next = waiting.shift()) {
      const [title, command, args] = next;
      const started = Date.now();
      const child = spawn(command, args, { cwd: root, stdio: ['ignore', 'pipe', 'pipe'], env: quiet });
      const said = [];
      for (const stream of [child.stdout, child.stderr]) stream.on('data', (chunk) => said.push(chunk));
      const ok = await new Promise((resolve) =>
        child.on('error', () => resolve(false)).on('close', (code) => resolve(code === 0)),
      );
      console.log(
        `\n== ${title}\n${Buffer.concat(said).toString()}   ${title}: ${ok ? 'holds' : 'FAILS'}, ${Math.round((Date.now() - started) / 1000)} s`,
      );
      if (ok) passed++;
      else {
        failed++;
        fallen.push(title);
      }
    }
  };
  await Promise.all([worker(), worker()]);
}

/** Counts of a runner that writes a report; without a report everything has failed. */
function count(title, ok, file, read) {
  if (!existsSync(file)) {
    console.log(`${title} left no report`);
    failed++;
    return;
  }
  const [good, bad] = read(JSON.parse(readFileSync(file, 'utf8')));
  passed += good;
  failed += bad;
  // A runner that fails without a failed test has failed all the same; so has one that ran nothing.
  if ((!ok && bad === 0) || good + bad === 0) failed++;
}

const rooms = ['core', 'server', 'web/src', 'cli', 'demo', 'bench', 'e2e'];
await checks([
  ['lint', bin('eslint'), ['.']],
  ['types of the interface', bin('vue-tsc'), ['-p', 'web']],
  ['types', bin('tsc'), ['-p', 'tsconfig.json']],
  ['types of the core, which knows neither Node nor the page', bin('tsc'), ['-p', 'core']],
  ['directions', bin('depcruise'), ['--config', '.dependency-cruiser.mjs', ...rooms]],
]);

const unit = join(results, 'vitest.json');
const unitOk = run('unit and server tests', bin('vitest'), [
  'run',
  '--reporter=default',
  '--reporter=json',
  `--outputFile.json=${unit}`,
]);
count('vitest', unitOk, unit, (report) => {
  for (const { name, message, assertionResults } of report.testResults) {
    const bad = assertionResults.filter((one) => one.status === 'failed');
    for (const one of bad)
      fallen.push(`${relative(root, name)}: ${one.fullName}\n${one.failureMessages.join('\n').slice(0, 1500)}`);
    if (bad.length === 0 && message) fallen.push(`${relative(root, name)}\n${message.slice(0, 1500)}`);
  }
  return [report.numPassedTests, report.numFailedTests];
});

buildInterface();
const browser = join(results, 'e2e.json');
const browserOk = run('journeys in the browser', bin('playwright'), ['test', '-c', 'e2e']);
count('playwright', browserOk, browser, (report) => {
  const again = (suite) => [
    ...(suite.suites ?? []).flatMap(again),
    ...(suite.specs ?? []).filter((spec) => spec.tests.some((one) => one.status === 'flaky')).map((spec) => spec.title),
  ];
  for (const title of report.suites.flatMap(again)) console.log(`   passed at the second try only: ${title}`);
  fallen.push(
    ...report.suites.flatMap(function bad(suite) {
      return [
        ...(suite.suites ?? []).flatMap(bad),
        ...(suite.specs ?? [])
          .filter((spec) => spec.tests.some((one) => one.status === 'unexpected'))
          .map((spec) => spec.title),
      ];
    }),
  );
  return [report.stats.expected + report.stats.flaky, report.stats.unexpected];
});

for (const one of fallen) console.log(`\n   failed: ${one}`);
console.log(`\n${passed} passed, ${failed} failed`);
process.exitCode = failed === 0 ? 0 : 1;

// `npm test`: installs what is missing, then rules, types, unit and server tests, and the journeys in the browser.
// Says what each part took, its slowest files and what passed at the second go only; ends with a line "N passed, N failed".
import { existsSync, mkdirSync, readFileSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { ensureDebian } from './ensure-debian.mjs';
import { ensurePackages } from './ensure-packages.mjs';
import { bin, checks, Parts, root } from './run-parts.mjs';

const results = join(root, 'test-results');
ensurePackages(root);
ensureDebian(['mariadb-server', 'ffmpeg', 'chromium', 'opencv-doc', 's3cmd', 'unzip']);
rmSync(results, { recursive: true, force: true });
mkdirSync(results, { recursive: true });
const { buildKernels } = await import('./build-kernels.mjs');
buildKernels();

const started = Date.now();
const parts = new Parts();
const sum = { passed: 0, failed: 0, again: [], fallen: [], files: [] };

/** Adds what a runner reports; without a report everything has failed. */
function add(title, ok, file, read) {
  if (!existsSync(file)) {
    sum.failed++;
    sum.fallen.push(`${title} left no report`);
    return;
  }
  const report = read(JSON.parse(readFileSync(file, 'utf8')));
  sum.passed += report.passed;
  sum.failed += report.failed;
  for (const list of ['again', 'fallen', 'files']) sum[list].push(...report[list]);
  // A runner that fails without a failed test has failed all the same; so has one that ran nothing.
  if ((!ok && report.failed === 0) || report.passed + report.failed === 0) {
    sum.failed++;
    sum.fallen.push(`${title} did not end well`);
  }
}

/** Playwright's own report in the words of ours. */
function ofPlaywright({ stats, suites }) {
  const specs = (suite) => [...(suite.suites ?? []).flatMap(specs), ...(suite.specs ?? [])];
  const all = suites.flatMap(specs);
  const titles = (status) =>
    all
      .filter((spec) => spec.tests.some((one) => one.status === status))
      .map((spec) => `e2e/${spec.file}: ${spec.title}`);
  const files = new Map();
  for (const { file, tests } of all)
    for (const { duration } of tests.flatMap((one) => one.results))
      files.set(file, (files.get(file) ?? 0) + duration / 1000);
  return {
    passed: stats.expected + stats.flaky,
    failed: stats.unexpected,
    again: titles('flaky'),
    fallen: titles('unexpected'),
    files: [...files].map(([file, seconds]) => ({ file: `e2e/${file}`, seconds })),
  };
}

// The interface is built beside the checks: tests that start the program would each build it.
const list = [
  ...checks(),
  { title: 'building the interface', command: process.execPath, args: [join(root, 'scripts/build-interface.mjs')] },
];
const broken = await parts.runTwoAtATime(list);
sum.passed += list.length - broken.length;
sum.failed += broken.length;
sum.fallen.push(...broken);

const unit = join(results, 'vitest.json');
const unitPart = {
  title: 'unit and server tests',
  command: bin('vitest'),
  args: ['run', '--reporter=default', '--reporter=./scripts/vitest-report.mjs'],
  alone: true,
  env: { YARLOP_TEST_REPORT: unit },
};
add(unitPart.title, await parts.run(unitPart), unit, (report) => report);

const browser = {
  title: 'journeys in the browser',
  command: bin('playwright'),
  args: ['test', '-c', 'e2e'],
  alone: true,
};
add(browser.title, await parts.run(browser), join(results, 'e2e.json'), ofPlaywright);

const seconds = (value) => `${value.toFixed(0).padStart(6)} s`;
console.log(`\nParts, ${((Date.now() - started) / 60_000).toFixed(1)} minutes in all`);
for (const [title, time] of parts.times) console.log(`${seconds(time)}  ${title}`);
console.log('\nSlowest files');
for (const { file, seconds: time } of sum.files.sort((a, b) => b.seconds - a.seconds).slice(0, 10))
  console.log(`${seconds(time)}  ${file}`);
for (const one of sum.again) console.log(`\n   passed at the second go only: ${one}`);
for (const one of sum.fallen) console.log(`\n   failed: ${one}`);
console.log(`\n${sum.passed} passed, ${sum.failed} failed`);
process.exitCode = sum.failed === 0 ? 0 : 1;

// Reporter of vitest: what scripts/test.mjs adds up, as JSON in the file that YARLOP_TEST_REPORT names.
import { writeFileSync } from 'node:fs';
import { relative } from 'node:path';

export default class Report {
  passed = 0;
  failed = 0;
  /** Tests that passed at the second go only. */
  again = [];
  fallen = [];
  files = [];

  onTestCaseResult(test) {
    const { state, errors } = test.result();
    if (state === 'passed') this.passed++;
    if (state !== 'failed') {
      if (test.diagnostic()?.flaky) this.again.push(nameOf(test));
      return;
    }
    this.failed++;
    this.fallen.push(`${nameOf(test)}\n${(errors ?? []).map(wordsOf).join('\n').slice(0, 1500)}`);
  }

  onTestModuleEnd(file) {
    const { collectDuration, duration, prepareDuration, setupDuration, environmentSetupDuration } = file.diagnostic();
    const ms = collectDuration + duration + prepareDuration + setupDuration + environmentSetupDuration;
    this.files.push({ file: nameOfFile(file), seconds: ms / 1000 });
    // What fails outside of a test: an import, a hook.
    for (const error of [...file.errors(), ...[...file.children.allSuites()].flatMap((suite) => suite.errors())]) {
      this.failed++;
      this.fallen.push(`${nameOfFile(file)}\n${wordsOf(error).slice(0, 1500)}`);
    }
  }

  onTestRunEnd(_files, unhandled) {
    for (const error of unhandled) {
      this.failed++;
      this.fallen.push(`outside of any test\n${wordsOf(error).slice(0, 1500)}`);
    }
    const { passed, failed, again, fallen, files } = this;
    if (process.env.YARLOP_TEST_REPORT)
      writeFileSync(process.env.YARLOP_TEST_REPORT, JSON.stringify({ passed, failed, again, fallen, files }));
  }
}

const nameOfFile = (file) => relative(process.cwd(), file.moduleId);
const nameOf = (test) => `${nameOfFile(test.module)}: ${test.fullName}`;
const wordsOf = (error) => error.stack ?? error.message ?? String(error);

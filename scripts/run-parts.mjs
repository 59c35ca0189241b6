// Runs the parts of a test run and remembers how long each took and what fell.
import { spawn } from 'node:child_process';
import { dirname, join } from 'node:path';
import { fileURLToPath, pathToFileURL } from 'node:url';

export const root = dirname(dirname(fileURLToPath(import.meta.url)));
export const bin = (name) => join(root, 'node_modules/.bin', name);

/**
 * One of the programs that a run is made of. `alone`: what it prints is seen at once, rather than when it has ended.
 * @typedef {{ title: string, command: string, args: string[], alone?: boolean, env?: Record<string, string> }} Part
 */

/** What all processes of a run begin with: the optimiser late, and room for short-lived objects, of which compilers make many. */
const OPTIONS = `${process.env.NODE_OPTIONS ?? ''} --import ${pathToFileURL(join(root, 'scripts/late-optimiser.mjs'))} --max-semi-space-size=64`;

/** For scripts/late-optimiser.mjs: four times V8's own budget did best with tests, which reckon; sixteen times with compilers. */
const TESTS_OPTIMISE_AFTER = '264000';
const CHECKS_OPTIMISE_AFTER = '1056000';

export class Parts {
  /** Seconds by title, in the order in which the parts ended. */
  times = new Map();

  /** Runs a part to its end; true when it ended well. */
  async run({ title, command, args, alone = false, env = {} }) {
    const started = Date.now();
    if (alone) console.log(`\n== ${title}`);
    const child = spawn(command, args, {
      cwd: root,
      stdio: alone ? ['ignore', 'inherit', 'inherit'] : ['ignore', 'pipe', 'pipe'],
      env: {
        ...process.env,
        NODE_OPTIONS: OPTIONS,
        YARLOP_OPTIMISE_AFTER: alone ? TESTS_OPTIMISE_AFTER : CHECKS_OPTIMISE_AFTER,
        FORCE_COLOR: '0',
        NO_COLOR: '1',
        ...env,
      },
    });
    const said = [];
    if (!alone) for (const stream of [child.stdout, child.stderr]) stream.on('data', (chunk) => said.push(chunk));
    const ok = await new Promise((resolve) =>
      child.on('error', () => resolve(false)).on('close', (code) => resolve(code === 0)),
    );
    const seconds = (Date.now() - started) / 1000;
    this.times.set(title, seconds);
    const end = `   ${title}: ${ok ? 'holds' : 'FAILS'}, ${Math.round(seconds)} s`;
    console.log(alone ? end : `\n== ${title}\n${Buffer.concat(said).toString()}${end}`);
    return ok;
  }

  /** Runs parts two at a time, in their order; the titles of those that fell. */
  async runTwoAtATime(list) {
    const waiting = [...list];
    const fallen = [];
    const worker = async () => {
      for (let next = waiting.shift(); next; next = waiting.shift())
        if (!(await this.run(next))) fallen.push(next.title);
    };
    await Promise.all([worker(), worker()]);
    return fallen;
  }
}

/** What holds or does not, whatever the tests say: types, rules, directions, form. `files`: those that rules and form are asked of. */
export function checks(files = ['.']) {
  const templates = files.filter((file) => file.endsWith('.vue'));
  return [
    // The native compiler reads everything but Vue's files, and writes core's types; vue-tsc takes them from there.
    { title: 'types', command: 'npm', args: ['run', '--silent', 'typecheck'] },
    { title: 'rules', command: bin('oxlint'), args: files },
    { title: 'rules of templates', command: bin('eslint'), args: files[0] === '.' ? ['web/**/*.vue'] : templates },
    { title: 'directions', command: bin('depcruise'), args: ['--config', '.dependency-cruiser.mjs', ...ROOMS] },
    { title: 'floors', command: bin('depcruise'), args: ['--config', '.dependency-floors.mjs', 'core'] },
    { title: 'form', command: bin('oxfmt'), args: ['--check', ...files] },
  ].filter(({ title, args }) => title !== 'rules of templates' || args.length > 0);
}

const ROOMS = ['core', 'server', 'web/src', 'cli', 'demo', 'bench', 'e2e'];

import { createHash } from 'node:crypto';
import { existsSync, readFileSync, renameSync, writeFileSync } from 'node:fs';
import { dirname, join, resolve } from 'node:path';
import { Problem } from '../core/base/problem/problem.ts';
import type { Batch, BatchStep } from '../core/base/schemas/types.ts';
import { note, readJson } from './options.ts';

/** Runs one command with its arguments; rejects with what went wrong. */
export type RunCommand = (name: string, args: string[]) => Promise<void>;

/**
 * `yarlop batch`: the commands of many shots, one after the other. What was done is kept beside the file, so that a batch that was broken off goes on
 * where it was; a step whose options have changed, and all after it, is done again. A shot that fails does not hold up the others.
 */
export async function batchCommand(args: string[], run: RunCommand): Promise<void> {
  const [file, ...rest] = args;
  if (file === undefined || file.startsWith('-') || rest.length > 0)
    throw new Problem('unknown-option', { why: 'yarlop batch takes one file' });
  const batch = readJson('batch', file);
  const state = new BatchState(`${file}.state`);
  const failed: string[] = [];
  const before = process.cwd();
  try {
    for (const shot of batch.shots) {
      process.chdir(resolve(dirname(resolve(before, file)), shot.folder ?? '.'));
      try {
        await runShot(shot, state, run);
      } catch (error) {
        failed.push(shot.name);
        note(`${shot.name}: ${error instanceof Problem ? error.sentence : (error as Error).message}`);
      }
      process.chdir(before);
    }
  } finally {
    process.chdir(before);
  }
  if (failed.length > 0)
    throw new Problem('batch-failed', { failed: failed.length, count: batch.shots.length, shots: failed.join(', ') });
}

async function runShot({ name, steps }: Batch['shots'][number], state: BatchState, run: RunCommand): Promise<void> {
  let again = false;
  for (const [i, step] of steps.entries()) {
    const key = `${name}/${i}`;
    const told = createHash('sha256').update(JSON.stringify(step)).digest('hex');
    again ||= !state.holds(key, told, step);
    if (!again) continue;
    note(`${name}: ${step.run}`);
    await run(step.run, argumentsOf(step));
    state.done(key, told);
  }
}

function argumentsOf({ with: options }: BatchStep): string[] {
  return Object.entries(options).flatMap(([name, value]) =>
    value === true ? [`--${name}`] : value === false ? [] : [`--${name}`, String(value)],
  );
}

/** Which steps were done, and with what options; written whole after each. */
class BatchState {
  private readonly steps: Record<string, string>;
  private readonly file: string;

  constructor(file: string) {
    this.file = resolve(file);
    this.steps = existsSync(this.file) ? readState(this.file) : {};
  }

  /** Whether a step was done with these options and what it wrote is there. Numbered files are taken to be. */
  holds(key: string, told: string, { with: { out } }: BatchStep): boolean {
    return this.steps[key] === told && (typeof out !== 'string' || /%0?\d*d/.test(out) || existsSync(out));
  }

  done(key: string, told: string): void {
    this.steps[key] = told;
    const temporary = join(dirname(this.file), `.batch.${process.pid}.part`);
    writeFileSync(temporary, JSON.stringify(this.steps, null, 1));
    renameSync(temporary, this.file);
  }
}

/** Of what is kept beside a batch only what can be what it should be counts. */
function readState(file: string): Record<string, string> {
  try {
    const value = JSON.parse(readFileSync(file, 'utf8')) as unknown;
    return Object.fromEntries(
      Object.entries(value as object).filter((entry): entry is [string, string] => typeof entry[1] === 'string'),
    );
  } catch {
    return {};
  }
}

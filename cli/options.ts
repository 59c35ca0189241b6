import { accessSync, constants, readFileSync, renameSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { basename, dirname, join, resolve } from 'node:path';
import { parseArgs } from 'node:util';
import { Problem } from '../core/base/problem/problem.ts';
import { parsed, type SchemaName, type SchemaTypes } from '../core/base/schemas/check.ts';

/** Reads `--name value` options and switches without a value; unknown ones and missing required ones are problems. */
export function readOptions<R extends string, O extends string = never, S extends string = never>(
  args: string[],
  required: readonly R[],
  optional: readonly O[] = [],
  switches: readonly S[] = [],
): Record<R, string> & Partial<Record<O, string>> & Partial<Record<S, boolean>> {
  const options = {
    ...Object.fromEntries([...required, ...optional].map((name) => [name, { type: 'string' as const }])),
    ...Object.fromEntries(switches.map((name) => [name, { type: 'boolean' as const }])),
  };
  let values: Record<string, unknown>;
  try {
    values = parseArgs({ args, options, strict: true, allowPositionals: false }).values;
  } catch (error) {
    throw new Problem(
      'unknown-option',
      { why: (error as Error).message.split('. ')[0]!.replace(/\.$/, '') },
      { cause: error },
    );
  }
  const missing = required.find((name) => values[name] === undefined);
  if (missing) throw new Problem('unknown-option', { why: `--${missing} is missing` });
  return values as Record<R, string> & Partial<Record<O, string>> & Partial<Record<S, boolean>>;
}

export function readJson<N extends SchemaName>(schema: N, file: string): SchemaTypes[N] {
  let text: string;
  try {
    text = readFileSync(file, 'utf8');
  } catch (error) {
    throw new Problem('file-missing', { file }, { cause: error });
  }
  return parsed(schema, text, file);
}

export function readRate(text: string | undefined): [number, number] | undefined {
  if (text === undefined) return undefined;
  const match = /^(\d{1,9})(?:\/(\d{1,9}))?$/.exec(text);
  const rate: [number, number] = [Number(match?.[1] ?? 0), Number(match?.[2] ?? 1)];
  if (rate[0] < 1 || rate[1] < 1)
    throw new Problem('bad-field', {
      where: 'the command',
      field: '--rate',
      why: `is "${text}", not a fraction such as 30000/1001`,
    });
  return rate;
}

export function readNumber(name: string, text: string | undefined, least: number, most: number): number | undefined {
  if (text === undefined) return undefined;
  const value = Number(text);
  if (text.trim() === '' || !(value >= least && value <= most))
    throw new Problem('bad-field', {
      where: 'the command',
      field: `--${name}`,
      why: `is "${text}", not a number from ${least} to ${most}`,
    });
  return value;
}

export function readSize(name: string, text: string | undefined): { width: number; height: number } | null {
  if (text === undefined) return null;
  const [, width, height] = /^(\d{1,5})x(\d{1,5})$/.exec(text) ?? [];
  if (!Number(width) || !Number(height))
    throw new Problem('bad-field', {
      where: 'the command',
      field: `--${name}`,
      why: `is "${text}"; it must be such as 1920x1080`,
    });
  return { width: Number(width), height: Number(height) };
}

export function readRange(text: string | undefined, frames: number): [number, number] {
  if (text === undefined) return [0, frames - 1];
  const match = /^(\d+)-(\d+)$/.exec(text) ?? /^(\d+)$/.exec(text);
  if (!match) throw new Problem('bad-range', { where: '--frames', range: text });
  const range: [number, number] = [Number(match[1]), Number(match[2] ?? match[1])];
  if (range[0] > range[1]) throw new Problem('bad-range', { where: '--frames', range: text });
  if (range[1] >= frames) throw new Problem('frame-outside', { where: '--frames', frame: range[1], last: frames - 1 });
  return range;
}

/** Fails early when the output can't be written, before minutes of work. */
export function checkWritable(file: string): void {
  const folder = dirname(resolve(file));
  try {
    if (!statSync(folder).isDirectory()) throw new Error('its folder is a file');
    accessSync(folder, constants.W_OK);
  } catch (error) {
    throw new Problem(
      'file-unwritable',
      {
        file,
        why:
          (error as NodeJS.ErrnoException).code === 'ENOENT' ? 'its folder does not exist' : (error as Error).message,
      },
      { cause: error },
    );
  }
}

/** Writes a text whole or not at all. */
export function writeWhole(file: string, text: string): void {
  const temporary = join(dirname(resolve(file)), `.${basename(file)}.${process.pid}.part`);
  try {
    writeFileSync(temporary, text);
    renameSync(temporary, file);
  } catch (error) {
    rmSync(temporary, { force: true });
    throw new Problem('file-unwritable', { file, why: (error as Error).message }, { cause: error });
  }
}

/** Progress for a person watching a terminal; silent otherwise. */
export function progress(what: string, done: number, total: number): void {
  if (process.stderr.isTTY) process.stderr.write(`\r\x1b[K${what} ${done}/${total}${done >= total ? '\n' : ''}`);
}

export function note(text: string): void {
  process.stderr.write(`yarlop: ${text}\n`);
}

/** A span of frames for a sentence. */
export function named([from, to]: readonly [number, number]): string {
  return from === to ? `frame ${from}` : `frames ${from}-${to}`;
}

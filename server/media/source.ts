import { readdirSync, statSync, type Stats } from 'node:fs';
import { basename, dirname, extname, join } from 'node:path';
import { Problem } from '../../core/problem/problem.ts';

const PICTURE_ENDINGS = new Set(['.png', '.jpg', '.jpeg', '.tif', '.tiff', '.exr', '.bmp', '.webp']);

/** Where pictures come from: a clip, one still, or a run of numbered pictures. */
export type MediaSource =
  | { kind: 'clip'; file: string }
  | { kind: 'still'; file: string }
  | { kind: 'sequence'; label: string; pattern: string; firstNumber: number; count: number; firstFile: string };

/** Finds out what a path is; the path may hold one %d or %0Nd. Problems name what is missing. */
export function resolveSource(path: string): MediaSource {
  if (/%0?\d*d/.test(basename(path))) return patternSource(path);
  let stats: Stats;
  try {
    stats = statSync(path);
  } catch (error) {
    throw new Problem('file-missing', { file: path }, { cause: error });
  }
  if (stats.isDirectory()) return folderSource(path);
  if (stats.size === 0) throw new Problem('empty-file', { file: basename(path) });
  return PICTURE_ENDINGS.has(extname(path).toLowerCase()) ? { kind: 'still', file: path } : { kind: 'clip', file: path };
}

interface Numbered {
  name: string;
  prefix: string;
  digits: string;
  ending: string;
}

function numbered(name: string): Numbered | null {
  const match = /^(.*?)(\d+)(\.[A-Za-z0-9]+)$/.exec(name);
  return match && PICTURE_ENDINGS.has(match[3]!.toLowerCase()) ? { name, prefix: match[1]!, digits: match[2]!, ending: match[3]! } : null;
}

function folderSource(folder: string): MediaSource {
  const found = readdirSync(folder).filter((name) => !name.startsWith('.')).map(numbered).filter((n) => n !== null);
  if (found.length === 0) throw new Problem('sequence-empty', { file: basename(folder) });
  found.sort((a, b) => Number(a.digits) - Number(b.digits));
  const first = found[0]!;
  const odd = found.find((n) => n.prefix !== first.prefix || n.ending.toLowerCase() !== first.ending.toLowerCase());
  if (odd) throw new Problem('sequence-mixed', { file: basename(folder), first: first.name, odd: odd.name });
  return sequenceOf(folder, basename(folder), found);
}

function patternSource(path: string): MediaSource {
  const folder = dirname(path);
  const [, before, width, after] = /^(.*?)%0?(\d*)d(.*)$/.exec(basename(path))!;
  let names: string[];
  try {
    names = readdirSync(folder);
  } catch (error) {
    throw new Problem('file-missing', { file: path }, { cause: error });
  }
  const found = names.filter((name) => name.startsWith(before!) && name.endsWith(after!))
    .map((name) => ({ name, prefix: before!, digits: name.slice(before!.length, name.length - after!.length), ending: after! }))
    .filter((n) => /^\d+$/.test(n.digits) && n.digits.length >= Number(width || 1));
  if (found.length === 0) throw new Problem('file-missing', { file: path });
  found.sort((a, b) => Number(a.digits) - Number(b.digits));
  return sequenceOf(folder, basename(path), found);
}

function sequenceOf(folder: string, label: string, found: Numbered[]): MediaSource {
  const numbers = found.map((n) => Number(n.digits));
  const missing: string[] = [];
  for (let i = 1; i < numbers.length; i++) {
    const from = numbers[i - 1]! + 1, to = numbers[i]! - 1;
    if (to >= from) missing.push(from === to ? `${from}` : `${from}–${to}`);
  }
  if (missing.length > 0) throw new Problem('sequence-gap', { file: label, missing: missing.slice(0, 8).join(', ') });
  const first = found[0]!;
  // Padded names share one width; unpadded ones grow.
  const padded = found.every((n) => n.digits.length === first.digits.length);
  const place = padded && first.digits.length > 1 ? `%0${first.digits.length}d` : '%d';
  const escape = (s: string) => s.replaceAll('%', '%%');
  return {
    kind: 'sequence', label, firstNumber: numbers[0]!, count: found.length, firstFile: join(folder, first.name),
    pattern: join(escape(folder), `${escape(first.prefix)}${place}${escape(first.ending)}`),
  };
}

/** The ffmpeg input arguments for a source. */
export function inputArguments(source: MediaSource, rate: readonly [number, number]): string[] {
  if (source.kind === 'sequence') {
    return ['-f', 'image2', '-framerate', rate.join('/'), '-start_number', String(source.firstNumber), '-i', source.pattern];
  }
  return source.kind === 'still' ? ['-f', 'image2', '-pattern_type', 'none', '-i', source.file] : ['-i', source.file];
}

export function labelOf(source: MediaSource): string {
  return source.kind === 'sequence' ? source.label : basename(source.file);
}

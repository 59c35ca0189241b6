import { readdirSync, statSync, type Stats } from 'node:fs';
import { basename, dirname, extname, join } from 'node:path';
import { Problem } from '../../core/base/problem/problem.ts';
import { PICTURE_FORMATS, sniff, type PictureFormat } from './sniff.ts';

const PICTURE_ENDINGS = new Set(['.png', '.jpg', '.jpeg', '.tif', '.tiff', '.exr', '.bmp', '.webp']);

/** Numbers from first to last, both included. */
export type Span = [number, number];

/** Where pictures come from: a clip, one still, or a run of numbered pictures. */
export type MediaSource =
  | { kind: 'clip'; file: string }
  | { kind: 'still'; file: string; format: PictureFormat }
  | SequenceSource;

export interface SequenceSource {
  kind: 'sequence';
  label: string;
  format: PictureFormat;
  /** ffmpeg's pattern of the files' paths. */
  pattern: string;
  files: { number: number; file: string }[];
  /** Runs of numbers that are there, in order. */
  spans: Span[];
  /** Runs of numbers between them that are not. */
  missing: Span[];
}

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
  const sniffed = sniff(path, basename(path));
  if (sniffed.kind === 'zip')
    throw new Problem('not-media', { file: basename(path), why: 'it is a zip: unpack it first, then give its folder' });
  return sniffed.kind === 'picture'
    ? { kind: 'still', file: path, format: sniffed.format }
    : { kind: 'clip', file: path };
}

interface Numbered {
  name: string;
  prefix: string;
  digits: string;
  ending: string;
}

/** Splits a picture's name at its last number; null for other names. */
export function numbered(name: string): Numbered | null {
  const match = /^(.*?)(\d+)(\.[A-Za-z0-9]+)$/.exec(name);
  return match && PICTURE_ENDINGS.has(match[3]!.toLowerCase())
    ? { name, prefix: match[1]!, digits: match[2]!, ending: match[3]! }
    : null;
}

export function isPictureName(name: string): boolean {
  return PICTURE_ENDINGS.has(extname(name).toLowerCase());
}

function folderSource(folder: string): MediaSource {
  const found = readdirSync(folder)
    .filter((name) => !name.startsWith('.'))
    .map(numbered)
    .filter((n) => n !== null);
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
  const found = names
    .filter((name) => name.startsWith(before!) && name.endsWith(after!))
    .map((name) => ({
      name,
      prefix: before!,
      digits: name.slice(before!.length, name.length - after!.length),
      ending: after!,
    }))
    .filter((n) => /^\d+$/.test(n.digits) && n.digits.length >= Number(width || 1));
  if (found.length === 0) throw new Problem('file-missing', { file: path });
  found.sort((a, b) => Number(a.digits) - Number(b.digits));
  return sequenceOf(folder, basename(path), found);
}

/** The highest number that ffmpeg's patterns take. */
const HIGHEST_NUMBER = 2 ** 31 - 2;

function sequenceOf(folder: string, label: string, found: Numbered[]): MediaSource {
  const numbers = found.map((n) => Number(n.digits));
  if (numbers.at(-1)! > HIGHEST_NUMBER) throw new Problem('sequence-empty', { file: label });
  const twice = numbers.findIndex((n, i) => n === numbers[i - 1]);
  if (twice > 0)
    throw new Problem('sequence-mixed', { file: label, first: found[twice - 1]!.name, odd: found[twice]!.name });
  const { spans, missing } = runsOf(numbers);
  const first = found[0]!;
  // Padded names share one width; unpadded ones grow.
  const padded = found.every((n) => n.digits.length === first.digits.length);
  const place = padded && first.digits.length > 1 ? `%0${first.digits.length}d` : '%d';
  const escape = (s: string) => s.replaceAll('%', '%%');
  const sniffed = sniff(join(folder, first.name), first.name);
  if (sniffed.kind !== 'picture') throw new Problem('not-media', { file: first.name, why: 'it is not a picture' });
  return {
    kind: 'sequence',
    label,
    format: sniffed.format,
    spans,
    missing,
    files: found.map((n, i) => ({ number: numbers[i]!, file: join(folder, n.name) })),
    pattern: join(escape(folder), `${escape(first.prefix)}${place}${escape(first.ending)}`),
  };
}

/** Splits rising numbers into runs, and names the runs between. */
export function runsOf(numbers: readonly number[]): { spans: Span[]; missing: Span[] } {
  const spans: Span[] = [];
  const missing: Span[] = [];
  for (const number of numbers) {
    const last = spans.at(-1);
    if (last && number === last[1] + 1) last[1] = number;
    else {
      if (last) missing.push([last[1] + 1, number - 1]);
      spans.push([number, number]);
    }
  }
  return { spans, missing };
}

/** "1017–1019, 1024" */
export function spanWords(spans: readonly Span[], most = 8): string {
  const words = spans.slice(0, most).map(([a, b]) => (a === b ? `${a}` : `${a}–${b}`));
  return words.join(', ') + (spans.length > most ? ` and ${spans.length - most} more` : '');
}

/** The ffmpeg input arguments for a source; of a sequence, those of one run of its numbers. */
export function inputArguments(source: MediaSource, rate: readonly [number, number], run?: Span): string[] {
  if (source.kind === 'sequence') {
    const [from, to] = run ?? source.spans[0]!;
    return [
      '-f',
      'image2',
      '-c:v',
      PICTURE_FORMATS[source.format].decoder,
      '-framerate',
      rate.join('/'),
      '-start_number',
      String(from),
      '-i',
      source.pattern,
      '-frames:v',
      String(to - from + 1),
    ];
  }
  return source.kind === 'still'
    ? ['-f', PICTURE_FORMATS[source.format].demuxer, '-i', source.file]
    : ['-i', source.file];
}

export function labelOf(source: MediaSource): string {
  return source.kind === 'sequence' ? source.label : basename(source.file);
}

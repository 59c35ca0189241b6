import { numberOf, readTable } from '../exchange/read-table.ts';
import { Problem } from '../../base/problem/problem.ts';
import type { Framing } from '../../base/schemas/types.ts';

/** A line of a table of contents. */
export interface VariantLine {
  readonly line: number;
  readonly name: string;
  /** Name of the file that it shows; empty for none yet. */
  readonly file: string;
  readonly framing: Framing;
}

const FITS = ['stretch', 'fit', 'fill'] as const;

/** Reads a table of contents: columns `name`, `file` and, where wanted, `fit` and `start`, in any order. Lines that cannot be used are reported by their number. @throws Problem bad-table */
export function readVariantTable(text: string): { lines: VariantLine[]; problems: string[] } {
  const { header, rows, separator } = readTable(text);
  const columns = (header ?? []).map((name) => name.trim().toLowerCase());
  const at = (name: string) => columns.indexOf(name);
  if (at('name') < 0 || at('file') < 0)
    throw new Problem('bad-table', {
      why: header ? `its columns are ${header.join(', ') || 'none'}` : 'its first line names no columns',
    });
  const lines: VariantLine[] = [];
  const problems: string[] = [];
  const seen = new Map<string, number>();
  for (const { line, cells } of rows) {
    const cell = (name: string) => (at(name) < 0 ? '' : (cells[at(name)] ?? '').trim());
    const name = cell('name');
    const fit = cell('fit').toLowerCase();
    const start = cell('start');
    const whole = numberOf(start, separator);
    const why =
      name === ''
        ? 'it has no name'
        : name.length > 80
          ? 'the name is longer than 80 signs'
          : seen.has(name)
            ? `the name ${name} is on line ${seen.get(name)} already`
            : fit !== '' && !FITS.includes(fit as 'fit')
              ? `fit is "${fit}"; it must be one of ${FITS.join(', ')}`
              : start !== '' && !Number.isInteger(whole)
                ? `start is "${start}", not a whole number of a frame`
                : null;
    if (why) problems.push(`Line ${line}: ${why}.`);
    else
      lines.push({
        line,
        name,
        file: cell('file'),
        framing: { ...(fit ? { fit: fit as 'fit' } : {}), ...(start ? { time: { start: whole } } : {}) },
      });
    if (name && !seen.has(name)) seen.set(name, line);
  }
  return { lines, problems };
}

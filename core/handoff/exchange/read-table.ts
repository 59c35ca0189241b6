import { dsvFormat } from 'd3-dsv';

const LINE_BREAK = /\r\n|\n|\r/;

/** A line of a table with where it stood. */
export interface TableRow {
  /** Counted from 1, as editors do. */
  readonly line: number;
  readonly cells: readonly string[];
}

/** A text as rows of cells. */
export interface TextTable {
  /** What stands between cells. */
  readonly separator: ',' | ';' | '\t' | ' ';
  /** Lines that begin with #, without it. */
  readonly notes: readonly string[];
  /** Names of the columns, where the first line has some. */
  readonly header: readonly string[] | null;
  readonly rows: readonly TableRow[];
}

/**
 * Reads comma-, semicolon-, tab- or space-separated values; cells may stand in quotes, which are doubled within and may hold line
 * breaks (RFC 4180). A comma is a decimal point where semicolons or tabs separate. Empty lines and those that begin with # are no rows.
 */
export function readTable(text: string): TextTable {
  const lines = text.replace(/^\uFEFF/, '').split(LINE_BREAK);
  const isNote = (content: string) => content.startsWith('#');
  const first = lines.find((content) => content.trim() !== '' && !isNote(content)) ?? '';
  const separator = ([';', '\t', ','] as const).find((one) => first.includes(one)) ?? ' ';
  const plain = separator === ' ' ? lines.map((content) => content.trim().replace(/\s+/g, ' ')) : lines;
  const notes: string[] = [];
  const rows: TableRow[] = [];
  let line = 1;
  for (const raw of dsvFormat(separator).parseRows(plain.join('\n'))) {
    const cells = raw.map((cell) => cell.trim());
    if (isNote(raw[0]!)) notes.push(raw.join(separator).slice(1).trim());
    else if (cells.length > 1 || cells[0] !== '') rows.push({ line, cells });
    // A cell in quotes may go over several lines.
    line += raw.reduce((sum, cell) => sum + cell.split('\n').length - 1, 1);
  }
  // Names are words; a row of data may have one or two beside its numbers.
  const words = (rows[0]?.cells ?? []).filter((cell) => cell !== '' && Number.isNaN(numberOf(cell, separator))).length;
  const named = words > 0 && 2 * words > rows[0]!.cells.filter((cell) => cell !== '').length;
  return { separator, notes, header: named ? rows[0]!.cells : null, rows: named ? rows.slice(1) : rows };
}

/** A cell as a number; NaN where it is none. */
export function numberOf(cell: string, separator: TextTable['separator']): number {
  const text = cell.trim();
  return text === '' ? NaN : Number(separator === ',' ? text : text.replace(',', '.'));
}

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

/** Reads comma-, semicolon-, tab- or space-separated values; cells may stand in quotes, which are doubled within (RFC 4180). A comma is a decimal point where semicolons or tabs separate. */
export function readTable(text: string): TextTable {
  const lines = text
    .replace(/^\uFEFF/, '')
    .split(/\r\n|\n|\r/)
    .map((content, i) => ({ content, line: i + 1 }));
  const notes = lines.filter(({ content }) => content.startsWith('#')).map(({ content }) => content.slice(1).trim());
  const full = lines.filter(({ content }) => content.trim() !== '' && !content.startsWith('#'));
  const first = full[0]?.content ?? '';
  const separator = ([';', '\t', ','] as const).find((one) => first.includes(one)) ?? ' ';
  const rows = full.map(({ content, line }): TableRow => ({
    line,
    cells: cellsOf(separator === ' ' ? content.trim().replace(/\s+/g, ' ') : content, separator),
  }));
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

function cellsOf(line: string, separator: string): string[] {
  const cells: string[] = [];
  let at = 0;
  while (at <= line.length) {
    if (line[at] === '"') {
      let cell = '';
      let end = at + 1;
      for (; end < line.length; end++) {
        if (line[end] !== '"') cell += line[end]!;
        else if (line[end + 1] === '"') cell += line[end++]!;
        else break;
      }
      cells.push(cell);
      at = line.indexOf(separator, end) < 0 ? line.length + 1 : line.indexOf(separator, end) + 1;
    } else {
      const end = line.indexOf(separator, at);
      const stop = end < 0 ? line.length : end;
      cells.push(line.slice(at, stop).trim());
      at = stop + 1;
    }
  }
  return cells;
}

import type { ChosenFrames } from './export-choices.ts';

/** Comma-separated values as in RFC 4180, with `#` lines on top that state the conventions; empty fields where a frame is lost. */
export function cornersCsv(chosen: ChosenFrames): string {
  const lines = [
    '# corners of a tracked surface',
    ...chosen.notes().map((note) => `# ${note}`),
    `# corners in the content's own order: ${chosen.order.join(', ')}; empty fields: lost`,
  ];
  return `${[...lines, ...cornerTable(chosen).map((row) => row.join(','))].join('\n')}\n`;
}

/** The same as plain text between tabs, which spreadsheets take from the clipboard. */
export function cornersText(chosen: ChosenFrames): string {
  return `${cornerTable(chosen)
    .map((row) => row.join('\t'))
    .join('\n')}\n`;
}

function cornerTable(chosen: ChosenFrames): (string | number)[][] {
  const head = ['frame', ...chosen.order.flatMap((name) => [`${name} x`, `${name} y`])];
  return [
    head,
    ...chosen
      .all()
      .map(({ frame, corners }) => [
        frame,
        ...(corners ? corners.flatMap(([x, y]) => [x, y]) : new Array<string>(8).fill('')),
      ]),
  ];
}

export function cornersJson(chosen: ChosenFrames): string {
  return pretty(
    { format: 'yarlop-corners/1', ...chosen.conventions(), cornerOrder: chosen.order },
    chosen
      .all()
      .map(({ frame, corners, lost }) => (corners ? { frame, corners } : { frame, lost: lost ?? 'no corners' })),
  );
}

/** A JSON text with a frame a line: read by people, and short. */
export function pretty(head: object, frames: readonly object[]): string {
  return `${JSON.stringify(head, null, 1).replace(/\n?\}$/, '')},\n "frames": [\n${frames.map((frame) => `  ${JSON.stringify(frame)}`).join(',\n')}\n ]\n}\n`;
}

import type { CheckRow } from '../../../core/base/schemas/types.ts';
import { frameLeft, frameMiddle, framesInView, type LedgerScale } from './ledger-scale.ts';

/** Rows of the ledger from top to bottom: where each begins and how high it is. */
export const ROWS = {
  ruler: { top: 0, height: 32 },
  pictures: { top: 36, height: 36 },
  first: { top: 79, height: 36 },
  second: { top: 122, height: 20 },
  third: { top: 149, height: 13 },
} as const;
export const LEDGER_HEIGHT = 178;

export type LedgerColours = Record<
  'ink' | 'soft' | 'line' | 'paper' | 'accent' | 'alarm' | 'onAccent' | 'sunk',
  string
>;

/** What every row needs to draw itself. */
export interface Drawn {
  scale: LedgerScale;
  colours: LedgerColours;
}

/** Each frame's bar; where frames are narrower than a pixel, the highest of those on a pixel is drawn. */
export function bars(
  context: CanvasRenderingContext2D,
  scale: LedgerScale,
  base: number,
  height: number,
  of: (frame: number) => { height: number; colour: string } | null,
): void {
  const [from, to] = framesInView(scale);
  const wide = scale.width / scale.across;
  let column = -1;
  let most = 0;
  let colour = '';
  const flush = () => {
    if (column >= 0 && most > 0) {
      context.fillStyle = colour;
      context.fillRect(column, base - most * height, 1, most * height);
    }
    most = 0;
  };
  for (let frame = from; frame <= to; frame++) {
    const bar = of(frame);
    if (wide >= 2) {
      if (!bar) continue;
      const left = frameLeft(scale, frame);
      context.fillStyle = bar.colour;
      context.fillRect(left, base - bar.height * height, Math.max(1, wide - 1), bar.height * height);
      continue;
    }
    const at = Math.floor(frameLeft(scale, frame));
    if (at !== column) {
      flush();
      column = at;
    }
    if (bar && bar.height >= most) [most, colour] = [bar.height, bar.colour];
  }
  flush();
}

/** Signs of what is odd about single frames: a cut is a bar, a repeat two strokes, a flash a spark. */
export function drawMarks(
  context: CanvasRenderingContext2D,
  { scale, colours }: Drawn,
  rows: readonly CheckRow[],
  top: number,
  height: number,
): void {
  const [from, to] = framesInView(scale);
  context.strokeStyle = colours.alarm;
  context.fillStyle = colours.alarm;
  context.lineWidth = 1.5;
  for (let frame = from; frame <= to; frame++) {
    const row = rows[frame];
    if (!row || !(row.cut || row.repeats !== null || row.flash)) continue;
    const x = frameMiddle(scale, frame);
    context.beginPath();
    if (row.cut) context.fillRect(frameLeft(scale, frame) - 1, top, 2.5, height);
    if (row.repeats !== null) {
      context.moveTo(x - 4, top + 3);
      context.lineTo(x + 4, top + 3);
      context.moveTo(x - 4, top + 8);
      context.lineTo(x + 4, top + 8);
    }
    if (row.flash) {
      context.moveTo(x, top);
      context.lineTo(x, top + height);
      context.moveTo(x - 5, top + height / 2);
      context.lineTo(x + 5, top + height / 2);
    }
    context.stroke();
  }
}

export function baseLine(context: CanvasRenderingContext2D, { scale, colours }: Drawn, y: number): void {
  context.strokeStyle = colours.line;
  context.lineWidth = 1;
  context.beginPath();
  context.moveTo(scale.left, y + 0.5);
  context.lineTo(scale.left + scale.width, y + 0.5);
  context.stroke();
}

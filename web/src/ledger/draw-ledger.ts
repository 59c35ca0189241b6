import type { CheckRow, TrackRow } from '../../../core/schemas/types.ts';
import { DOUBTFUL_BELOW } from '../rail/readings.ts';
import { errorHeight, frameLeft, frameMiddle, framesInView, labelStep, type LedgerScale } from './ledger-scale.ts';

/** Rows of the ledger from top to bottom: where each begins and how high it is. */
export const ROWS = {
  ruler: { top: 0, height: 32 },
  pictures: { top: 36, height: 36 },
  first: { top: 79, height: 36 },
  second: { top: 122, height: 20 },
  third: { top: 149, height: 13 },
} as const;
export const LEDGER_HEIGHT = 178;

/** Everything that is drawn. */
export interface LedgerSheet {
  scale: LedgerScale;
  colours: Record<'ink' | 'soft' | 'line' | 'paper' | 'accent' | 'alarm' | 'onAccent' | 'sunk', string>;
  font: string;
  nameOf: (frame: number) => string;
  /** Room that a label needs. */
  labelRoom: number;
  pictureAt: (frame: number) => ImageBitmap | null;
  pictureRatio: number;
  range: [number, number];
  cursor: number;
  reference: number | null;
  body: { kind: 'check'; rows: readonly CheckRow[]; blurTop: number } | { kind: 'track'; rows: ReadonlyMap<number, TrackRow>; runKey: string; errorTop: number; rendered: ReadonlySet<number>; check: readonly CheckRow[] };
}

export function drawLedger(context: CanvasRenderingContext2D, sheet: LedgerSheet): void {
  const { scale } = sheet;
  context.font = sheet.font;
  context.textBaseline = 'alphabetic';
  context.save();
  context.beginPath();
  context.rect(scale.left - 1, 0, scale.width + 2, LEDGER_HEIGHT);
  context.clip();
  drawRuler(context, sheet);
  drawPictures(context, sheet);
  if (sheet.body.kind === 'check') drawCheck(context, sheet, sheet.body);
  else drawTrack(context, sheet, sheet.body);
  drawRange(context, sheet);
  context.restore();
  drawReference(context, sheet);
  drawCursor(context, sheet);
}

/** The frames that pictures are shown of, evenly over the row: each stands in the middle of its span. */
export function pictureFrames(scale: LedgerScale, ratio: number): number[] {
  const [from, to] = framesInView(scale);
  const perPicture = Math.max(1, Math.ceil(((ROWS.pictures.height * ratio + 2) * scale.across) / scale.width));
  const out: number[] = [];
  for (let frame = Math.floor(from / perPicture) * perPicture; frame <= to; frame += perPicture) out.push(Math.min(scale.frames - 1, frame + (perPicture >> 1)));
  return [...new Set(out)];
}

function drawRuler(context: CanvasRenderingContext2D, { scale, colours, nameOf, labelRoom }: LedgerSheet): void {
  const step = labelStep(scale, labelRoom), small = Math.max(1, step / 5);
  const [from, to] = framesInView(scale);
  context.strokeStyle = colours.soft;
  context.fillStyle = colours.soft;
  context.lineWidth = 1;
  context.beginPath();
  for (let mark = Math.floor(from / small) * small; mark <= to; mark += small) {
    const frame = Math.round(mark), labelled = frame % step === 0;
    const x = Math.round(frameLeft(scale, frame)) + 0.5;
    context.moveTo(x, labelled ? 20 : 26);
    context.lineTo(x, 31);
    if (labelled) context.fillText(nameOf(frame), x + 3, 19);
  }
  context.stroke();
}

function drawPictures(context: CanvasRenderingContext2D, { scale, pictureAt, pictureRatio, colours }: LedgerSheet): void {
  const frames = pictureFrames(scale, pictureRatio);
  const { top, height } = ROWS.pictures;
  frames.forEach((frame, i) => {
    const middle = frame + 0.5;
    const before = frames[i - 1], after = frames[i + 1];
    const half = ((after ?? frame + (frame - (before ?? frame - 1))) - frame) / 2;
    const left = frameLeft(scale, Math.max(0, middle - half)), right = frameLeft(scale, Math.min(scale.frames, middle + half));
    const picture = pictureAt(frame);
    const width = Math.max(1, right - left - 2);
    if (!picture) {
      context.fillStyle = colours.sunk;
      context.fillRect(left, top, width, height);
      return;
    }
    // Cut to fill, from the middle.
    const scaled = Math.max(width / picture.width, height / picture.height);
    const sw = width / scaled, sh = height / scaled;
    context.drawImage(picture, (picture.width - sw) / 2, (picture.height - sh) / 2, sw, sh, left, top, width, height);
  });
}

/** Each frame's bar; where frames are narrower than a pixel, the highest of those on a pixel is drawn. */
function bars(context: CanvasRenderingContext2D, scale: LedgerScale, base: number, height: number, of: (frame: number) => { height: number; colour: string } | null): void {
  const [from, to] = framesInView(scale);
  const wide = scale.width / scale.across;
  let column = -1, most = 0, colour = '';
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

function drawCheck(context: CanvasRenderingContext2D, sheet: LedgerSheet, { rows, blurTop }: LedgerSheet['body'] & { kind: 'check' }): void {
  const { scale, colours } = sheet;
  const blur = ROWS.first, sharp = ROWS.second, marks = ROWS.third;
  baseLine(context, sheet, blur.top + blur.height);
  bars(context, scale, blur.top + blur.height, blur.height, (f) => (rows[f] && rows[f].blur > 0.5 ? { height: Math.min(1, rows[f].blur / blurTop), colour: colours.ink } : null));
  bars(context, scale, sharp.top + sharp.height, sharp.height, (f) => (rows[f] ? { height: Math.min(1, Math.max(0.03, rows[f].sharpness)), colour: rows[f].sharpness < 0.5 ? colours.alarm : colours.soft } : null));
  drawMarks(context, sheet, rows, marks.top, marks.height);
}

/** Signs of what is odd about single frames: a cut is a bar, a repeat two strokes, a flash a spark. */
function drawMarks(context: CanvasRenderingContext2D, { scale, colours }: LedgerSheet, rows: readonly CheckRow[], top: number, height: number): void {
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
      context.moveTo(x - 4, top + 3); context.lineTo(x + 4, top + 3);
      context.moveTo(x - 4, top + 8); context.lineTo(x + 4, top + 8);
    }
    if (row.flash) {
      context.moveTo(x, top); context.lineTo(x, top + height);
      context.moveTo(x - 5, top + height / 2); context.lineTo(x + 5, top + height / 2);
    }
    context.stroke();
  }
}

function drawTrack(context: CanvasRenderingContext2D, sheet: LedgerSheet, body: LedgerSheet['body'] & { kind: 'track' }): void {
  const { scale, colours } = sheet;
  const { rows, runKey, errorTop, rendered, check } = body;
  const error = ROWS.first, certainty = ROWS.second, render = ROWS.third;
  baseLine(context, sheet, error.top + error.height);
  const colourOf = (row: TrackRow) => (row.runKey !== runKey ? colours.line : row.homography === null || row.confidence < DOUBTFUL_BELOW ? colours.alarm : colours.ink);
  bars(context, scale, error.top + error.height, error.height, (f) => {
    const row = rows.get(f);
    return row ? { height: row.homography === null ? 1 : errorHeight(row.error ?? 0, errorTop), colour: colourOf(row) } : null;
  });
  const [from, to] = framesInView(scale);
  const wide = Math.max(1, scale.width / scale.across - 1);
  for (let frame = from; frame <= to; frame++) {
    const row = rows.get(frame);
    if (!row) continue;
    const left = frameLeft(scale, frame);
    if (row.homography === null) {
      context.strokeStyle = colours.alarm;
      context.beginPath();
      context.moveTo(left, certainty.top); context.lineTo(left + wide, certainty.top + certainty.height);
      context.moveTo(left + wide, certainty.top); context.lineTo(left, certainty.top + certainty.height);
      context.stroke();
      continue;
    }
    context.globalAlpha = 0.12 + 0.78 * row.confidence;
    context.fillStyle = colourOf(row);
    context.fillRect(left, certainty.top, wide, certainty.height);
    context.globalAlpha = 1;
  }
  context.strokeStyle = colours.line;
  context.strokeRect(frameLeft(scale, 0) + 0.5, render.top + 0.5, (scale.frames * scale.width) / scale.across - 1, render.height - 1);
  context.fillStyle = colours.soft;
  for (let frame = from; frame <= to; frame++) if (rendered.has(frame)) context.fillRect(frameLeft(scale, frame), render.top, Math.ceil(scale.width / scale.across), render.height);
  // A cut is shown on every step: nobody should try to follow across it.
  drawMarks(context, sheet, check.filter((r) => r.cut).length > 0 ? check.map((r) => ({ ...r, repeats: null, flash: false })) : [], error.top, error.height);
}

function baseLine(context: CanvasRenderingContext2D, { scale, colours }: LedgerSheet, y: number): void {
  context.strokeStyle = colours.line;
  context.lineWidth = 1;
  context.beginPath();
  context.moveTo(scale.left, y + 0.5);
  context.lineTo(scale.left + scale.width, y + 0.5);
  context.stroke();
}

/** Frames before the in point and after the out point are veiled; brackets mark the two. */
function drawRange(context: CanvasRenderingContext2D, { scale, range, colours }: LedgerSheet): void {
  const left = frameLeft(scale, range[0]), right = frameLeft(scale, range[1] + 1);
  context.globalAlpha = 0.72;
  context.fillStyle = colours.paper;
  if (range[0] > 0) context.fillRect(scale.left - 1, ROWS.pictures.top - 2, left - scale.left + 1, LEDGER_HEIGHT);
  if (range[1] < scale.frames - 1) context.fillRect(right, ROWS.pictures.top - 2, scale.left + scale.width - right + 1, LEDGER_HEIGHT);
  context.globalAlpha = 1;
  context.strokeStyle = colours.ink;
  context.lineWidth = 2;
  for (const [x, inward] of [[left, 1], [right, -1]] as const) {
    if ((inward === 1 && range[0] === 0) || (inward === -1 && range[1] === scale.frames - 1)) continue;
    context.beginPath();
    context.moveTo(x + 6 * inward, 33);
    context.lineTo(x + inward, 33);
    context.lineTo(x + inward, LEDGER_HEIGHT - 8);
    context.lineTo(x + 6 * inward, LEDGER_HEIGHT - 8);
    context.stroke();
  }
}

function drawReference(context: CanvasRenderingContext2D, { scale, reference, colours }: LedgerSheet): void {
  if (reference === null) return;
  const x = frameMiddle(scale, reference);
  if (x < scale.left || x > scale.left + scale.width) return;
  context.strokeStyle = colours.ink;
  context.lineWidth = 1;
  context.setLineDash([1.5, 3]);
  context.beginPath();
  context.moveTo(x, 30);
  context.lineTo(x, 166);
  context.stroke();
  context.setLineDash([]);
  context.fillStyle = colours.soft;
  context.textAlign = 'center';
  context.fillText('reference', Math.min(scale.left + scale.width - 26, Math.max(scale.left + 26, x)), LEDGER_HEIGHT - 2);
  context.textAlign = 'left';
}

function drawCursor(context: CanvasRenderingContext2D, { scale, cursor, colours, nameOf }: LedgerSheet): void {
  const x = frameMiddle(scale, cursor);
  if (x < scale.left || x > scale.left + scale.width) return;
  const name = nameOf(cursor);
  const half = Math.max(17, context.measureText(name).width / 2 + 6);
  context.fillStyle = colours.accent;
  context.fillRect(x - 0.8, 18, 1.6, 152);
  context.fillRect(x - half, 3, 2 * half, 17);
  context.fillStyle = colours.onAccent;
  context.textAlign = 'center';
  context.fillText(name, x, 16);
  context.textAlign = 'left';
}

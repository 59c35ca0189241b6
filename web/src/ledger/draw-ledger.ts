import { clamp } from '../../../core/base/geometry/clamp.ts';
import type { CheckRow } from '../../../core/base/schemas/types.ts';
import { bars, baseLine, drawMarks, LEDGER_HEIGHT, ROWS, type LedgerColours } from './draw-parts.ts';
import { drawTrack, type TrackBody } from './draw-track.ts';
import { frameLeft, frameMiddle, framesInView, labelStep, type LedgerScale } from './ledger-scale.ts';

export interface CheckBody {
  kind: 'check';
  rows: readonly CheckRow[];
  blurTop: number;
}

/** Everything that is drawn. */
export interface LedgerSheet {
  scale: LedgerScale;
  colours: LedgerColours;
  font: string;
  nameOf: (frame: number) => string;
  /** Room that a label needs. */
  labelRoom: number;
  pictureAt: (frame: number) => ImageBitmap | null;
  pictureRatio: number;
  range: [number, number];
  cursor: number;
  reference: number | null;
  body: CheckBody | TrackBody;
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
  for (let frame = Math.floor(from / perPicture) * perPicture; frame <= to; frame += perPicture)
    out.push(Math.min(scale.frames - 1, frame + (perPicture >> 1)));
  return [...new Set(out)];
}

function drawRuler(context: CanvasRenderingContext2D, { scale, colours, nameOf, labelRoom }: LedgerSheet): void {
  const step = labelStep(scale, labelRoom);
  const small = Math.max(1, step / 5);
  const [from, to] = framesInView(scale);
  context.strokeStyle = colours.soft;
  context.fillStyle = colours.soft;
  context.lineWidth = 1;
  context.beginPath();
  for (let mark = Math.floor(from / small) * small; mark <= to; mark += small) {
    const frame = Math.round(mark);
    const labelled = frame % step === 0;
    const x = Math.round(frameLeft(scale, frame)) + 0.5;
    context.moveTo(x, labelled ? 20 : 26);
    context.lineTo(x, 31);
    if (labelled) context.fillText(nameOf(frame), x + 3, 19);
  }
  context.stroke();
}

function drawPictures(
  context: CanvasRenderingContext2D,
  { scale, pictureAt, pictureRatio, colours }: LedgerSheet,
): void {
  const frames = pictureFrames(scale, pictureRatio);
  const { top, height } = ROWS.pictures;
  frames.forEach((frame, i) => {
    const middle = frame + 0.5;
    const before = frames[i - 1];
    const after = frames[i + 1];
    const half = ((after ?? frame + (frame - (before ?? frame - 1))) - frame) / 2;
    const left = frameLeft(scale, Math.max(0, middle - half));
    const right = frameLeft(scale, Math.min(scale.frames, middle + half));
    const picture = pictureAt(frame);
    const width = Math.max(1, right - left - 2);
    if (!picture) {
      context.fillStyle = colours.sunk;
      context.fillRect(left, top, width, height);
      return;
    }
    // Cut to fill, from the middle.
    const scaled = Math.max(width / picture.width, height / picture.height);
    const sw = width / scaled;
    const sh = height / scaled;
    context.drawImage(picture, (picture.width - sw) / 2, (picture.height - sh) / 2, sw, sh, left, top, width, height);
  });
}

function drawCheck(context: CanvasRenderingContext2D, sheet: LedgerSheet, { rows, blurTop }: CheckBody): void {
  const { scale, colours } = sheet;
  const blur = ROWS.first;
  const sharp = ROWS.second;
  const marks = ROWS.third;
  baseLine(context, sheet, blur.top + blur.height);
  bars(context, scale, blur.top + blur.height, blur.height, (f) =>
    rows[f] && rows[f].blur > 0.5 ? { height: Math.min(1, rows[f].blur / blurTop), colour: colours.ink } : null,
  );
  bars(context, scale, sharp.top + sharp.height, sharp.height, (f) =>
    rows[f]
      ? {
          height: clamp(rows[f].sharpness, 0.03, 1),
          colour: rows[f].sharpness < 0.5 ? colours.alarm : colours.soft,
        }
      : null,
  );
  drawMarks(context, sheet, rows, marks.top, marks.height);
}

/** Frames before the in point and after the out point are veiled; brackets mark the two. */
function drawRange(context: CanvasRenderingContext2D, { scale, range, colours }: LedgerSheet): void {
  const left = frameLeft(scale, range[0]);
  const right = frameLeft(scale, range[1] + 1);
  context.globalAlpha = 0.72;
  context.fillStyle = colours.paper;
  if (range[0] > 0) context.fillRect(scale.left - 1, ROWS.pictures.top - 2, left - scale.left + 1, LEDGER_HEIGHT);
  if (range[1] < scale.frames - 1)
    context.fillRect(right, ROWS.pictures.top - 2, scale.left + scale.width - right + 1, LEDGER_HEIGHT);
  context.globalAlpha = 1;
  context.strokeStyle = colours.ink;
  context.lineWidth = 2;
  for (const [x, inward] of [
    [left, 1],
    [right, -1],
  ] as const) {
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
  context.fillText(
    'reference',
    Math.min(scale.left + scale.width - 26, Math.max(scale.left + 26, x)),
    LEDGER_HEIGHT - 2,
  );
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

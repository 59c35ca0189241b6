import { lostSpans } from '../../../core/motion/follow/lost-spans.ts';
import type { CheckRow, LedgerFrame, TrackRow } from '../../../core/base/schemas/types.ts';
import { DOUBTFUL_BELOW } from '../rail/readings.ts';
import { bars, baseLine, drawMarks, ROWS, type Drawn } from './draw-parts.ts';
import { errorHeight, frameLeft, framesInView } from './ledger-scale.ts';

export interface TrackBody {
  kind: 'track';
  rows: ReadonlyMap<number, TrackRow>;
  runKey: string;
  /** What the top of the error row stands for, px. */
  errorTop: number;
  /** How far off the corners of a frame may be (95 %), px. */
  boundAt: (frame: number) => number | null;
  protect: readonly (readonly [number, number])[];
  referenceFrame: number;
  /** In following, keys take the second row and certainty the third; later on rendered frames do. */
  following: boolean;
  rendered: readonly LedgerFrame[];
  check: readonly CheckRow[];
}

/** The track's rows: errors as a ribbon with what the corners stay within as a band, certainty, and rendered frames. */
export function drawTrack(context: CanvasRenderingContext2D, sheet: Drawn, body: TrackBody): void {
  const { scale, colours } = sheet;
  const { rows, runKey, errorTop, rendered, check } = body;
  const error = ROWS.first;
  const colourOf = (row: TrackRow) =>
    row.runKey !== runKey
      ? colours.line
      : row.homography === null || row.confidence < DOUBTFUL_BELOW
        ? colours.alarm
        : colours.ink;
  baseLine(context, sheet, error.top + error.height);
  bars(context, scale, error.top + error.height, error.height, (f) => {
    const row = rows.get(f);
    return row?.homography ? { height: errorHeight(row.error ?? 0, errorTop), colour: colourOf(row) } : null;
  });
  drawBand(context, sheet, body);
  drawLosses(context, sheet, body);
  drawCertainty(context, sheet, body, body.following ? ROWS.third : ROWS.second, colourOf);
  if (!body.following) drawRendered(context, sheet, rendered);
  // A cut is shown on every step: nobody should try to follow across it.
  drawMarks(
    context,
    sheet,
    check.filter((r) => r.cut).length > 0 ? check.map((r) => ({ ...r, repeats: null, flash: false })) : [],
    error.top,
    error.height,
  );
}

/** What the corners stay within, as a band over the bars with a firm upper edge. */
function drawBand(
  context: CanvasRenderingContext2D,
  { scale, colours }: Drawn,
  { boundAt, errorTop }: TrackBody,
): void {
  const { top, height } = ROWS.first;
  const [from, to] = framesInView(scale);
  const base = top + height;
  context.strokeStyle = colours.accent;
  context.fillStyle = colours.accent;
  context.lineWidth = 1.5;
  context.beginPath();
  for (let frame = from; frame <= to; frame++) {
    const bound = boundAt(frame);
    if (bound === null) continue;
    const y = base - Math.min(1, bound / errorTop) * height;
    const left = frameLeft(scale, frame);
    const right = frameLeft(scale, frame + 1);
    context.globalAlpha = 0.22;
    context.fillRect(left, y, right - left, base - y);
    context.moveTo(left, y);
    context.lineTo(right, y);
  }
  context.globalAlpha = 1;
  context.stroke();
  context.lineWidth = 1;
}

/** Where hold was lost: the span is hatched, and the reason stands in it where there is room. */
function drawLosses(
  context: CanvasRenderingContext2D,
  { scale, colours }: Drawn,
  { rows, referenceFrame }: TrackBody,
): void {
  const { top, height } = ROWS.first;
  const lost = [...rows.values()].filter((row) => row.homography === null).sort((a, b) => a.frame - b.frame);
  for (const {
    frames: [first, last],
    why,
  } of lostSpans(lost, referenceFrame)) {
    const left = frameLeft(scale, first);
    const right = frameLeft(scale, last + 1);
    const width = Math.max(3, right - left);
    context.save();
    context.beginPath();
    context.rect(left, top, width, height);
    context.clip();
    context.globalAlpha = 0.14;
    context.fillStyle = colours.alarm;
    context.fillRect(left, top, width, height);
    context.globalAlpha = 1;
    context.strokeStyle = colours.alarm;
    context.lineWidth = 1;
    context.beginPath();
    for (let x = left - height; x < left + width; x += 7) {
      context.moveTo(x, top + height);
      context.lineTo(x + height, top);
    }
    context.globalAlpha = 0.4;
    context.stroke();
    context.globalAlpha = 1;
    const words = why.length > 0 ? why.split(':')[0]! : 'lost';
    if (width > 60) {
      const text = Math.min(width - 8, context.measureText(words).width);
      context.fillStyle = colours.paper;
      context.fillRect(left + 2, top + 8, text + 6, 18);
      context.fillStyle = colours.alarm;
      context.fillText(words, left + 5, top + 21);
    }
    context.restore();
    context.fillStyle = colours.alarm;
    context.fillRect(left, top - 3, width, 3);
  }
}

function drawCertainty(
  context: CanvasRenderingContext2D,
  { scale, colours }: Drawn,
  { rows, protect }: TrackBody,
  { top, height }: { top: number; height: number },
  colourOf: (row: TrackRow) => string,
): void {
  const [from, to] = framesInView(scale);
  const wide = Math.max(1, scale.width / scale.across - 1);
  for (let frame = from; frame <= to; frame++) {
    const row = rows.get(frame);
    if (!row) continue;
    const left = frameLeft(scale, frame);
    if (row.homography === null) {
      context.strokeStyle = colours.alarm;
      context.beginPath();
      context.moveTo(left, top);
      context.lineTo(left + wide, top + height);
      context.moveTo(left + wide, top);
      context.lineTo(left, top + height);
      context.stroke();
      continue;
    }
    context.globalAlpha = 0.12 + 0.78 * row.confidence;
    context.fillStyle = colourOf(row);
    context.fillRect(left, top, wide, height);
    context.globalAlpha = 1;
  }
  // Protected spans are framed.
  context.strokeStyle = colours.accent;
  context.lineWidth = 2;
  for (const [first, last] of protect)
    context.strokeRect(frameLeft(scale, first), top - 1, ((last + 1 - first) * scale.width) / scale.across, height + 2);
  context.lineWidth = 1;
}

/** Finished frames are full, those out of date hatched, failed ones crossed; what is not there is left free. */
function drawRendered(
  context: CanvasRenderingContext2D,
  { scale, colours }: Drawn,
  rendered: readonly LedgerFrame[],
): void {
  const { top, height } = ROWS.third;
  const [from, to] = framesInView(scale);
  context.strokeStyle = colours.line;
  context.strokeRect(frameLeft(scale, 0) + 0.5, top + 0.5, (scale.frames * scale.width) / scale.across - 1, height - 1);
  for (let frame = from; frame <= to; frame++) {
    const state = rendered[frame]?.state ?? 'missing';
    const left = Math.round(frameLeft(scale, frame));
    const right = Math.round(frameLeft(scale, frame + 1));
    if (state === 'missing') continue;
    if (state === 'done') {
      context.fillStyle = colours.soft;
      context.fillRect(left, top, right - left, height);
      continue;
    }
    context.save();
    context.beginPath();
    context.rect(left, top, right - left, height);
    context.clip();
    context.strokeStyle = state === 'stale' ? colours.accent : colours.alarm;
    context.lineWidth = 1.2;
    context.beginPath();
    // Lines of one pattern over all frames, so that a span reads as one.
    for (let x = Math.floor(left / 5) * 5 - height; x < right; x += 5) {
      context.moveTo(x, top + height);
      context.lineTo(x + height, top);
      if (state !== 'failed') continue;
      context.moveTo(x, top);
      context.lineTo(x + height, top + height);
    }
    context.stroke();
    context.restore();
  }
}

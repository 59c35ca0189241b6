import { clamp } from '../../../core/base/geometry/clamp.ts';
import { SLICE_LENGTH, SLICE_REACH, SLICE_STEP } from '../../../core/surface/seat/edge-slices.ts';
import { frameLeft, framesInView, type LedgerScale } from '../ledger/ledger-scale.ts';

/** One strip: each frame's column, moved so that the middle is where the corners are seated. */
export interface StripPicture {
  /** Codes of a frame from the inside outward; null where the frame was not looked at. */
  columnAt(frame: number): Uint8Array | null;
  /** How far outward of where it was looked at the seat lies now, reference px. */
  seatAt(frame: number): number;
  /** How far outward of the seat the border is, with its bound, reference px; null where it is not known. */
  fitAt(frame: number): { at: number; bound: number } | null;
}

export interface StripColours {
  readonly accent: string;
  readonly alarm: string;
  readonly line: string;
}

/** Height of a strip on the page. */
export const STRIP_HEIGHT = 31;

/**
 * Draws a strip: time along, outward up, `reach` px of the reference either way. The codes are stretched between their darkest and brightest,
 * so that a black border on black shows. Over it the fitted border with its bound, and the seat as a straight line in the middle.
 */
export function drawStrip(
  context: CanvasRenderingContext2D,
  top: number,
  scale: LedgerScale,
  strip: StripPicture,
  reach: number,
  fits: boolean,
  tolerance: number,
  colours: StripColours,
): void {
  const [first, last] = framesInView(scale);
  const count = last - first + 1;
  const height = STRIP_HEIGHT - 2;
  if (count <= 0) return;
  const picture = new ImageData(count, 2 * height);
  const stretch = contrast(strip, first, last);
  for (let f = 0; f < count; f++) {
    const column = strip.columnAt(first + f);
    const seat = strip.seatAt(first + f);
    for (let row = 0; row < 2 * height; row++) {
      const out = reach * (1 - (2 * (row + 0.5)) / (2 * height));
      const at = (row * count + f) * 4;
      const value = column && valueAt(column, out + seat);
      const code = value === null ? 235 : stretch(value);
      picture.data[at] = picture.data[at + 1] = picture.data[at + 2] = code;
      picture.data[at + 3] = value === null ? 90 : 255;
    }
  }
  const small = new OffscreenCanvas(count, 2 * height);
  small.getContext('2d')!.putImageData(picture, 0, 0);
  const x0 = frameLeft(scale, first);
  const width = (count * scale.width) / scale.across;
  const y = (out: number) => top + 1 + (height * (1 - out / reach)) / 2;
  context.save();
  context.beginPath();
  context.rect(scale.left, top + 1, scale.width, height);
  context.clip();
  context.imageSmoothingEnabled = false;
  context.drawImage(small, x0, top + 1, width, height);
  context.setLineDash([5, 4]);
  context.lineWidth = 1;
  for (const [colour, offset] of [
    ['rgb(0 0 0 / 55%)', 0],
    ['rgb(255 255 255 / 75%)', 4.5],
  ] as const) {
    context.strokeStyle = colour;
    context.lineDashOffset = offset;
    line(context, scale.left, y(0), scale.left + scale.width);
  }
  context.setLineDash([]);
  if (fits) drawFits(context, strip, scale, first, last, y, tolerance, colours);
  context.restore();
  context.strokeStyle = colours.line;
  context.strokeRect(scale.left + 0.5, top + 0.5, scale.width - 1, STRIP_HEIGHT - 1);
}

function drawFits(
  context: CanvasRenderingContext2D,
  strip: StripPicture,
  scale: LedgerScale,
  first: number,
  last: number,
  y: (out: number) => number,
  tolerance: number,
  colours: StripColours,
): void {
  for (let frame = first; frame <= last; frame++) {
    const fit = strip.fitAt(frame);
    if (!fit) continue;
    const x = frameLeft(scale, frame);
    const next = Math.max(x + 1, frameLeft(scale, frame + 1));
    const off = Math.abs(fit.at) > tolerance;
    context.fillStyle = off ? colours.alarm : colours.accent;
    context.globalAlpha = 0.32;
    const high = y(fit.at + fit.bound);
    const low = y(fit.at - fit.bound);
    context.fillRect(x, high, next - x, Math.max(1, low - high));
    context.globalAlpha = 1;
    context.fillRect(x, y(fit.at) - 0.8, next - x, off ? 2.4 : 1.6);
  }
}

function line(context: CanvasRenderingContext2D, x: number, y: number, to: number): void {
  context.beginPath();
  context.moveTo(x, y);
  context.lineTo(to, y);
  context.stroke();
}

/** The code at a place of a column, px outward of its middle. */
function valueAt(column: Uint8Array, out: number): number | null {
  const at = (out + SLICE_REACH) / SLICE_STEP;
  const k = Math.floor(at);
  if (k < 0 || k >= SLICE_LENGTH - 1) return null;
  return column[k]! + (column[k + 1]! - column[k]!) * (at - k);
}

/** Between the strip's darkest and brightest but for a few strays. */
function contrast(strip: StripPicture, first: number, last: number): (value: number) => number {
  const seen: number[] = [];
  const every = Math.max(1, Math.floor((last - first + 1) / 60));
  for (let f = first; f <= last; f += every) for (const v of strip.columnAt(f) ?? []) seen.push(v);
  seen.sort((a, b) => a - b);
  const low = seen[Math.floor(0.02 * seen.length)] ?? 0;
  const high = seen[Math.floor(0.98 * (seen.length - 1))] ?? 255;
  const span = Math.max(6, high - low);
  return (value) => clamp(18 + (220 * (value - low)) / span, 18, 238);
}

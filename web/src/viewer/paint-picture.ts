import type { Wipe } from '../stores/viewing.ts';
import { applyViewLook, isPlain, type ViewLook } from './view-look.ts';
import { toPage } from './view-transform.ts';
import type { Viewport } from './viewport.ts';

export interface PaintedPicture {
  picture: ImageBitmap;
  /** Painted in haste: it is gone in a moment. */
  passing?: boolean;
  /** The plate beneath, where a wipe shows it. */
  under?: ImageBitmap | null;
  wipe?: Wipe | null;
  /** How much more than it is the difference from `under` is shown; 0 shows the picture. */
  difference?: number;
}

/**
 * Paints a picture of the plate's size into the viewer's canvas at device resolution. From two screen
 * pixels a plate pixel on, pixels are drawn as squares. `look` alters the view only.
 */
export function paintPicture(
  canvas: HTMLCanvasElement,
  { width, height, view }: Viewport,
  painted: PaintedPicture | null,
  size: { width: number; height: number } | null,
  look: ViewLook,
): void {
  const density = window.devicePixelRatio || 1;
  const wide = Math.max(1, Math.round(width * density));
  const high = Math.max(1, Math.round(height * density));
  if (canvas.width !== wide || canvas.height !== high) {
    canvas.width = wide;
    canvas.height = high;
  }
  const context = canvas.getContext('2d')!;
  context.setTransform(1, 0, 0, 1, 0, 0);
  context.clearRect(0, 0, wide, high);
  if (!painted || !size) return;
  const scale = density * view.scale;
  const across = scale * view.aspect;
  const x = density * view.x;
  const y = density * view.y;
  context.setTransform(across, 0, 0, scale, x, y);
  context.imageSmoothingEnabled = scale < 2;
  context.imageSmoothingQuality = painted.passing ? 'low' : 'high';
  const { picture, under, wipe, difference = 0 } = painted;
  if (under && wipe && difference === 0) {
    context.drawImage(under, 0, 0, size.width, size.height);
    context.save();
    // The border is a line on the page, also where pixels are not square.
    context.setTransform(density, 0, 0, density, 0, 0);
    const [middleX, middleY] = toPage(view, [wipe.x, wipe.y]);
    clipLeftOf(
      context,
      { x: middleX, y: middleY, angle: wipe.angle },
      2 * (width + height) + Math.abs(middleX) + Math.abs(middleY),
    );
    context.setTransform(across, 0, 0, scale, x, y);
    context.drawImage(picture, 0, 0, size.width, size.height);
    context.restore();
  } else context.drawImage(picture, 0, 0, size.width, size.height);
  if (under && difference > 0) {
    context.globalCompositeOperation = 'difference';
    context.drawImage(under, 0, 0, size.width, size.height);
    // What is drawn onto itself by adding is doubled.
    context.globalCompositeOperation = 'lighter';
    context.setTransform(1, 0, 0, 1, 0, 0);
    for (let gain = 1; gain < difference; gain *= 2) context.drawImage(canvas, 0, 0);
    context.globalCompositeOperation = 'source-over';
  }
  if (isPlain(look)) return;
  const left = Math.max(0, Math.floor(x));
  const top = Math.max(0, Math.floor(y));
  const right = Math.min(wide, Math.ceil(x + size.width * across));
  const bottom = Math.min(high, Math.ceil(y + size.height * scale));
  if (right <= left || bottom <= top) return;
  const part = context.getImageData(left, top, right - left, bottom - top);
  applyViewLook(part.data, look);
  context.putImageData(part, left, top);
}

/** Clips to the half plane on the left of the wipe's direction. */
function clipLeftOf(context: CanvasRenderingContext2D, { x, y, angle }: Wipe, reach: number): void {
  const dx = Math.cos(angle) * reach;
  const dy = Math.sin(angle) * reach;
  context.beginPath();
  context.moveTo(x - dx, y - dy);
  context.lineTo(x + dx, y + dy);
  context.lineTo(x + dx + dy, y + dy - dx);
  context.lineTo(x - dx + dy, y - dy - dx);
  context.closePath();
  context.clip();
}

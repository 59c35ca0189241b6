import type { ViewTransform } from './view-transform.ts';

/**
 * Paints a picture of the plate's size into the viewer's canvas at device resolution. From two screen
 * pixels a plate pixel on, pixels are drawn as squares. `exposure` in stops brightens the view only.
 */
export function paintPicture(
  canvas: HTMLCanvasElement, width: number, height: number, view: ViewTransform, picture: ImageBitmap | null,
  size: { width: number; height: number } | null, exposure: number,
): void {
  const density = window.devicePixelRatio || 1;
  const wide = Math.max(1, Math.round(width * density)), high = Math.max(1, Math.round(height * density));
  if (canvas.width !== wide || canvas.height !== high) {
    canvas.width = wide;
    canvas.height = high;
  }
  const context = canvas.getContext('2d')!;
  context.setTransform(1, 0, 0, 1, 0, 0);
  context.clearRect(0, 0, wide, high);
  if (!picture || !size) return;
  context.setTransform(density * view.scale, 0, 0, density * view.scale, density * view.x, density * view.y);
  context.imageSmoothingEnabled = view.scale * density < 2;
  context.imageSmoothingQuality = 'high';
  // A stop doubles light; on display-referred codes that is a factor of about 2^(1/2.2).
  context.filter = exposure === 0 ? 'none' : `brightness(${2 ** (exposure / 2.2)})`;
  context.drawImage(picture, 0, 0, size.width, size.height);
  context.filter = 'none';
}

import type { ContentPicture } from '../../../core/base/image/picture.ts';

/** Straight (not premultiplied) 8-bit codes of a picture; one wider than `widest` is made smaller. */
export async function fetchPixels(url: string, widest = Infinity): Promise<ContentPicture> {
  const response = await fetch(url);
  if (!response.ok) throw new Error(`The picture cannot be fetched (status ${response.status}).`);
  const whole = await createImageBitmap(await response.blob(), {
    colorSpaceConversion: 'none',
    premultiplyAlpha: 'none',
  });
  const asked = Math.max(1, Math.round(widest));
  const bitmap =
    asked >= whole.width
      ? whole
      : await createImageBitmap(whole, {
          resizeWidth: asked,
          resizeHeight: Math.max(1, Math.round((whole.height * asked) / whole.width)),
          resizeQuality: 'medium',
          colorSpaceConversion: 'none',
          premultiplyAlpha: 'none',
        });
  const canvas = new OffscreenCanvas(bitmap.width, bitmap.height);
  const context = canvas.getContext('2d', { willReadFrequently: true })!;
  context.drawImage(bitmap, 0, 0);
  for (const one of new Set([whole, bitmap])) one.close();
  const { width, height, data } = context.getImageData(0, 0, canvas.width, canvas.height);
  return { width, height, data, peak: 255 };
}

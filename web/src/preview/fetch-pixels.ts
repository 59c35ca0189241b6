import type { ContentPicture } from '../../../core/image/picture.ts';

/** Straight (not premultiplied) 8-bit codes of a picture. */
export async function fetchPixels(url: string): Promise<ContentPicture> {
  const response = await fetch(url);
  if (!response.ok) throw new Error(`The picture cannot be fetched (status ${response.status}).`);
  const bitmap = await createImageBitmap(await response.blob(), { colorSpaceConversion: 'none', premultiplyAlpha: 'none' });
  const canvas = new OffscreenCanvas(bitmap.width, bitmap.height);
  const context = canvas.getContext('2d', { willReadFrequently: true })!;
  context.drawImage(bitmap, 0, 0);
  bitmap.close();
  const { width, height, data } = context.getImageData(0, 0, canvas.width, canvas.height);
  return { width, height, data, peak: 255 };
}

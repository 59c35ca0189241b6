import sharp from 'sharp';
import type { FrameStore } from './frame-store.ts';

export const THUMBNAIL = { width: 48, height: 27 };

/** Small luma pictures of a medium's frames, from its light pictures. */
export async function thumbnails(store: FrameStore, frames: number): Promise<Float32Array[]> {
  const out: Float32Array[] = [];
  const AT_ONCE = 8;
  for (let from = 0; from < frames; from += AT_ONCE) {
    const some = Array.from({ length: Math.min(AT_ONCE, frames - from) }, (_, i) => store.proxy(from + i));
    out.push(
      ...(await Promise.all(
        some.map(async (jpeg) => {
          const { data } = await sharp(await jpeg)
            .resize(THUMBNAIL.width, THUMBNAIL.height, { fit: 'fill' })
            .greyscale()
            .raw()
            .toBuffer({ resolveWithObject: true });
          return Float32Array.from(data);
        }),
      )),
    );
  }
  return out;
}

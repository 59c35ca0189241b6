import sharp from 'sharp';
import { Problem } from '../../core/problem/problem.ts';
import { pictureFromRaw, type RawLayout } from '../../core/image/raw-frame.ts';
import type { CodedPicture, ContentPicture } from '../../core/image/picture.ts';
import { labelOf, type MediaSource } from './source.ts';

/** A still with its transparency. */
export async function readStill(source: MediaSource & { kind: 'still' }): Promise<ContentPicture> {
  try {
    const image = sharp(source.file, { limitInputPixels: 16384 * 16384 }).rotate().toColourspace('srgb').ensureAlpha();
    const { data, info } = await image.raw().toBuffer({ resolveWithObject: true });
    return { width: info.width, height: info.height, data, peak: 255 };
  } catch (error) {
    throw new Problem('damaged-media', { file: labelOf(source), why: (error as Error).message.split('\n')[0]! }, { cause: error });
  }
}

/** An opaque content picture from a decoded frame. */
export function contentFromRaw(bytes: Uint8Array, layout: RawLayout): ContentPicture {
  return contentFromPicture(pictureFromRaw(bytes, layout));
}

function contentFromPicture(picture: CodedPicture): ContentPicture {
  const pixels = picture.width * picture.height;
  const data = picture.peak === 255 ? new Uint8Array(pixels * 4) : new Uint16Array(pixels * 4);
  for (let i = 0; i < pixels; i++) {
    data[i * 4] = picture.data[i * 3]!;
    data[i * 4 + 1] = picture.data[i * 3 + 1]!;
    data[i * 4 + 2] = picture.data[i * 3 + 2]!;
    data[i * 4 + 3] = picture.peak;
  }
  return { width: picture.width, height: picture.height, data, peak: picture.peak };
}

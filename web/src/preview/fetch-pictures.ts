import type { CodedPicture } from '../../../core/base/image/picture.ts';
import type { Lens } from '../../../core/motion/lens/lens.ts';
import type { FrontFrame } from '../../../core/picture/matte/measure-front.ts';
import { frameUrl } from '../api/urls.ts';
import type { ComposeRequest, SurfaceRequest } from './compose-request.ts';
import { fetchPixels } from './fetch-pixels.ts';
import { scaledLens, scaledQuad } from './scaled-surface.ts';

export async function fetchCodes(url: string, widest?: number): Promise<CodedPicture> {
  const { width, height, data } = await fetchPixels(url, widest);
  const rgb = new Uint8Array(width * height * 3);
  for (let i = 0, at = 0; i < rgb.length; i += 3, at += 4) {
    rgb[i] = data[at]!;
    rgb[i + 1] = data[at + 1]!;
    rgb[i + 2] = data[at + 2]!;
  }
  return { width, height, data: rgb, peak: 255 };
}

/** Whole pictures of the frames that tell a surface clean. */
export async function cleanPictures(
  plate: ComposeRequest['plate'],
  plateWidth: number,
  clean: SurfaceRequest['clean'],
  lens: Lens | undefined,
): Promise<(FrontFrame & { frame: number })[]> {
  const frames: (FrontFrame & { frame: number })[] = [];
  for (const { frame, quad } of clean) {
    const picture = await fetchCodes(frameUrl(plate, frame, 'png'));
    frames.push({
      frame,
      picture,
      quad: scaledQuad(quad, picture.width / plateWidth),
      lens: scaledLens(lens, picture.width / plateWidth),
    });
  }
  return frames;
}

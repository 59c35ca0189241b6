import * as Comlink from 'comlink';
import { composeFrame } from '../../../core/composite/compose-frame.ts';
import { buildContentPyramid, type ContentPyramid } from '../../../core/composite/content-pyramid.ts';
import type { ResolvedLook } from '../../../core/composite/look.ts';
import type { QuadMotion } from '../../../core/composite/shutter-path.ts';
import { testCard } from '../../../core/composite/test-card.ts';
import type { Quad } from '../../../core/geometry/quad.ts';
import type { CodedPicture, ContentPicture } from '../../../core/image/picture.ts';
import { frameUrl } from '../api/urls.ts';
import type { ComposeRequest } from './compose-request.ts';

/** Composes frames for the viewer with the same code as the final render (core/composite). */
class PreviewWorker {
  private readonly plates = new Map<string, CodedPicture>();
  private readonly pyramids = new Map<string, ContentPyramid>();

  async compose(request: ComposeRequest): Promise<ImageBitmap> {
    const plate = await this.plate(request);
    const scale = plate.width / request.plateWidth;
    const finished = composeFrame(plate, await this.content(request), scaledMotion(request.motion, scale), request.surfaceRatio, scaledLook(request.look, scale), request.quality);
    const rgba = new Uint8ClampedArray(finished.width * finished.height * 4);
    for (let i = 0, at = 0; at < rgba.length; i += 3, at += 4) {
      rgba[at] = finished.data[i]!;
      rgba[at + 1] = finished.data[i + 1]!;
      rgba[at + 2] = finished.data[i + 2]!;
      rgba[at + 3] = 255;
    }
    const bitmap = await createImageBitmap(new ImageData(rgba, finished.width, finished.height));
    return Comlink.transfer(bitmap, [bitmap]);
  }

  private async plate({ plate, frame, plateKind }: ComposeRequest): Promise<CodedPicture> {
    const url = frameUrl(plate, frame, plateKind);
    let picture = this.plates.get(url);
    if (!picture) {
      const { width, height, data } = await pixels(url);
      const rgb = new Uint8Array(width * height * 3);
      for (let i = 0, at = 0; i < rgb.length; i += 3, at += 4) {
        rgb[i] = data[at]!;
        rgb[i + 1] = data[at + 1]!;
        rgb[i + 2] = data[at + 2]!;
      }
      picture = { width, height, data: rgb, peak: 255 };
      remember(this.plates, url, picture, 12);
    }
    return picture;
  }

  private async content({ content, look }: ComposeRequest): Promise<ContentPyramid> {
    const key = JSON.stringify([content, look.levels]);
    let pyramid = this.pyramids.get(key);
    if (!pyramid) {
      const picture: ContentPicture = content.kind === 'test-card'
        ? testCard(1024, Math.max(16, Math.round(1024 / content.ratio)), content.card)
        : await pixels(frameUrl(content.source, content.frame, content.picture));
      pyramid = buildContentPyramid(picture, look.levels);
      remember(this.pyramids, key, pyramid, 3);
    }
    return pyramid;
  }
}

/** Corners on a plate picture that is smaller than the plate. */
function scaledMotion(motion: QuadMotion, scale: number): QuadMotion {
  const quad = <Q extends Quad | null>(q: Q): Q => (q && (q.map(([x, y]) => [x * scale, y * scale]) as unknown as Q));
  return scale === 1 ? motion : { before: quad(motion.before), now: quad(motion.now), after: quad(motion.after) };
}
function scaledLook(look: ResolvedLook, scale: number): ResolvedLook {
  return scale === 1 ? look : { ...look, soften: look.soften * scale, feather: look.feather.map((f) => f * scale) as ResolvedLook['feather'] };
}

/** Straight (not premultiplied) 8-bit codes of a picture. */
async function pixels(url: string): Promise<ContentPicture> {
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

function remember<V>(cache: Map<string, V>, key: string, value: V, limit: number): void {
  cache.set(key, value);
  while (cache.size > limit) cache.delete(cache.keys().next().value!);
}

Comlink.expose(new PreviewWorker());
export type { PreviewWorker };

import * as Comlink from 'comlink';
import { plainContent, viewOf } from './front-views.ts';
import { scaledLook } from '../../../core/composite/scaled-look.ts';
import { ShownContent, type ContentSource } from '../../../core/composite/shown-content.ts';
import type { QuadMotion } from '../../../core/composite/shutter-path.ts';
import { testCard } from '../../../core/composite/test-card.ts';
import type { Quad } from '../../../core/geometry/quad.ts';
import type { CodedPicture, ContentPicture } from '../../../core/image/picture.ts';
import { frameUrl } from '../api/urls.ts';
import type { ComposeRequest } from './compose-request.ts';

/** Composes frames for the viewer with the same code as the final render (core/composite). */
class PreviewWorker {
  private readonly plates = new Map<string, CodedPicture>();
  private readonly contents = new Map<string, ShownContent>();

  async compose(request: ComposeRequest): Promise<ImageBitmap> {
    const plate = await this.plate(request);
    const scale = plate.width / request.plateWidth;
    const look = scaledLook(request.look, scale), pyramid = await this.content(request).at(request.frame, look);
    const finished = pyramid ? viewOf(request.view, plate, {
      contents: [{ pyramid: request.view === 'checker' || request.view === 'black' || request.view === 'white' ? plainContent(request.view) : pyramid }],
      motion: scaledMotion(request.motion, scale), ratio: request.surfaceRatio, look, frame: request.frame, reference: scaledQuad(request.reference, scale), referenceFrame: request.referenceFrame,
    }, request.quality) : plate;
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

  private content({ content, plateRate }: ComposeRequest): ShownContent {
    const key = JSON.stringify([content, plateRate]);
    let shown = this.contents.get(key);
    if (!shown) {
      const source: ContentSource = content.kind === 'test-card'
        ? { frames: 1, rate: plateRate, picture: () => Promise.resolve(testCard(1024, Math.max(16, Math.round(1024 / content.ratio)), content.card)) }
        : { frames: content.frames, rate: content.rate, picture: (index) => pixels(frameUrl(content.source, index, content.picture)) };
      shown = new ShownContent(source, plateRate, 3);
      remember(this.contents, key, shown, 3);
    }
    return shown;
  }
}

/** Corners on a plate picture that is smaller than the plate. */
function scaledQuad<Q extends Quad | null>(quad: Q, scale: number): Q {
  return quad && (quad.map(([x, y]) => [x * scale, y * scale]) as unknown as Q);
}
function scaledMotion({ before, now, after }: QuadMotion, scale: number): QuadMotion {
  return { before: scaledQuad(before, scale), now: scaledQuad(now, scale), after: scaledQuad(after, scale) };
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

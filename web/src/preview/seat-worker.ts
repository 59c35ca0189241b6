import { clamp } from '../../../core/base/geometry/clamp.ts';
import { LRUCache } from 'lru-cache';
import * as Comlink from 'comlink';
import { compose, scaling, type Homography, type Point } from '../../../core/base/geometry/homography.ts';
import { proposeCorrections, type FrameDrift, type Proposal } from '../../../core/surface/seat/drift-corrections.ts';
import { frameUrl, type PictureSource } from '../api/urls.ts';

/** A picture of a plate, in place of which a smaller one may be looked at. */
export interface SeenPlate {
  readonly source: PictureSource;
  readonly frame: number;
  readonly kind: 'jpg' | 'png';
  readonly width: number;
}

/** Pixels of a flat place of the surface, drawn from a plate through a map. */
export interface FlatRequest extends SeenPlate {
  /** Pixels of what is wanted to those of the plate. */
  readonly map: Homography;
  readonly columns: number;
  readonly rows: number;
}

export interface CropRequest {
  readonly reference: SeenPlate;
  readonly now: SeenPlate;
  /** Reference pixels to the frame's. */
  readonly map: Homography;
  readonly corners: readonly Point[];
  /** Reference pixels from the middle to the side of a crop, and its size on the page. */
  readonly half: number;
  readonly size: number;
  readonly difference: boolean;
  readonly matchLight: boolean;
}

export interface CornerCrops {
  readonly reference: ImageData;
  readonly now: ImageData;
  /** What light the frame's crop was given to be like the reference's; 1 where it was left. */
  readonly gain: number;
}

interface Pixels {
  readonly width: number;
  readonly height: number;
  readonly data: Uint8ClampedArray;
}

/** What the Seat step looks at and works out beside the composites. */
class SeatWorker {
  private readonly plates = new LRUCache<string, Promise<Pixels>>({ max: 10 });

  propose(frames: FrameDrift[], referenceFrame: number, tolerance: number): Proposal {
    return proposeCorrections(frames, referenceFrame, tolerance);
  }

  async flatten(request: FlatRequest): Promise<ImageBitmap> {
    const bitmap = await createImageBitmap(
      warped(await this.plate(request), atScale(await this.plate(request), request), request.columns, request.rows),
    );
    return Comlink.transfer(bitmap, [bitmap]);
  }

  /** Each corner on the reference and now, at the same size and the same way up. */
  async crops({
    reference,
    now,
    map,
    corners,
    half,
    size,
    difference,
    matchLight,
  }: CropRequest): Promise<CornerCrops[]> {
    const [then, here] = await Promise.all([this.plate(reference), this.plate(now)]);
    const k = (2 * half) / size;
    return corners.map(([x, y]) => {
      const toReference: Homography = [k, 0, x - half, 0, k, y - half, 0, 0, 1];
      const a = warped(then, compose(scaling(then.width / reference.width), toReference), size, size);
      const b = warped(here, compose(scaling(here.width / now.width), map, toReference), size, size);
      const gain = matchLight ? likeLight(a, b) : 1;
      if (difference) subtract(b, a);
      return { reference: a, now: b, gain };
    });
  }

  private plate({ source, frame, kind }: SeenPlate): Promise<Pixels> {
    const url = frameUrl(source, frame, kind);
    let picture = this.plates.get(url);
    if (!picture) {
      picture = pixelsOf(url);
      this.plates.set(url, picture);
      picture.catch(() => this.plates.delete(url));
    }
    return picture;
  }
}

function atScale(plate: Pixels, { map, width }: FlatRequest): Homography {
  return compose(scaling(plate.width / width), map);
}

async function pixelsOf(url: string): Promise<Pixels> {
  const response = await fetch(url);
  if (!response.ok) throw new Error(`The picture cannot be fetched (status ${response.status}).`);
  const bitmap = await createImageBitmap(await response.blob(), { colorSpaceConversion: 'none' });
  const canvas = new OffscreenCanvas(bitmap.width, bitmap.height);
  const context = canvas.getContext('2d', { willReadFrequently: true })!;
  context.drawImage(bitmap, 0, 0);
  bitmap.close();
  return context.getImageData(0, 0, canvas.width, canvas.height);
}

/** Bilinear, for the eye; neutral grey beyond the picture. */
function warped(
  { width, height, data }: Pixels,
  [a, b, c, d, e, f, g, h, i]: Homography,
  columns: number,
  rows: number,
): ImageData {
  const out = new ImageData(columns, rows);
  for (let row = 0, at = 0; row < rows; row++) {
    for (let col = 0; col < columns; col++, at += 4) {
      const u = col + 0.5;
      const v = row + 0.5;
      const w = g! * u + h! * v + i!;
      const x = (a! * u + b! * v + c!) / w - 0.5;
      const y = (d! * u + e! * v + f!) / w - 0.5;
      const ix = Math.floor(x);
      const iy = Math.floor(y);
      out.data[at + 3] = 255;
      if (!(ix >= 0 && iy >= 0 && ix < width - 1 && iy < height - 1)) {
        out.data[at] = out.data[at + 1] = out.data[at + 2] = 119;
        continue;
      }
      const fx = x - ix;
      const fy = y - iy;
      const p = (iy * width + ix) * 4;
      const q = p + 4 * width;
      for (let k = 0; k < 3; k++) {
        const top = data[p + k]! * (1 - fx) + data[p + 4 + k]! * fx;
        const bottom = data[q + k]! * (1 - fx) + data[q + 4 + k]! * fx;
        out.data[at + k] = top * (1 - fy) + bottom * fy + 0.5;
      }
    }
  }
  return out;
}

/** Brings `b` to the mean light of `a`; the gain. */
function likeLight(a: ImageData, b: ImageData): number {
  let sumA = 0;
  let sumB = 0;
  for (let i = 0; i < a.data.length; i += 4) {
    sumA += a.data[i]! + a.data[i + 1]! + a.data[i + 2]!;
    sumB += b.data[i]! + b.data[i + 1]! + b.data[i + 2]!;
  }
  const gain = clamp(sumA / Math.max(1, sumB), 0.125, 8);
  for (let i = 0; i < b.data.length; i++) if (i % 4 !== 3) b.data[i] = b.data[i]! * gain;
  return gain;
}

/** Twice the difference, about grey. */
function subtract(b: ImageData, a: ImageData): void {
  for (let i = 0; i < b.data.length; i++) if (i % 4 !== 3) b.data[i] = 127 + 2 * (b.data[i]! - a.data[i]!);
}

Comlink.expose(new SeatWorker());
export type { SeatWorker };

import type { LightPicture } from '../../base/image/picture.ts';
import { touchedPixels, type PixelBox } from '../../base/image/pixel-box.ts';
import type { ContentPyramid } from './content-pyramid.ts';
import { convolveSeparable } from '../../base/filters/gaussian.ts';
import { compositeKernels, type PinWork, type RowPlaces } from '../../base/kernels/composite-kernels.ts';
import { samplePatches, sampleSmooth } from './content-sampler.ts';
import { cornersOf, fillFlatRow, rowPlaces, surfaceRows, type SurfaceLaid } from './surface-map.ts';

/** From so many moments on, each is looked at smoothly: the smear takes care of what a closer look would tell. */
const MANY = 4;
/** A bilinear look at a picture of squares s wide spreads by s/2 (root mean square), a pixel's own area by 1/√12: looks at squares so wide stand for the pixel. */
const PIXEL = 1 / Math.sqrt(3);
/** Where in the pixel each look stands. */
const MIDDLE = 0.5;

/** An insert before it is laid over the plate: premultiplied light over `box`. */
export interface InsertLayer {
  layer: LightPicture;
  box: PixelBox;
  /** How much of each pixel the surface itself covers, its fades and what is transparent left out. */
  cover: Float32Array;
}

/** Content as it lies on a surface at several moments, and the sides of it that are seen within the surface. */
export interface LaidContent {
  readonly content: ContentPyramid;
  /** One for each moment. */
  readonly laid: readonly SurfaceLaid[];
  /** Points of the picture that the surface reaches at a moment: its corners, or those of its mesh. */
  readonly reach: (laid: SurfaceLaid) => readonly (readonly [number, number])[];
  /** Left, top, right, bottom: beyond such a side the screen's black is seen; other sides repeat their outermost pixels. */
  readonly sides: readonly boolean[];
  /** Looked at bilinearly on the nearest level, which is quicker and less even. */
  readonly quick?: boolean | undefined;
}

/**
 * Content seen at each of the moments, averaged: premultiplied light over the pixels of `box`. One to three moments are looked
 * at by patches (content-sampler.ts), more between two levels bilinearly. Edges are covered by their distance from the
 * pixel's centre. `cover` takes what the surface covers of each pixel.
 */
export function renderPin(
  { content, laid, reach, sides, quick = false }: LaidContent,
  box: PixelBox,
  cover?: Float32Array,
  kernel?: Float32Array,
): LightPicture {
  const width = box.right - box.left;
  const height = box.bottom - box.top;
  const work =
    compositeKernels()?.openPin(content, width, height, cover !== undefined) ??
    plainPin(content, width, height, cover !== undefined);
  const { places, weights, layer } = work;
  const share = 1 / laid.length;
  const many = laid.length >= MANY;
  const smooth = many || quick;
  const detail = many ? PIXEL : 1;
  const anySide = sides.some(Boolean);
  const moments = laid.flatMap((one) => {
    const rows = surfaceRows(one);
    const touched = rows && touchedPixels(reach(one), 1 + (one.outset ?? 0), box);
    return rows && touched ? [{ rows, touched, round: cornersOf(one) }] : [];
  });
  // Row by row, so that all moments look at the same part of the content while it is at hand.
  for (
    let row = Math.min(...moments.map((m) => m.touched.top)), end = Math.max(...moments.map((m) => m.touched.bottom));
    row < end;
    row++
  ) {
    for (const { rows, touched, round } of moments) {
      if (row < touched.top || row >= touched.bottom) continue;
      const count = touched.right - touched.left;
      const to = (row - box.top) * width + touched.left - box.left;
      const at = 4 * to;
      if (typeof rows === 'function') {
        rows(row, touched.left, touched.right, MIDDLE, MIDDLE, places);
        weigh(places, count, share, weights, work.cover, to);
      } else work.flatRow(rows, row, touched.left, touched.right, MIDDLE, MIDDLE, share, to);
      round?.(row, touched.left, touched.right, weights);
      if (anySide) bars(content, places, sides, count, weights, layer, at);
      if (smooth) work.smooth(count, at, detail, !quick);
      else work.patches(count, at);
    }
  }
  const done = work.finish(kernel);
  if (done.cover) cover!.set(done.cover);
  return { width, height, data: done.layer };
}

/** What a moment's share of each pixel of a row is, and what the surface covers of it. */
function weigh(
  { covered, plain }: RowPlaces,
  count: number,
  share: number,
  weights: Float32Array,
  cover: Float32Array | null,
  at: number,
): void {
  for (let i = 0; i < count; i++) weights[i] = covered[i]! * share;
  if (cover) for (let i = 0, to = at; i < count; i++, to++) cover[to]! += plain[i]! * share;
}

/** The plain loops. */
export function plainPin(content: ContentPyramid, width: number, height: number, withCover: boolean): PinWork {
  const layer = new Float32Array(4 * width * height);
  const cover = withCover ? new Float32Array(width * height) : null;
  const places = rowPlaces(width);
  const weights = new Float32Array(width);
  return {
    layer,
    cover,
    places,
    weights,
    flatRow: (map, row, from, to, dx, dy, share, at) => {
      fillFlatRow(map, row, from, to, dx, dy, places);
      weigh(places, to - from, share, weights, cover, at);
    },
    patches: (count, at) => samplePatches(content, places, weights, count, layer, at),
    smooth: (count, at, detail, between) => sampleSmooth(content, places, weights, count, detail, between, layer, at),
    finish: (kernel) =>
      kernel
        ? {
            layer: convolveSeparable(layer, width, height, 4, kernel, 'empty'),
            cover: cover && convolveSeparable(cover, width, height, 1, kernel, 'empty'),
          }
        : { layer, cover },
  };
}

/** Takes what lies beyond the content's visible sides out of the weights and fills it with the screen's black. */
function bars(
  content: ContentPyramid,
  { u, v, su, sv }: RowPlaces,
  sides: readonly boolean[],
  count: number,
  weights: Float32Array,
  out: Float32Array,
  at: number,
): void {
  for (let i = 0; i < count; i++, at += 4) {
    if (weights[i] === 0) continue;
    let inside = 1;
    if (sides[0]) inside *= ramp(u[i]! / su[i]!);
    if (sides[1]) inside *= ramp(v[i]! / sv[i]!);
    if (sides[2]) inside *= ramp((content.width - u[i]!) / su[i]!);
    if (sides[3]) inside *= ramp((content.height - v[i]!) / sv[i]!);
    if (inside === 1) continue;
    const beyond = weights[i]! * (1 - inside);
    for (let c = 0; c < 3; c++) out[at + c]! += beyond * content.black;
    out[at + 3]! += beyond;
    weights[i]! *= inside;
  }
}

function ramp(d: number): number {
  return d <= -0.5 ? 0 : d >= 0.5 ? 1 : d + 0.5;
}

/** Lays one layer of premultiplied light over another of the same size, in place. */
export function layOver(source: LightPicture, onto: LightPicture): void {
  const from = source.data;
  const to = onto.data;
  for (let i = 0; i < to.length; i += 4) {
    const alpha = from[i + 3]!;
    if (alpha === 0) continue;
    const rest = 1 - alpha;
    for (let c = 0; c < 4; c++) to[i + c] = from[i + c]! + rest * to[i + c]!;
  }
}

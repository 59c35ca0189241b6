import { clamp } from '../../base/geometry/clamp.ts';
import type { FrontSettings } from '../look/look.ts';
import type { Point } from '../../base/geometry/homography.ts';
import { convexHull } from '../../base/geometry/convex-hull.ts';
import { grownOutline } from '../../base/geometry/grow-outline.ts';
import { bounds } from '../../base/geometry/quad.ts';
import { convolveSeparable, gaussianKernel } from '../../base/filters/gaussian.ts';
import type { CodedPicture } from '../../base/image/picture.ts';
import type { PixelBox } from '../../base/image/pixel-box.ts';
import type { PlateColour } from '../../base/image/plate-colour.ts';
import type { ColourKey } from '../../base/schemas/types.ts';
import { compositeKernels } from '../../base/kernels/composite-kernels.ts';
import { borderByLuma } from './border-by-luma.ts';
import { calmExcess } from './calm-excess.ts';
import { channelsOf, excess, excessPlane, KEY_DEFAULTS, keyMatte, type KeyChannels } from './colour-key.ts';
import type { Lens } from '../../motion/lens/lens.ts';
import { coverageOf } from './coverage.ts';
import { applyShape, takeShape, type ShapeSetting } from './roto-shapes.ts';
import { grownMatte } from './grow-matte.ts';
import { boxWithin, lightOfRegion, type LightRegion } from '../../base/image/light-region.ts';
import { filledBlocks } from './coarse-fill.ts';
import { screenField } from './screen-field.ts';
import { holdToSwept, LONG, SWEPT } from './hold-to-swept.ts';
import { sweptCover } from './swept-cover.ts';
import { markerPixels } from './screen-markers.ts';
import { softEdgeAlpha } from './soft-edge-alpha.ts';

/** What stands before the surface on one frame. */
export interface FrontMatte {
  readonly box: PixelBox;
  readonly region: LightRegion;
  /** How much of each pixel stands in front, 0…1; 1 where the key does not reach. */
  readonly front: Float32Array;
  /** How much of each pixel content may take: what keys reach, or all of the box. */
  readonly limit: Float32Array;
  /** The light of the screen that is seen where nothing stands in front; null where nothing is keyed and the plate itself is it. */
  readonly screen: readonly [Float32Array, Float32Array, Float32Array] | null;
  /** Where a marker, or colour that bleeds over the border, makes the plate something else than front over screen; null where there is none. */
  readonly marked: Float32Array | null;
}

/** Where and when the front of a surface is looked for. */
export interface FrontScene extends ShapeSetting {
  /** The surface's outline on the frame, plate pixels. */
  readonly outline: readonly Point[];
  /** The same at the moments between which the shutter is open. */
  readonly smeared: readonly (readonly Point[])[];
  /** What differs from the clean surface, where that is used: 0…1 for each pixel of the box given. */
  readonly differs?: ((region: LightRegion) => Float32Array) | undefined;
  /** The plate's lens. */
  readonly lens?: Lens | undefined;
}

/** The screen's own border is not clear: so far inside, px, nothing of it is seen. */
const BORDER = 3;

/** What stands in front on a frame by keys, markers, the difference and shapes; null where the surface is not in the picture. */
export function frontOfFrame(
  plate: CodedPicture,
  colour: PlateColour,
  settings: FrontSettings,
  scene: FrontScene,
): FrontMatte | null {
  const reach = Math.max(0, ...settings.keys.map((key) => key.reach ?? KEY_DEFAULTS.reach));
  const box = boxWithin(bounds(scene.smeared.flat()), reach + 3, plate);
  if (!box) return null;
  const region = lightOfRegion(plate, box, colour);
  const inside = innerPixels(scene.outline, box);
  const marked = settings.keys.length > 0 ? markerPixels(settings.markers, scene.motion, box, scene, scene.lens) : null;
  if (marked) for (let i = 0; i < inside.length; i++) if (marked[i]! > 0) inside[i] = 0;
  const keyed = settings.keys.map((key) => keyed1(region, inside, marked, key, scene));
  const size = region.width * region.height;
  const front = keyed.length > 0 ? keyed[0]!.matte : new Float32Array(size);
  let limit = keyed[0]?.limit ?? new Float32Array(size).fill(1);
  let screen = keyed[0]?.screen ?? null;
  // Of several keys each lets the content through: what is in front is in front for all.
  for (const other of keyed.slice(1)) {
    screen = mixedScreen(screen!, front, other);
    for (let i = 0; i < size; i++) front[i]! *= other.matte[i]!;
    limit = limit.map((v, i) => Math.max(v, other.limit[i]!));
  }
  if (scene.differs) applyShape(front, scene.differs(region), 'keep');
  for (const shape of settings.shapes) takeShape(front, shape, scene, box);
  return {
    box,
    region,
    front,
    limit,
    screen,
    marked: withBorder(marked, keyed.length === 1 ? keyed[0]!.border : null),
  };
}

function withBorder(marked: Float32Array | null, border: Float32Array | null): Float32Array | null {
  return marked && border ? marked.map((v, i) => (border[i]! > 0 ? 1 : v)) : (marked ?? border);
}

/** 1 for pixels that show the surface and nothing of its border. */
export function innerPixels(outline: readonly Point[], box: PixelBox): Float32Array {
  const { data } = coverageOf([grownOutline(outline, -BORDER)], box);
  for (let i = 0; i < data.length; i++) if (data[i]! < 1) data[i] = 0;
  return data;
}

/** What surrounds a marker is grown over it from blocks of so many px. */
const BLOCK = 2;

interface Keyed1 {
  matte: Float32Array;
  /** 1 where brightness told the matte; null where it did nowhere. */
  border: Float32Array | null;
  limit: Float32Array;
  screen: readonly [Float32Array, Float32Array, Float32Array];
}

/** Where a key works: all that the outline reaches while the shutter is open, grown. */
function reachOf(outlines: readonly (readonly Point[])[], reach: number, box: PixelBox): Float32Array {
  // What a flat surface sweeps over is the hull of where it is seen.
  if (outlines.every((outline) => outline.length === 4))
    return coverageOf([grownOutline(convexHull(outlines.flat()), reach)], box).data;
  const [first, ...others] = outlines.map((outline) => coverageOf([grownOutline(outline, reach)], box).data);
  for (const other of others) for (let i = 0; i < other.length; i++) if (other[i]! > first![i]!) first![i] = other[i]!;
  return first!;
}

function keyed1(
  region: LightRegion,
  inside: Float32Array,
  marked: Float32Array | null,
  key: ColourKey,
  { outline, smeared: outlines, mostMoments }: FrontScene,
): Keyed1 {
  const { width, height, box } = region;
  const { screen, ...found } = keyedScreen(region, inside, marked, key);
  const cover = sweptCover(outlines, box, marked ? SWEPT : LONG, mostMoments);
  if (cover) holdToSwept(found.matte, marked, cover, width);
  const border = borderByLuma(found.matte, region, screen, outline, outlines, marked);
  let { matte } = found;
  matte = grownMatte(matte, width, height, key.grow ?? 0);
  if (key.blur) matte = convolveSeparable(matte, width, height, 1, gaussianKernel(key.blur), 'repeat');
  return { matte, limit: reachOf(outlines, key.reach ?? KEY_DEFAULTS.reach, box), screen, border };
}

/** What stands in front by a key alone, and the screen's light behind it. */
function keyedScreen(
  region: LightRegion,
  inside: Float32Array,
  marked: Float32Array | null,
  key: ColourKey,
): Pick<Keyed1, 'matte' | 'screen'> {
  const { planes, width, height } = region;
  const channels = channelsOf(key.colour);
  const {
    main,
    others: [a, b],
  } = channels;
  const mix = key.mix ?? KEY_DEFAULTS.mix;
  const floor = key.floor ?? KEY_DEFAULTS.floor;
  const ceiling = key.ceiling ?? KEY_DEFAULTS.ceiling;
  const denoise = key.denoise ?? 0;
  const compiled =
    denoise > 0
      ? null
      : compositeKernels()?.key({
          planes,
          width,
          height,
          inside,
          marked,
          channels: [main, a, b],
          colour: key.colour,
          told: excess(key.colour[main], key.colour[a], key.colour[b], mix),
          mix,
          floor,
          ceiling,
        });
  if (compiled) return compiled;
  // Only what the key sees is calmed: what is laid over the content keeps the plate's own grain.
  const noisy = excessPlane(region, key);
  const field = screenField(region, noisy, inside, key);
  const excesses = denoise > 0 ? calmExcess(noisy, inside, width, height, denoise) : noisy;
  const matte = softEdgeAlpha(keyMatte(excesses, field.excess, key), excesses, field.excess, floor, width, height);
  if (marked) fillMarked(matte, marked, inside, region, field.planes, channels);
  return { matte, screen: field.planes };
}

/**
 * On a marker the matte is grown over from its surroundings on the surface; its border, and what lies beyond, has no say. Where something stands beside it, how far it goes is determined by the two channels that the
 * screen and its markers have little of: from the screen's own to that of the solid parts near it.
 */
function fillMarked(
  matte: Float32Array,
  marked: Float32Array,
  inside: Float32Array,
  { planes, width, height }: LightRegion,
  screen: readonly Float32Array[],
  { others: [a, b] }: KeyChannels,
): void {
  const n = matte.length;
  const solid = new Float32Array(n);
  const both = new Float32Array(n);
  for (let i = 0; i < n; i++) {
    solid[i] = marked[i]! > 0 || matte[i]! < 0.999 ? 0 : 1;
    both[i] = planes[a][i]! + planes[b][i]!;
  }
  const [filled] = filledBlocks([matte], inside, width, height, BLOCK);
  const [front] = filledBlocks([both], solid, width, height, BLOCK);
  for (let row = 0, i = 0; row < height; row++) {
    for (let col = 0; col < width; col++, i++) {
      if (marked[i]! <= 0) continue;
      const around = filled!.at(col, row);
      const alone = screen[a]![i]! + screen[b]![i]!;
      const way = front!.at(col, row) - alone;
      matte[i] =
        around < 0.02 ? 0 : around > 0.98 ? 1 : way > 0.5 * alone ? clamp((both[i]! - alone) / way, 0, 1) : around;
    }
  }
}

/** Each key's own screen counts by how much that key sees of it. */
function mixedScreen(
  screen: readonly Float32Array[],
  front: Float32Array,
  other: Keyed1,
): [Float32Array, Float32Array, Float32Array] {
  return screen.map((plane, c) =>
    plane.map((v, i) => {
      const a = 1 - front[i]!;
      const b = 1 - other.matte[i]!;
      return a + b > 1e-6 ? (a * v + b * other.screen[c]![i]!) / (a + b) : v;
    }),
  ) as [Float32Array, Float32Array, Float32Array];
}

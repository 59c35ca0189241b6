import { grownOutline } from '../../base/geometry/grow-outline.ts';
import { bounds, distance } from '../../base/geometry/quad.ts';
import type { Point } from '../../base/geometry/homography.ts';
import { touchedPixels, type PixelBox } from '../../base/image/pixel-box.ts';
import { enlarged } from '../matte/coarse-fill.ts';
import { coverageOf, emptyMatte } from '../matte/coverage.ts';
import type { FrontScene } from '../matte/front-of-frame.ts';
import { boxWithin } from '../../base/image/light-region.ts';
import type { PictureSize } from '../pin/pinned-surface.ts';
import { shapeOnFrame, shapeOutline } from '../matte/roto-shapes.ts';
import { shapeMatte } from '../matte/shape-matte.ts';
import { SPILL_DEFAULTS } from '../matte/despill.ts';
import type { ColourKey, SpillSettings } from '../../base/schemas/types.ts';
import type { SpillWork } from './lay-spill.ts';

/** So far beyond the surface's outline, in shares of its width, is the device's own frame, whose border areas may tell. */
const NEAR = 0.015;
/** However small the surface, so many px beyond its outline its colour bleeds. */
const BLEEDS = 2.5;

/** Where spill is worked on: the surface's outline grown by the window, faded beyond; areas set amounts of their own. Null where no colour is known. */
export function spillWork(
  settings: SpillSettings,
  keys: readonly ColourKey[],
  scene: FrontScene,
  size: PictureSize,
): SpillWork | null {
  const screen = settings.colour ?? keys[0]?.colour;
  if (!screen) return null;
  const {
    outline,
    smeared,
    motion: { now },
  } = scene;
  const wide = Math.max(distance(now[0], now[1]), distance(now[3], now[2]));
  const box = boxWithin(
    bounds([
      ...smeared.flat(),
      ...(settings.areas ?? []).flatMap(({ shape }) => shapeOutline(shape, scene)?.points ?? []),
    ]),
    ((settings.window ?? SPILL_DEFAULTS.window) + (settings.falloff ?? SPILL_DEFAULTS.falloff)) * wide + 1,
    size,
  );
  if (!box) return null;
  const grown = grownOutline(outline, (settings.window ?? SPILL_DEFAULTS.window) * wide);
  const falloff = (settings.falloff ?? SPILL_DEFAULTS.falloff) * wide;
  const weight = fadedOutline(grown, falloff, box);
  const amount = settings.amount ?? SPILL_DEFAULTS.amount;
  if (amount !== 1) for (let i = 0; i < weight.length; i++) weight[i]! *= amount;
  const near = coveredIn(grownOutline(outline, Math.max(BLEEDS, NEAR * wide)), box);
  const areas = (settings.areas ?? [])
    .filter(({ shape }) => !shape.off)
    .map((area) => ({ area, covers: shapeOnFrame(area.shape, scene, box) }));
  for (const { area, covers } of areas)
    for (let i = 0; i < weight.length; i++) weight[i]! += covers[i]! * ((area.amount ?? 1) - weight[i]!);
  for (const { area, covers } of areas)
    if (area.lit) for (let i = 0; i < near.length; i++) if (covers[i]! > near[i]!) near[i] = covers[i]!;
  return {
    settings,
    screen,
    box,
    weight,
    near,
    areas: areas
      .filter(({ area }) => area.saturation !== undefined || area.hue !== undefined)
      .map(({ area, covers }) => ({ saturation: area.saturation ?? 1, hue: area.hue ?? 0, weight: covers })),
  };
}

/** What an outline covers of a much larger box. */
function coveredIn(outline: readonly Point[], box: PixelBox): Float32Array {
  const out = emptyMatte(box).data;
  const part = touchedPixels(outline, 1, box);
  if (!part) return out;
  const { data } = coverageOf([outline], part);
  const across = part.right - part.left;
  const width = box.right - box.left;
  for (let row = part.top, i = 0; row < part.bottom; row++, i += across)
    out.set(data.subarray(i, i + across), (row - box.top) * width + part.left - box.left);
  return out;
}

/** The window fades over many pixels: it is reckoned for blocks of so many. */
const BLOCK = 4;

function fadedOutline(
  outline: readonly Point[],
  falloff: number,
  { left, top, right, bottom }: PixelBox,
): Float32Array {
  const width = right - left;
  const height = bottom - top;
  const across = Math.ceil(width / BLOCK);
  const down = Math.ceil(height / BLOCK);
  const points = outline.map(([x, y]): Point => [(x - left) / BLOCK, (y - top) / BLOCK]);
  const coarse = shapeMatte(
    { points, inner: points.map(() => 0), outer: points.map(() => falloff / BLOCK) },
    { left: 0, top: 0, right: across, bottom: down },
  );
  return enlarged(coarse.data, across, down, width, height, BLOCK);
}

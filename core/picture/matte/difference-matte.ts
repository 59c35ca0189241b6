import { clamp } from '../../base/geometry/clamp.ts';
import { bounds, type Quad } from '../../base/geometry/quad.ts';
import { convolveSeparable, gaussianKernel } from '../../base/filters/gaussian.ts';
import { MAD_TO_DEVIATION, median, quantile } from '../../base/image/statistics.ts';
import type { PlateColour } from '../../base/image/plate-colour.ts';
import { placesOnSurface, surfaceFromPlace } from '../../motion/lens/lens-surface.ts';
import type { DifferenceMatte } from '../../base/schemas/types.ts';
import { grownMatte } from './grow-matte.ts';
import { boxWithin, lightOfRegion, type LightRegion } from '../../base/image/light-region.ts';
import type { FrontFrame } from './measure-front.ts';

export const DIFFERENCE_DEFAULTS = { floor: 4, ceiling: 12 } as const;

/** Squares of the flattened surface across, and most of them down. */
const ACROSS = 240;
const MOST_DOWN = 600;
/** The screen's own change is never taken for less than this, in the root of light: what a camera's noise is. */
const LEAST_SPREAD = 0.006;
/** Softer than this, px, differences are not reported: single noisy pixels are no front. */
const CALM = 0.8;

/** The surface as it is without anything in front. */
export interface Difference {
  readonly across: number;
  readonly down: number;
  /** Median root of light of each channel, and the spread of it, in the flattened surface. */
  readonly clean: readonly [Float32Array, Float32Array, Float32Array];
  readonly spread: Float32Array;
  /** What differs from it on a frame where the surface's corners are at `quad`: for regions of that frame. */
  on(quad: Quad, settings: DifferenceMatte): (region: LightRegion) => Float32Array;
}

/**
 * The clean surface as the median over frames in the flattened surface, and how much it changes there by itself. What then differs by many times
 * that stands in front. For dark screens, and any other without a colour of its own. Values are compared as roots of light, in which a
 * camera's noise is nearly the same for bright and dark.
 */
export function differenceOf(frames: readonly FrontFrame[], ratio: number, colour: PlateColour): Difference {
  const down = clamp(Math.round(ACROSS / ratio), 8, MOST_DOWN);
  const n = ACROSS * down;
  const flat = frames.map((frame) => flattenedRoots(frame, ACROSS, down, colour));
  const clean = [new Float32Array(n), new Float32Array(n), new Float32Array(n)] as const;
  const spread = new Float32Array(n);
  for (let i = 0; i < n; i++) {
    let most = LEAST_SPREAD;
    for (let c = 0; c < 3; c++) {
      const values = flat.map((f) => f[c]![i]!).filter((v) => v >= 0);
      if (values.length === 0) continue;
      clean[c]![i] = median(values);
      most = Math.max(most, MAD_TO_DEVIATION * median(values.map((v) => Math.abs(v - clean[c]![i]!))));
    }
    spread[i] = most;
  }
  // A place that was covered on half of the frames would excuse anything there: no more than is usual over the surface.
  const usual = 2 * quantile(spread, 0.5);
  for (let i = 0; i < n; i++) spread[i] = Math.min(spread[i]!, usual);
  return {
    across: ACROSS,
    down,
    clean,
    spread,
    on: (quad, settings) => (region) =>
      differing(region, surfaceFromPlace(quad, frames[0]?.lens), settings, { across: ACROSS, down, clean, spread }),
  };
}

function flattenedRoots(
  { picture, quad, lens }: FrontFrame,
  across: number,
  down: number,
  colour: PlateColour,
): Float32Array[] {
  const out = [0, 1, 2].map(() => new Float32Array(across * down).fill(-1));
  const box = boxWithin(bounds(quad), 2, picture);
  const place = placesOnSurface(quad, lens);
  if (!box || !place) return out;
  const { planes, width, height } = lightOfRegion(picture, box, colour);
  for (let row = 0; row < down; row++) {
    for (let col = 0; col < across; col++) {
      const [x, y] = place((col + 0.5) / across, (row + 0.5) / down);
      const px = x - 0.5 - box.left;
      const py = y - 0.5 - box.top;
      const ix = Math.floor(px);
      const iy = Math.floor(py);
      if (ix < 0 || iy < 0 || ix >= width - 1 || iy >= height - 1) continue;
      const fx = px - ix;
      const fy = py - iy;
      const a = iy * width + ix;
      for (let c = 0; c < 3; c++) {
        const p = planes[c]!;
        out[c]![row * across + col] = Math.sqrt(
          Math.max(
            0,
            (1 - fy) * ((1 - fx) * p[a]! + fx * p[a + 1]!) + fy * ((1 - fx) * p[a + width]! + fx * p[a + width + 1]!),
          ),
        );
      }
    }
  }
  return out;
}

function differing(
  region: LightRegion,
  toSurface: ReturnType<typeof surfaceFromPlace>,
  { floor = DIFFERENCE_DEFAULTS.floor, ceiling = DIFFERENCE_DEFAULTS.ceiling, grow = 0, blur = 0 }: DifferenceMatte,
  { across, down, clean, spread }: Omit<Difference, 'on'>,
): Float32Array {
  const { box, width, height, planes } = region;
  const out = new Float32Array(width * height);
  if (!toSurface) return out;
  const calm = planes.map((plane) => convolveSeparable(plane, width, height, 1, gaussianKernel(CALM), 'repeat'));
  const reach = Math.max(1e-3, ceiling - floor);
  for (let row = 0, at = 0; row < height; row++) {
    for (let col = 0; col < width; col++, at++) {
      const [u, v] = toSurface([box.left + col + 0.5, box.top + row + 0.5]);
      const px = u * across - 0.5;
      const py = v * down - 0.5;
      // Beyond the surface nothing of it can differ.
      if (!(u >= 0 && v >= 0 && u <= 1 && v <= 1)) continue;
      const x = clamp(px, 0, across - 1.001);
      const y = clamp(py, 0, down - 1.001);
      const ix = x | 0;
      const iy = y | 0;
      const fx = x - ix;
      const fy = y - iy;
      const a = iy * across + ix;
      const look = (p: Float32Array) =>
        (1 - fy) * ((1 - fx) * p[a]! + fx * p[a + 1]!) + fy * ((1 - fx) * p[a + across]! + fx * p[a + across + 1]!);
      let most = 0;
      for (let c = 0; c < 3; c++)
        most = Math.max(most, Math.abs(Math.sqrt(Math.max(0, calm[c]![at]!)) - look(clean[c]!)));
      const share = (most / look(spread) - floor) / reach;
      out[at] = share <= 0 ? 0 : share >= 1 ? 1 : share;
    }
  }
  const grown = grownMatte(out, width, height, grow);
  return blur ? convolveSeparable(grown, width, height, 1, gaussianKernel(blur), 'repeat') : grown;
}

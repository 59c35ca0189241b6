import { dampedLeastSquares } from '../../base/geometry/damped-least-squares.ts';
import type { Point } from '../../base/geometry/homography.ts';
import type { CodedPicture } from '../../base/image/picture.ts';
import { sameShape } from '../../base/image/same-shape.ts';
import { Problem } from '../../base/problem/problem.ts';
import { bend, straighten, type Lens } from './lens.ts';

/** What a map does to a picture: for each pixel of the straight picture it tells a place of the filmed one ('out': the lens is taken out), or the other way round ('in'). */
export type MapDirection = 'out' | 'in';

/** A picture whose first two channels are places: s across from 0 to 1, t down (or up), from edge to edge of the other picture, at pixel middles. */
export interface LensMap {
  readonly width: number;
  readonly height: number;
  readonly s: ArrayLike<number>;
  readonly t: ArrayLike<number>;
}

export interface MapFit {
  readonly lens: Lens;
  /** Between the map and what the lens makes of it, px of the plate: root mean square, and the most. */
  readonly rms: number;
  readonly worst: number;
  /** Which way t grows in it. */
  readonly y: 'down' | 'up';
  /** The other direction, where that explains the map much better. */
  readonly betterAs: MapDirection | null;
}

type Size = Readonly<Record<'width' | 'height', number>>;
/** The map is looked at on so many places across and down. */
const ACROSS = 48;
const DOWN = 28;
const FEWEST = 40;
const COMMON_FOCAL = 1.1;
/** Off by less than this, px, a map is not doubted; the other direction is doubted where it is off by less than this share. */
const PLAIN = 0.05;
const MUCH_BETTER = 0.2;

/**
 * The radial lens that a map is of. Where the straight picture lies, and its scale, are free: a map may have been made so that nothing is cut off. The map may be of another size than the plate, but
 * not of another shape. @throws Problem lens-map-shape, lens-map-none
 */
export function lensFromMap(map: LensMap, plate: Size, direction: MapDirection): MapFit {
  if (!sameShape(map, plate))
    throw new Problem('lens-map-shape', {
      size: `${map.width}×${map.height}`,
      plate: `${plate.width}×${plate.height}`,
    });
  const fit = fitMap(map, plate, direction);
  const other: MapDirection = direction === 'out' ? 'in' : 'out';
  if (!(fit.worst < 0.05 * plate.width))
    throw new Problem('lens-map-none', {
      why: `no lens explains it: places are up to ${Math.round(fit.worst)} px off; is it an ST map, red across and green down?`,
    });
  return {
    ...fit,
    betterAs: fit.worst > PLAIN && fitMap(map, plate, other).worst < MUCH_BETTER * fit.worst ? other : null,
  };
}

function fitMap(map: LensMap, plate: Size, direction: MapDirection): Omit<MapFit, 'betterAs'> {
  const y = growsUp(map) ? 'up' : 'down';
  const pairs = pairsOf(map, plate, direction, y);
  const { width, height } = plate;
  const focal = COMMON_FOCAL * width;
  if (pairs.length < FEWEST)
    throw new Problem('lens-map-none', { why: 'hardly any of its pixels tells a place in the other picture' });
  // Unknowns: the lens's middle and the straight picture's own (both in widths, from the middle), logarithm of its scale, k1, k2, k3.
  const lensAt = (u: readonly number[]): Lens => ({
    focal,
    centre: [width / 2 + width * u[0]!, height / 2 + width * u[1]!],
    k1: u[5]!,
    k2: u[6]!,
    k3: u[7]!,
  });
  const residuals = (u: readonly number[]) => {
    const lens = lensAt(u);
    const scale = Math.exp(u[4]!);
    const x0 = width / 2 + width * u[2]!;
    const y0 = height / 2 + width * u[3]!;
    return Float64Array.from(
      pairs.flatMap(({ straight, filmed }) => {
        const [x, at] = bend(lens, [
          lens.centre[0] + scale * (straight[0] - x0),
          lens.centre[1] + scale * (straight[1] - y0),
        ]);
        return [x - filmed[0], at - filmed[1]];
      }),
    );
  };
  const { unknowns, residuals: left } = dampedLeastSquares(residuals, [0, 0, 0, 0, 0, 0, 0, 0]);
  const off = pairs.map((_, i) => Math.hypot(left[2 * i]!, left[2 * i + 1]!));
  const lens = lensAt(unknowns);
  const worst = Math.max(...off);
  return { lens, rms: Math.sqrt(off.reduce((sum, d) => sum + d * d, 0) / off.length), worst, y };
}

/** What a picture tells as a map: red is s, green t. @throws Problem lens-map-none where it has 8 bits only */
export function mapOfPicture({ width, height, data, peak }: CodedPicture): LensMap {
  if (peak === 255) throw new Problem('lens-map-none', { why: 'it has 8 bits only, which tell places to some pixels' });
  const s = new Float32Array(width * height);
  const t = s.slice();
  for (let i = 0; i < s.length; i++) {
    s[i] = data[3 * i]! / peak;
    t[i] = data[3 * i + 1]! / peak;
  }
  return { width, height, s, t };
}

/** The map of a lens: what `lensFromMap` reads, the straight picture as large as the filmed one about the lens's middle. */
export function mapOfLens(
  lens: Lens,
  { width, height }: Size,
  direction: MapDirection,
): { width: number; height: number; s: Float32Array; t: Float32Array } {
  const s = new Float32Array(width * height);
  const t = s.slice();
  for (let j = 0, i = 0; j < height; j++) {
    for (let k = 0; k < width; k++, i++) {
      const [x, y] = direction === 'out' ? bend(lens, [k + 0.5, j + 0.5]) : straighten(lens, [k + 0.5, j + 0.5]);
      s[i] = x / width;
      t[i] = y / height;
    }
  }
  return { width, height, s, t };
}

function pairsOf(
  map: LensMap,
  plate: Size,
  direction: MapDirection,
  y: 'down' | 'up',
): { straight: Point; filmed: Point }[] {
  const out: { straight: Point; filmed: Point }[] = [];
  for (let j = 0; j < DOWN; j++) {
    for (let i = 0; i < ACROSS; i++) {
      const col = Math.min(map.width - 1, Math.floor(((i + 0.5) * map.width) / ACROSS));
      const row = Math.min(map.height - 1, Math.floor(((j + 0.5) * map.height) / DOWN));
      const k = row * map.width + col;
      const s = map.s[k]!;
      const t = map.t[k]!;
      // Beyond the other picture's border a map may hold anything.
      if (!(s >= 0 && s <= 1 && t >= 0 && t <= 1) || (s === 0 && t === 0)) continue;
      const here: Point = [((col + 0.5) * plate.width) / map.width, ((row + 0.5) * plate.height) / map.height];
      const there: Point = [s * plate.width, (y === 'up' ? 1 - t : t) * plate.height];
      out.push(direction === 'out' ? { straight: here, filmed: there } : { straight: there, filmed: here });
    }
  }
  return out;
}

function growsUp({ width, height, t }: LensMap): boolean {
  const column = Math.floor(width / 2);
  const at = (share: number) => t[Math.floor(share * height) * width + column]!;
  return at(0.7) < at(0.3);
}

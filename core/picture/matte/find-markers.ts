import { clamp } from '../../base/geometry/clamp.ts';
import type { Quad } from '../../base/geometry/quad.ts';
import { median } from '../../base/image/statistics.ts';
import type { Lens } from '../../motion/lens/lens.ts';
import { placesOnSurface } from '../../motion/lens/lens-surface.ts';
import type { ScreenMarkers } from '../../base/schemas/types.ts';
import type { LightRegion } from '../../base/image/light-region.ts';

/** How much stands in front on a frame by the key alone, and where the surface lies in that region's picture. */
export interface MatteSample {
  readonly region: Pick<LightRegion, 'box' | 'width' | 'height'>;
  readonly matte: Float32Array;
  readonly quad: Quad;
  readonly lens?: Lens | undefined;
}

/** Squares of the flattened surface across; down as many as its proportions give. */
const ACROSS = 180;
/** A mark is what the key takes for front in so much of each square, on more than half of the frames. */
const MARKED = 0.25;
/** Larger parts of the surface are no marks, nor what reaches its border within so many squares. */
const LARGEST = 0.04;
const RIM = 2;
const MOST = 200;
/** Places that are seen free on fewer frames tell nothing. */
const FEWEST = 3;

/**
 * Marks on the screen: what differs from its colour at the same place of the surface on most frames that show it, is small, and does not reach the border (a
 * thumb that holds the device does; what is beneath it is not shown). `ratio` is the surface's width over height.
 */
export function findMarkers(samples: readonly MatteSample[], ratio: number): ScreenMarkers {
  if (samples.length < 3) return [];
  const down = clamp(Math.round(ACROSS / ratio), 8, 600);
  const flat = samples.map((sample) => flattened(sample, ACROSS, down));
  const often = new Float32Array(ACROSS * down);
  for (const one of flat) withoutCovers(one, ACROSS, down);
  for (let i = 0; i < often.length; i++) {
    const told = flat.map((f) => f[i]!).filter((v) => v >= 0);
    often[i] = told.length < FEWEST ? 0 : median(told);
  }
  return marks(often, ACROSS, down);
}

/** The matte over the surface's squares; −1 where it is not seen. */
function flattened(
  { region: { box, width, height }, matte, quad, lens }: MatteSample,
  across: number,
  down: number,
): Float32Array {
  const place = placesOnSurface(quad, lens);
  const out = new Float32Array(across * down).fill(-1);
  if (!place) return out;
  for (let row = 0; row < down; row++) {
    for (let col = 0; col < across; col++) {
      const [x, y] = place((col + 0.5) / across, (row + 0.5) / down);
      const px = Math.round(x - 0.5) - box.left;
      const py = Math.round(y - 0.5) - box.top;
      if (px >= 0 && py >= 0 && px < width && py < height) out[row * across + col] = matte[py * width + px]!;
    }
  }
  return out;
}

/** What hides the screen on a frame is no mark, and hides those beneath it: there the frame has no say. In place. */
function withoutCovers(matte: Float32Array, across: number, down: number): void {
  for (const part of partsOf(matte, across, down))
    if (!part.inner || part.squares.length >= LARGEST * matte.length) for (const at of part.squares) matte[at] = -1;
}

function marks(often: Float32Array, across: number, down: number): ScreenMarkers {
  return partsOf(often, across, down)
    .filter(({ inner, squares }) => inner && squares.length > 3 && squares.length < LARGEST * often.length)
    .slice(0, MOST)
    .map(
      ({ left, top, right, bottom }) =>
        [
          (left + right) / 2 / across,
          (top + bottom) / 2 / down,
          (right - left + 1) / 2 / across,
          (bottom - top + 1) / 2 / down,
        ].map((v) => Number(v.toFixed(4))) as ScreenMarkers[number],
    );
}

interface Part {
  readonly left: number;
  readonly top: number;
  readonly right: number;
  readonly bottom: number;
  readonly squares: readonly number[];
  /** Whether it stays off the surface's border. */
  readonly inner: boolean;
}

/** Connected parts of what is marked. */
function partsOf(values: Float32Array, across: number, down: number): Part[] {
  const seen = new Uint8Array(values.length);
  const out: Part[] = [];
  for (let start = 0; start < values.length; start++) {
    if (seen[start] === 1 || !(values[start]! > MARKED)) continue;
    let left = across;
    let right = 0;
    let top = down;
    let bottom = 0;
    const squares: number[] = [];
    const open = [start];
    seen[start] = 1;
    for (let at = open.pop(); at !== undefined; at = open.pop()) {
      const col = at % across;
      const row = Math.floor(at / across);
      left = Math.min(left, col);
      right = Math.max(right, col + 1);
      top = Math.min(top, row);
      bottom = Math.max(bottom, row + 1);
      squares.push(at);
      for (const [next, there] of [
        [at - 1, col > 0],
        [at + 1, col < across - 1],
        [at - across, row > 0],
        [at + across, row < down - 1],
      ] as const) {
        if (!there || seen[next] === 1 || !(values[next]! > MARKED)) continue;
        seen[next] = 1;
        open.push(next);
      }
    }
    out.push({
      left,
      top,
      right,
      bottom,
      squares,
      inner: left >= RIM && top >= RIM && right <= across - RIM && bottom <= down - RIM,
    });
  }
  return out;
}

import type { Point } from '../../base/geometry/homography.ts';
import { lightReader, type PlateColour } from '../../base/image/plate-colour.ts';
import { median } from '../../base/image/statistics.ts';
import type { FixOnFrame } from './fix-on-frame.ts';
import { eachOfHole, FEWEST_AROUND, holeOf, type Hole } from './hole.ts';
import { fromSurroundings } from './rim-means.ts';
import type { UsualSurface } from '../pin/surface-frames.ts';

/** One plane for each channel. */
export type Planes = readonly [Float32Array, Float32Array, Float32Array];
export const planesOf = (n: number): Planes => [new Float32Array(n), new Float32Array(n), new Float32Array(n)];

/** What a mark takes from the light of a surface, in linear light of the plate's primaries, in a box of the flat surface; 0 where the mark does not reach. */
export interface MarkLight {
  readonly hole: Hole;
  readonly planes: Planes;
}

/** Fewer frames than this tell nothing. */
const FEWEST_FRAMES = 3;
/**
 * Outlines are taken in steps of the surface's size: one that rides is placed anew on every frame, a little differently, and is the same mark all the same, whichever frame comes first. What is
 * found is measured to five places, so steps end between those.
 */
const STEP = 1e-4;
const stepped = (share: number) => STEP * Math.floor(share / STEP + 0.3333);
const KEPT = 512;
const kept = new WeakMap<UsualSurface, Map<string, MarkLight | null>>();

/**
 * What each mark under glass takes from the surface's light: on each frame the difference from what surrounds it, and of each place the median over the frames. What is mirrored in
 * the glass adds to both alike; where its edge runs behind a mark the surroundings do not tell it, but on another place on each frame. Null for fixes of other kinds, and where too few frames
 * show what surrounds a mark. Outlines in shares of the surface as it is laid flat.
 */
export function markLights(
  usual: UsualSurface,
  given: readonly FixOnFrame[],
  colour: PlateColour,
): (MarkLight | null)[] {
  const fixes = given.map((fix) => ({ ...fix, outline: fix.outline.map(([u, v]): Point => [stepped(u), stepped(v)]) }));
  const { width, height } = usual.picture;
  const holes = fixes.map((fix) =>
    holeOf({ ...fix, opacity: 1 }, [[width, 0, 0, 0, height, 0, 0, 0, 1]], usual.picture),
  );
  const known = kept.get(usual) ?? new Map<string, MarkLight | null>();
  kept.set(usual, known);
  return fixes.map(({ method, outline, soft }, i) => {
    const hole = holes[i];
    if (method !== 'glass' || !hole) return null;
    const beside = holes.map((other, k) => (other && overlap(hole, other) ? k : -1)).filter((k) => k >= 0);
    const key = JSON.stringify([
      colour.transfer,
      outline,
      soft,
      beside.filter((k) => k !== i).map((k) => [fixes[k]!.outline, fixes[k]!.soft]),
    ]);
    let told = known.get(key);
    if (told === undefined) {
      told = markLight(
        usual,
        hole,
        beside.map((k) => holes[k]!),
        colour,
      );
      if (known.size >= KEPT) known.clear();
      known.set(key, told);
    }
    return told;
  });
}

const overlap = (a: Hole, b: Hole) =>
  a.left < b.left + b.width && b.left < a.left + a.width && a.top < b.top + b.height && b.top < a.top + a.height;

function markLight(
  { picture: { width, peak }, frames }: UsualSurface,
  hole: Hole,
  holes: readonly Hole[],
  { transfer }: PlateColour,
): MarkLight | null {
  const read = lightReader(transfer, peak);
  const n = hole.width * hole.height;
  const free = new Uint8Array(n).fill(1);
  const known = new Uint8Array(n);
  const light = new Float32Array(n);
  const planes = planesOf(n);
  const inside: number[] = [];
  for (const other of holes)
    eachOfHole(other, width, (i, at) => {
      const row = Math.floor(at / width) - hole.top;
      const col = (at % width) - hole.left;
      if (other.reach[i] === 1 && row >= 0 && col >= 0 && row < hole.height && col < hole.width)
        free[row * hole.width + col] = 0;
    });
  for (let i = 0; i < n; i++) if (hole.reach[i] === 1) inside.push(i);
  const off: { seen: Uint8Array; values: Planes }[] = [];
  for (const { picture, seen } of frames) {
    const shown = new Uint8Array(n);
    eachOfHole(hole, width, (i, at) => {
      shown[i] = seen[at]!;
      known[i] = free[i]! & seen[at]!;
    });
    if (known.reduce((sum, k) => sum + k, 0) < FEWEST_AROUND) continue;
    const values = planesOf(n);
    for (let c = 0; c < 3; c++) {
      eachOfHole(hole, width, (i, at) => {
        light[i] = read(picture.data[3 * at + c]!);
      });
      const filled = fromSurroundings(light, known, hole.width, hole.height);
      for (const i of inside) values[c]![i] = filled[i]! - light[i]!;
    }
    off.push({ seen: shown, values });
  }
  if (off.length < FEWEST_FRAMES) return null;
  for (const i of inside) {
    const there = off.filter(({ seen }) => seen[i] === 1);
    if (there.length > 0) for (let c = 0; c < 3; c++) planes[c]![i] = median(there.map(({ values }) => values[c]![i]!));
  }
  return { hole, planes };
}

import type { Point } from '../../base/geometry/homography.ts';
import { distance, type Quad } from '../../base/geometry/quad.ts';
import { sampleLight, type LightPicture } from '../../base/image/light-sampler.ts';

/** Places along a side at which its border is looked for, of its length; near the corners it is round. */
const PLACES = 41;
const FROM = 0.06;
const TO = 0.94;
/** A border is looked for so far from the straight line between the corners, px, and more on a long side, which may be bent more. */
const REACH = 7;
const BENT = 0.03;
/** From one place to the next it goes on within so many px. */
const ON = 1.6;
/** Light is averaged along the side over so many px, and its change is taken over so many across. */
const ALONG = 3;
const ACROSS = 1.5;
const STEP = 0.5;
/** A change of light (of white) under this is no border; a place whose change is less than this of the side's middle one belongs to something else. */
const LEAST = 0.012;
const ALIKE = 0.35;
/** Sides with fewer places than this tell nothing. */
const FEWEST = 16;

/**
 * Points along the borders of a surface: for each of its four sides that can be seen, the places of one and the same change of light beside the straight line between its corners, from the middle outwards. They
 * need not lie on a line: a lens bends it. Corners in px of the picture, as filmed, may be off by a few px.
 */
export function borderLines(picture: LightPicture, quad: Quad): Point[][] {
  return quad.flatMap((from, k) => {
    const line = borderLine(picture, from, quad[(k + 1) % 4]!);
    return line.length >= FEWEST ? [line] : [];
  });
}

interface Change {
  readonly at: number;
  readonly size: number;
}

function borderLine(picture: LightPicture, from: Point, to: Point): Point[] {
  const length = distance(from, to);
  const tx = (to[0] - from[0]) / length;
  const ty = (to[1] - from[1]) / length;
  const reach = REACH + BENT * length;
  if (!(length > 40)) return [];
  const place = (i: number): Point => {
    const t = FROM + ((TO - FROM) * i) / (PLACES - 1);
    return [from[0] + t * (to[0] - from[0]), from[1] + t * (to[1] - from[1])];
  };
  const changes = Array.from({ length: PLACES }, (_, i) => changesAcross(picture, place(i), tx, ty, reach));
  const middle = PLACES >> 1;
  // Every change near the middle may be the border: the one that goes on the farthest is.
  const starts = changes[middle]!.map((start) => trace(changes, middle, start)).sort((a, b) => score(b) - score(a));
  return (starts[0] ?? []).flatMap((change, i): Point[] => {
    if (!change) return [];
    const [x, y] = place(i);
    return [[x - ty * change.at, y + tx * change.at]];
  });
}

/** Places where light changes most across a side: how far off the side, to its right, and by how much. */
function changesAcross(picture: LightPicture, [x, y]: Point, tx: number, ty: number, reach: number): Change[] {
  const count = Math.round((2 * reach) / STEP) + 1;
  const slope = new Float64Array(count);
  const light = (d: number) => {
    let sum = 0;
    for (let a = -ALONG; a <= ALONG; a++) sum += sampleLight(picture, x + a * tx - d * ty, y + a * ty + d * tx);
    return sum / (2 * ALONG + 1);
  };
  for (let i = 0; i < count; i++)
    slope[i] = light(-reach + i * STEP + ACROSS / 2) - light(-reach + i * STEP - ACROSS / 2);
  const out: Change[] = [];
  for (let i = 1; i < count - 1; i++) {
    const size = Math.abs(slope[i]!);
    const before = Math.abs(slope[i - 1]!);
    const after = Math.abs(slope[i + 1]!);
    if (!(size >= LEAST && size >= before && size > after) || Math.sign(slope[i - 1]!) !== Math.sign(slope[i + 1]!))
      continue;
    // The peak of the parabola through three.
    const bend = before - 2 * size + after;
    out.push({ at: -reach + (i + (bend < 0 ? (0.5 * (before - after)) / bend : 0)) * STEP, size: slope[i]! });
  }
  return out;
}

/** The change that goes on from a start to both sides, of one sign and about one size; null where it is covered. */
function trace(changes: readonly (readonly Change[])[], middle: number, start: Change): (Change | null)[] {
  const out: (Change | null)[] = changes.map(() => null);
  out[middle] = start;
  for (const way of [-1, 1]) {
    let last: { i: number; at: number } = { i: middle, at: start.at };
    let slope = 0;
    for (let i = middle + way; i >= 0 && i < changes.length; i += way) {
      const away = Math.abs(i - last.i);
      const expected = last.at + slope * away;
      const next = changes[i]!.filter(
        ({ at, size }) =>
          Math.abs(at - expected) < ON * Math.min(3, away) &&
          Math.sign(size) === Math.sign(start.size) &&
          Math.abs(size) > ALIKE * Math.abs(start.size),
      ).sort((a, b) => Math.abs(a.at - expected) - Math.abs(b.at - expected))[0];
      if (!next) continue;
      out[i] = next;
      slope = 0.5 * slope + 0.5 * ((next.at - last.at) / away);
      last = { i, at: next.at };
    }
  }
  return out;
}

/** How much of a side a trace holds, and how clearly. */
const score = (line: readonly (Change | null)[]) =>
  line.reduce((sum, change) => sum + (change ? Math.sqrt(Math.abs(change.size)) : 0), 0);

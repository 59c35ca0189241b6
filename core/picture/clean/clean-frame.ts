import { clamp } from '../../base/geometry/clamp.ts';
import { applyToPoint, invert, type Homography, type Point } from '../../base/geometry/homography.ts';
import type { CodedPicture } from '../../base/image/picture.ts';
import type { PlateColour } from '../../base/image/plate-colour.ts';
import type { FixOnFrame } from './fix-on-frame.ts';
import { harmonicFill } from './harmonic-fill.ts';
import { COVERED, eachOfHole, FEWEST_AROUND, holeOf, type Hole } from './hole.ts';
import { fillUnderGlass } from './under-glass.ts';
import { rimMeans } from './rim-means.ts';
import { addCodes } from './sample-codes.ts';
import type { UsualSurface } from '../pin/surface-frames.ts';

export interface FrameToClean {
  /** The surface's unit square to the picture at moments over the shutter, the middle one in the middle. */
  readonly maps: readonly Homography[];
  /** How much of each pixel of the picture is in front of the surface, 0…1; null where nothing is. */
  readonly front: Float32Array | null;
  /** Whether the plate's own grain is laid over what is filled. */
  readonly grain: boolean;
  /** The surface over the shot, laid flat, in the plate's codes; where fixes are filled from other frames, or lie under glass. */
  readonly usual?: UsualSurface | undefined;
  /** From a place of the picture to the surface's shares at the same moments, where a lens bends the picture; the maps' inverses unless given. */
  readonly froms?: readonly ((at: Point) => Point)[] | undefined;
  /** What the plate's codes mean. */
  readonly colour: PlateColour;
}

export interface Cleaned {
  readonly picture: CodedPicture;
  /** Fixes, by their place in the list, that are seen on this frame and nothing around them is, so that they were left as they are. */
  readonly left: readonly number[];
}

/**
 * A frame with what is under the fixes made up from its own surroundings, so that their light, and its change, is that of the frame; what stands in front
 * stays. Source: P. Pérez, M. Gangnet, A. Blake, Poisson image editing, SIGGRAPH 2003: a membrane between the rim of the hole, or between the rim's
 * difference from a patch of elsewhere.
 */
export function cleanFrame(
  plate: CodedPicture,
  fixes: readonly FixOnFrame[],
  { maps, front, grain, usual, colour, froms = maps.flatMap((map) => fromOf(map)) }: FrameToClean,
): Cleaned {
  const out: CodedPicture = { ...plate, data: plate.data.slice() };
  const left: number[] = [];
  const hidden = new Uint8Array(plate.width * plate.height);
  const now = maps[maps.length >> 1]!;
  const back = invert(now);
  const holes = fixes.map((fix) => holeOf(fix, maps, plate));
  // Neither a fix nor anything in front tells of what surrounds another.
  for (const hole of holes)
    if (hole)
      eachOfHole(hole, plate.width, (i, at) => {
        if (hole.reach[i] === 1) hidden[at] = 1;
      });
  if (front) for (let i = 0; i < hidden.length; i++) if (front[i]! > COVERED) hidden[i] = 1;
  const filled =
    usual && froms.length > 0 && fixes.some(({ method }) => method === 'glass')
      ? fillUnderGlass(plate, out, fixes, holes, { usual, now, froms, colour, hidden, front })
      : null;
  fixes.forEach((fix, i) => {
    const hole = holes[i];
    if (
      hole &&
      !filled?.has(i) &&
      !(back && fillHole(plate, out, fix, hole, hidden, { now, back, froms, usual: usual?.picture }, front, grain))
    )
      left.push(i);
  });
  return { picture: out, left };
}

/** From the picture to the surface; none where it is seen edge on. */
function fromOf(map: Homography): ((at: Point) => Point)[] {
  const back = invert(map);
  return back ? [(at) => applyToPoint(back, at)] : [];
}

interface Laying {
  readonly now: Homography;
  readonly back: Homography;
  readonly froms: readonly ((at: Point) => Point)[];
  readonly usual: CodedPicture | undefined;
}

function fillHole(
  plate: CodedPicture,
  out: CodedPicture,
  fix: FixOnFrame,
  hole: Hole,
  hidden: Uint8Array,
  laying: Laying,
  front: Float32Array | null,
  grain: boolean,
): boolean {
  const { left, top, width: w, height: h, alpha } = hole;
  const { width, data, peak } = plate;
  const known = new Uint8Array(w * h);
  let there = 0;
  eachOfHole(hole, width, (i, at) => {
    known[i] = 1 - hidden[at]!;
    there += known[i];
  });
  if (there < FEWEST_AROUND) return !isSeen(hole, front, width);
  const { method, from: elsewhere } = fix;
  const clones = method === 'clone';
  const patch =
    (method === 'patch' || clones) && elsewhere
      ? patchOf(plate, hole, elsewhere, laying)
      : method === 'frames' && laying.usual
        ? usualOf(laying.usual, hole, laying)
        : null;
  const shift = grain && (!patch || method === 'frames') ? cleanShift(hole, known) : null;
  const plane = new Float32Array(w * h);
  for (let c = 0; c < 3; c++) {
    for (let row = 0, i = 0; row < h; row++)
      for (let col = 0; col < w; col++, i++)
        plane[i] = data[((top + row) * width + left + col) * 3 + c]! - (patch ? patch[3 * i + c]! : 0);
    const smooth = rimMeans(plane, known, w, h);
    const filled = clones ? new Float32Array(w * h) : smooth.slice();
    if (!clones) harmonicFill(filled, known, w, h);
    for (let row = 0, i = 0; row < h; row++)
      for (let col = 0; col < w; col++, i++) {
        const at = (top + row) * width + left + col;
        const share = alpha[i]! * (1 - (front?.[at] ?? 0));
        if (share <= 0) continue;
        const from = shift === null ? -1 : i + shift;
        const value =
          filled[i]! +
          (patch ? patch[3 * i + c]! : 0) +
          (from >= 0 && from < plane.length && known[from] === 1 ? plane[from]! - smooth[from]! : 0);
        const before = out.data[at * 3 + c]!;
        const mixed = before + share * (value - before);
        out.data[at * 3 + c] = peak === 1 ? mixed : clamp(Math.round(mixed), 0, peak);
      }
  }
  return true;
}

/** What is in front of all of a fix but this share of a pixel hides it: then nothing is amiss. */
const GLIMPSE = 0.1;

function isSeen(hole: Hole, front: Float32Array | null, width: number): boolean {
  let most = 0;
  eachOfHole(hole, width, (i, at) => {
    most = Math.max(most, hole.alpha[i]! * (1 - (front?.[at] ?? 0)));
  });
  return most > GLIMPSE;
}

/** Another place of the surface, as it is seen on the same frame, for each pixel of a hole's box: three codes each. */
function patchOf(
  plate: CodedPicture,
  { left, top, width: w, height: h }: Hole,
  [du, dv]: Point,
  { now, back }: Laying,
): Float32Array {
  const out = new Float32Array(3 * w * h);
  for (let row = 0, i = 0; row < h; row++)
    for (let col = 0; col < w; col++, i++) {
      const [u, v] = applyToPoint(back, [left + col + 0.5, top + row + 0.5]);
      const [x, y] = applyToPoint(now, [u + du, v + dv]);
      addCodes(plate, x, y, out, 3 * i);
    }
  return out;
}

/** The surface as most frames show it, for each pixel of a hole's box, smeared as it moves while the shutter is open. */
function usualOf(usual: CodedPicture, { left, top, width: w, height: h }: Hole, { froms }: Laying): Float32Array {
  const out = new Float32Array(3 * w * h);
  for (const from of froms)
    for (let row = 0, i = 0; row < h; row++)
      for (let col = 0; col < w; col++, i++) {
        const [u, v] = from([left + col + 0.5, top + row + 0.5]);
        addCodes(usual, u * usual.width, v * usual.height, out, 3 * i, 1 / froms.length);
      }
  return out;
}

/** A shift (in places of the box) after which most of what is made up lies on what is known: its grain is taken from there. Null where there is none. */
function cleanShift({ width: w, height: h, reach }: Hole, known: Uint8Array): number | null {
  let best: number | null = null;
  let most = 0.3;
  const asked: [number, number][] = [];
  for (const d of [0.35, 0.5, 0.7])
    for (const [x, y] of [
      [1, 0],
      [-1, 0],
      [0, 1],
      [0, -1],
      [1, 1],
      [-1, 1],
      [1, -1],
      [-1, -1],
    ] as const)
      asked.push([Math.round(x * d * w), Math.round(y * d * h)]);
  for (const [dx, dy] of asked) {
    let hits = 0;
    let all = 0;
    for (let y = 0; y < h; y++)
      for (let x = 0; x < w; x++) {
        if (reach[y * w + x] === 0) continue;
        all++;
        const u = x + dx;
        const v = y + dy;
        if (u >= 0 && v >= 0 && u < w && v < h && known[v * w + u] === 1) hits++;
      }
    if (all > 0 && hits / all > most) [best, most] = [dy * w + dx, hits / all];
  }
  return best;
}

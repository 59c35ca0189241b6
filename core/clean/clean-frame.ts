import { applyToPoint, invert, type Homography, type Point } from '../geometry/homography.ts';
import { fillPolygon } from '../geometry/polygon.ts';
import { bounds } from '../geometry/quad.ts';
import { type CodedPicture } from '../image/picture.ts';
import type { FixOnFrame } from './fix-on-frame.ts';
import { harmonicFill } from './harmonic-fill.ts';
import { addCodes } from './sample-codes.ts';

/** A fix reaches so far beyond its outline, px, since the lens smears what is under it; and fades over so many unless said otherwise. */
const MARGIN = 2, SOFT = 1.5;
/** How much of the surroundings is looked at, px; values of the rim are means over so many px, so that its noise does not streak inwards. */
const RING = 9, RIM_SIGMA = 2;
/** What is covered by more than this is not looked at; fewer known pixels than this around a fix tell nothing. */
const COVERED = 0.02, FEWEST = 24;

export interface FrameToClean {
  /** The surface's unit square to the picture at moments over the shutter, the middle one in the middle. */
  readonly maps: readonly Homography[];
  /** How much of each pixel of the picture is in front of the surface, 0…1; null where nothing is. */
  readonly front: Float32Array | null;
  /** Whether the plate's own grain is laid over what is filled. */
  readonly grain: boolean;
  /** The surface as most frames show it, laid flat, in the plate's codes; where fixes are filled from other frames. */
  readonly usual?: CodedPicture | undefined;
}

export interface Cleaned {
  readonly picture: CodedPicture;
  /** Fixes, by their place in the list, around which nothing is seen on this frame, so that they were left as they are. */
  readonly left: readonly number[];
}

/**
 * A frame with what is under the fixes made up from its own surroundings, so that their light, and its change, is that of the frame; what stands in front
 * stays. Source: P. Pérez, M. Gangnet, A. Blake, Poisson image editing, SIGGRAPH 2003: a membrane between the rim of the hole, or between the rim's
 * difference from a patch of elsewhere.
 */
export function cleanFrame(plate: CodedPicture, fixes: readonly FixOnFrame[], { maps, front, grain, usual }: FrameToClean): Cleaned {
  const out: CodedPicture = { ...plate, data: plate.data.slice() }, left: number[] = [], hidden = new Uint8Array(plate.width * plate.height), now = maps[maps.length >> 1]!, back = invert(now);
  const holes = fixes.map((fix) => holeOf(fix, maps, plate));
  // Neither a fix nor anything in front tells of what surrounds another.
  for (const hole of holes) if (hole) for (let row = 0; row < hole.height; row++) for (let col = 0; col < hole.width; col++) if (hole.reach[row * hole.width + col] === 1) hidden[(hole.top + row) * plate.width + hole.left + col] = 1;
  if (front) for (let i = 0; i < hidden.length; i++) if (front[i]! > COVERED) hidden[i] = 1;
  fixes.forEach((fix, i) => {
    const hole = holes[i];
    if (hole && !(back && fillHole(plate, out, fix, hole, hidden, { now, back, maps, usual }, front, grain))) left.push(i);
  });
  return { picture: out, left };
}

/** A box of the picture about a fix. `alpha`: how much of each pixel is made up; `reach`: where that is more than nothing. */
interface Hole {
  readonly left: number;
  readonly top: number;
  readonly width: number;
  readonly height: number;
  readonly alpha: Float32Array;
  readonly reach: Uint8Array;
}

function holeOf({ outline, soft = SOFT, opacity }: FixOnFrame, maps: readonly Homography[], { width, height }: CodedPicture): Hole | null {
  const polygons = maps.map((map) => outline.map((p) => applyToPoint(map, p))), all = polygons.flat();
  if (all.length < 3 || !all.every(([x, y]) => Number.isFinite(x) && Number.isFinite(y))) return null;
  const box = bounds(all), more = MARGIN + Math.ceil(soft) + RING, left = Math.max(0, Math.floor(box.left) - more), top = Math.max(0, Math.floor(box.top) - more), right = Math.min(width, Math.ceil(box.right) + more), bottom = Math.min(height, Math.ceil(box.bottom) + more);
  const w = right - left, h = bottom - top;
  if (w < 3 || h < 3) return null;
  const inside = new Uint8Array(w * h);
  for (const polygon of polygons) {
    fillPolygon(inside, w, h, polygon.map(([x, y]): Point => [x - left, y - top]), 1);
    // However small it is, the pixel it is on belongs to it.
    for (const [x, y] of polygon) if (x >= left && y >= top && x < right && y < bottom) inside[Math.floor(y - top) * w + Math.floor(x - left)] = 1;
  }
  const distance = distanceTo(inside, w, h), alpha = new Float32Array(w * h), reach = new Uint8Array(w * h);
  for (let i = 0; i < alpha.length; i++) {
    const t = Math.min(1, Math.max(0, (distance[i]! - MARGIN) / Math.max(0.01, soft))), share = 1 - t * t * (3 - 2 * t);
    alpha[i] = share * opacity;
    reach[i] = share > 0 ? 1 : 0;
  }
  return { left, top, width: w, height: h, alpha, reach };
}

/** Distance to the nearest marked pixel, px, by two sweeps of neighbours' distances (G. Borgefors, Distance transformations in digital images, 1986, 3-4 chamfer): at most 6 % off. */
function distanceTo(marked: Uint8Array, w: number, h: number): Float32Array {
  const d = Float32Array.from(marked, (m) => (m === 1 ? 0 : 1e6)), near = 0.955, slant = 1.3693;
  for (let y = 0; y < h; y++) for (let x = 0; x < w; x++) {
    const i = y * w + x;
    if (x > 0) d[i] = Math.min(d[i]!, d[i - 1]! + near);
    if (y > 0) d[i] = Math.min(d[i]!, d[i - w]! + near, x > 0 ? d[i - w - 1]! + slant : 1e6, x < w - 1 ? d[i - w + 1]! + slant : 1e6);
  }
  for (let y = h - 1; y >= 0; y--) for (let x = w - 1; x >= 0; x--) {
    const i = y * w + x;
    if (x < w - 1) d[i] = Math.min(d[i]!, d[i + 1]! + near);
    if (y < h - 1) d[i] = Math.min(d[i]!, d[i + w]! + near, x < w - 1 ? d[i + w + 1]! + slant : 1e6, x > 0 ? d[i + w - 1]! + slant : 1e6);
  }
  return d;
}

interface Laying {
  readonly now: Homography;
  readonly back: Homography;
  readonly maps: readonly Homography[];
  readonly usual: CodedPicture | undefined;
}

function fillHole(plate: CodedPicture, out: CodedPicture, fix: FixOnFrame, hole: Hole, hidden: Uint8Array, laying: Laying, front: Float32Array | null, grain: boolean): boolean {
  const { left, top, width: w, height: h, alpha } = hole, { width, data, peak } = plate, known = new Uint8Array(w * h);
  let there = 0;
  for (let row = 0, i = 0; row < h; row++) for (let col = 0; col < w; col++, i++) {
    known[i] = hidden[(top + row) * width + left + col] === 1 ? 0 : 1;
    there += known[i]!;
  }
  if (there < FEWEST) return false;
  const { method, from: elsewhere } = fix, clones = method === 'clone', patch = (method === 'patch' || clones) && elsewhere ? patchOf(plate, hole, elsewhere, laying) : method === 'frames' && laying.usual ? usualOf(laying.usual, hole, laying) : null, shift = grain && (!patch || method === 'frames') ? cleanShift(hole, known) : null, plane = new Float32Array(w * h);
  for (let c = 0; c < 3; c++) {
    for (let row = 0, i = 0; row < h; row++) for (let col = 0; col < w; col++, i++) plane[i] = data[((top + row) * width + left + col) * 3 + c]! - (patch ? patch[3 * i + c]! : 0);
    const smooth = rimMeans(plane, known, w, h), filled = clones ? new Float32Array(w * h) : smooth.slice();
    if (!clones) harmonicFill(filled, known, w, h);
    for (let row = 0, i = 0; row < h; row++) for (let col = 0; col < w; col++, i++) {
      const at = (top + row) * width + left + col, share = alpha[i]! * (1 - (front?.[at] ?? 0));
      if (share <= 0) continue;
      const from = shift === null ? -1 : i + shift, value = filled[i]! + (patch ? patch[3 * i + c]! : 0) + (from >= 0 && from < plane.length && known[from] === 1 ? plane[from]! - smooth[from]! : 0), before = out.data[at * 3 + c]!, mixed = before + share * (value - before);
      out.data[at * 3 + c] = peak === 1 ? mixed : Math.min(peak, Math.max(0, Math.round(mixed)));
    }
  }
  return true;
}

/** Known values as means of the known ones about them (normalised convolution: H. Knutsson, C.-F. Westin, 1993); others 0. */
function rimMeans(plane: Float32Array, known: Uint8Array, w: number, h: number): Float32Array {
  const radius = Math.ceil(2 * RIM_SIGMA), weights = Array.from({ length: 2 * radius + 1 }, (_, i) => Math.exp(-((i - radius) ** 2) / (2 * RIM_SIGMA ** 2))), sums = new Float32Array(w * h), counts = new Float32Array(w * h), out = new Float32Array(w * h);
  for (let y = 0; y < h; y++) for (let x = 0; x < w; x++) {
    let sum = 0, count = 0;
    for (let k = Math.max(-radius, -x); k <= Math.min(radius, w - 1 - x); k++) if (known[y * w + x + k] === 1) {
      sum += weights[k + radius]! * plane[y * w + x + k]!;
      count += weights[k + radius]!;
    }
    sums[y * w + x] = sum;
    counts[y * w + x] = count;
  }
  for (let y = 0; y < h; y++) for (let x = 0; x < w; x++) {
    const i = y * w + x;
    if (known[i] === 0) continue;
    let sum = 0, count = 0;
    for (let k = Math.max(-radius, -y); k <= Math.min(radius, h - 1 - y); k++) {
      sum += weights[k + radius]! * sums[i + k * w]!;
      count += weights[k + radius]! * counts[i + k * w]!;
    }
    out[i] = sum / count;
  }
  return out;
}

/** Another place of the surface, as it is seen on the same frame, for each pixel of a hole's box: three codes each. */
function patchOf(plate: CodedPicture, { left, top, width: w, height: h }: Hole, [du, dv]: Point, { now, back }: Laying): Float32Array {
  const out = new Float32Array(3 * w * h);
  for (let row = 0, i = 0; row < h; row++) for (let col = 0; col < w; col++, i++) {
    const [u, v] = applyToPoint(back, [left + col + 0.5, top + row + 0.5]), [x, y] = applyToPoint(now, [u + du, v + dv]);
    addCodes(plate, x, y, out, 3 * i);
  }
  return out;
}

/** The surface as most frames show it, for each pixel of a hole's box, smeared as it moves while the shutter is open. */
function usualOf(usual: CodedPicture, { left, top, width: w, height: h }: Hole, { maps }: Laying): Float32Array {
  const out = new Float32Array(3 * w * h), backs = maps.map(invert).filter((m) => m !== null);
  for (const back of backs) for (let row = 0, i = 0; row < h; row++) for (let col = 0; col < w; col++, i++) {
    const [u, v] = applyToPoint(back, [left + col + 0.5, top + row + 0.5]);
    addCodes(usual, u * usual.width, v * usual.height, out, 3 * i, 1 / backs.length);
  }
  return out;
}

/** A shift (in places of the box) after which most of what is made up lies on what is known: its grain is taken from there. Null where there is none. */
function cleanShift({ width: w, height: h, reach }: Hole, known: Uint8Array): number | null {
  let best: number | null = null, most = 0.3;
  const asked: [number, number][] = [];
  for (const d of [0.35, 0.5, 0.7]) for (const [x, y] of [[1, 0], [-1, 0], [0, 1], [0, -1], [1, 1], [-1, 1], [1, -1], [-1, -1]] as const) asked.push([Math.round(x * d * w), Math.round(y * d * h)]);
  for (const [dx, dy] of asked) {
    let hits = 0, all = 0;
    for (let y = 0; y < h; y++) for (let x = 0; x < w; x++) {
      if (reach[y * w + x] === 0) continue;
      all++;
      const u = x + dx, v = y + dy;
      if (u >= 0 && v >= 0 && u < w && v < h && known[v * w + u] === 1) hits++;
    }
    if (all > 0 && hits / all > most) [best, most] = [dy * w + dx, hits / all];
  }
  return best;
}

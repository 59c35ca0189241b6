import { mapTuple } from '../../base/geometry/map-tuple.ts';
import { solveCholesky } from '../../base/geometry/linear-solve.ts';
import { applyToPoint, type Homography, type Point } from '../../base/geometry/homography.ts';
import type { CodedPicture } from '../../base/image/picture.ts';
import { lightReader, lightWriter, type PlateColour } from '../../base/image/plate-colour.ts';
import { robustDeviation } from '../../base/image/statistics.ts';
import type { FixOnFrame } from './fix-on-frame.ts';
import { COVERED, eachOfHole, FEWEST_AROUND, type Hole } from './hole.ts';
import { markLights, planesOf, type MarkLight, type Planes } from './mark-light.ts';
import { fromSurroundings } from './rim-means.ts';
import type { UsualSurface } from '../pin/surface-frames.ts';

/** How much of a mark's light counts, its two slopes and its three bends: as much more or less light, shift and blur as the frame has. */
const TERMS = 6;
/** Rounds of weights; pixels that they need; light below which nothing is distinguished from noise; how firmly a term is held where little tells it, shares of what is measured. */
const ROUNDS = 6;
const LEAST_PIXELS = 50;
const NOISE = 1e-4;
const HELD = 1e-4;
/** Where Tukey's weights end, standard deviations (J. W. Tukey; 95 % of the efficiency of least squares for gaussian noise). */
const TUKEY = 4.685;

export interface GlassSetting {
  readonly usual: UsualSurface;
  /** Where the fixes' outlines lie in the picture, by the surface's corners. */
  readonly now: Homography;
  /** From a place of the picture to the surface's shares, at moments over the shutter, the middle one in the middle. */
  readonly froms: readonly ((at: Point) => Point)[];
  readonly colour: PlateColour;
  /** Of each pixel of the picture, whether a fix or something in front hides it. */
  readonly hidden: Uint8Array;
  readonly front: Float32Array | null;
}

/** A mark as it lies on the frame: the frame's light, what is missing from it to what surrounds the mark where that is known, and the terms that are to make that up. */
interface RaisedMark {
  readonly hole: Hole;
  readonly light: Planes;
  readonly missing: Planes | null;
  readonly tells: Uint8Array;
  readonly terms: readonly (readonly Float32Array[])[];
}

/**
 * Gives back what marks under glass take from the light: what is mirrored over them stays, to the pixel, and the frame's own noise. What they take was determined by the whole shot (markLights); that of this
 * frame is as much brighter, shifted and blurred as all its marks together are, by least squares with Tukey's weights on a Taylor series (B. D. Lucas, T. Kanade, An iterative image registration technique, 1981, with gain
 * and second derivatives beside). Into `out`; gives the fixes, by their place in the list, that were filled.
 */
export function fillUnderGlass(
  plate: CodedPicture,
  out: CodedPicture,
  fixes: readonly FixOnFrame[],
  holes: readonly (Hole | null)[],
  setting: GlassSetting,
): Set<number> {
  const { usual, colour, front, now, froms } = setting;
  const middle = froms[froms.length >> 1]!;
  const lights = markLights(
    usual,
    fixes.map((fix) => ({ ...fix, outline: fix.outline.map((p) => middle(applyToPoint(now, p))) })),
    colour,
  );
  const filled = new Set<number>();
  const write = lightWriter(colour.transfer, plate.peak);
  const marks: RaisedMark[] = [];
  holes.forEach((hole, i) => {
    const light = lights[i];
    if (!hole || !light) return;
    filled.add(i);
    marks.push(raisedMark(plate, hole, light, setting));
  });
  const counts = countsOf(marks);
  for (const { hole, light, terms } of marks)
    eachOfHole(hole, plate.width, (i, at) => {
      const share = hole.alpha[i]! * (1 - (front?.[at] ?? 0));
      if (share <= 0) return;
      for (let c = 0; c < 3; c++) {
        const before = out.data[3 * at + c]!;
        const mixed = before + share * (write(light[c]![i]! + madeUp(counts, terms[c]!, i)) - before);
        out.data[3 * at + c] = plate.peak === 1 ? mixed : Math.round(mixed);
      }
    });
  return filled;
}

function raisedMark(
  plate: CodedPicture,
  hole: Hole,
  mark: MarkLight,
  { usual: { picture }, froms, colour, hidden, front }: GlassSetting,
): RaisedMark {
  const { width: w, height: h } = hole;
  const n = w * h;
  const read = lightReader(colour.transfer, plate.peak);
  const known = new Uint8Array(n);
  const tells = new Uint8Array(n);
  const light = planesOf(n);
  const here = planesOf(n);
  let around = 0;
  eachOfHole(hole, plate.width, (i, at) => {
    known[i] = 1 - hidden[at]!;
    around += known[i];
    tells[i] = hole.reach[i] === 1 && !(front && front[at]! > COVERED) ? 1 : 0;
    for (let c = 0; c < 3; c++) light[c]![i] = read(plate.data[3 * at + c]!);
  });
  for (const from of froms)
    for (let row = 0, i = 0; row < h; row++)
      for (let col = 0; col < w; col++, i++) {
        const [u, v] = from([hole.left + col + 0.5, hole.top + row + 0.5]);
        addLight(mark, u * picture.width, v * picture.height, here, i, 1 / froms.length);
      }
  const missing =
    around < FEWEST_AROUND
      ? null
      : mapTuple(light, (plane) => {
          const filled = fromSurroundings(plane, known, w, h);
          return filled.map((v, i) => v - plane[i]!);
        });
  return { hole, light, missing, tells, terms: here.map((plane) => termsOf(plane, w, h)) };
}

/** What a mark takes at a place of the flat surface (continuous px), bilinear, times `share`, added to place `at` of the planes; nothing outside its box. */
function addLight(
  { hole: { left, top, width, height }, planes }: MarkLight,
  x: number,
  y: number,
  into: Planes,
  at: number,
  share: number,
): void {
  const px = x - 0.5 - left;
  const py = y - 0.5 - top;
  const ix = Math.floor(px);
  const iy = Math.floor(py);
  if (!(ix >= 0 && iy >= 0 && ix < width - 1 && iy < height - 1)) return;
  const fx = px - ix;
  const fy = py - iy;
  const k = iy * width + ix;
  for (let c = 0; c < 3; c++) {
    const p = planes[c]!;
    into[c]![at]! +=
      share *
      ((1 - fy) * ((1 - fx) * p[k]! + fx * p[k + 1]!) + fy * ((1 - fx) * p[k + width]! + fx * p[k + width + 1]!));
  }
}

/** A plane, its slopes in x and y, and its second derivatives in x, x and y, y, by central differences. */
function termsOf(plane: Float32Array, w: number, h: number): Float32Array[] {
  const room = () => new Float32Array(w * h);
  const x = room();
  const y = room();
  const xx = room();
  const xy = room();
  const yy = room();
  for (let row = 1; row < h - 1; row++)
    for (let col = 1; col < w - 1; col++) {
      const i = row * w + col;
      const here = 2 * plane[i]!;
      x[i] = (plane[i + 1]! - plane[i - 1]!) / 2;
      y[i] = (plane[i + w]! - plane[i - w]!) / 2;
      xx[i] = plane[i + 1]! - here + plane[i - 1]!;
      yy[i] = plane[i + w]! - here + plane[i - w]!;
      xy[i] = (plane[i + w + 1]! - plane[i + w - 1]! - plane[i - w + 1]! + plane[i - w - 1]!) / 4;
    }
  return [plane, x, y, xx, xy, yy];
}

function madeUp(counts: Float64Array, terms: readonly Float32Array[], i: number): number {
  let sum = 0;
  for (let k = 0; k < TERMS; k++) sum += counts[k]! * terms[k]![i]!;
  return sum;
}

/** How much of each term the frame's marks together ask for; the mark's light as the shot told it where they tell too little. */
function countsOf(marks: readonly RaisedMark[]): Float64Array {
  const counts = new Float64Array(TERMS);
  const step = new Float64Array(TERMS);
  const pixels: { missing: number; terms: readonly Float32Array[]; i: number }[] = [];
  counts[0] = 1;
  for (const { missing, tells, terms } of marks)
    if (missing)
      for (let i = 0; i < tells.length; i++)
        if (tells[i] === 1) for (let c = 0; c < 3; c++) pixels.push({ missing: missing[c]![i]!, terms: terms[c]!, i });
  if (pixels.length < LEAST_PIXELS) return counts;
  for (let round = 0; round < ROUNDS; round++) {
    const offs = pixels.map(({ missing, terms, i }) => missing - madeUp(counts, terms, i));
    const reach = TUKEY * Math.max(NOISE, robustDeviation(offs));
    const normal = new Float64Array(TERMS * TERMS);
    const right = new Float64Array(TERMS);
    pixels.forEach(({ terms, i }, p) => {
      const off = offs[p]!;
      if (Math.abs(off) >= reach) return;
      const weight = (1 - (off / reach) ** 2) ** 2;
      for (let r = 0; r < TERMS; r++) {
        const slope = weight * terms[r]![i]!;
        right[r]! += slope * off;
        for (let k = 0; k <= r; k++) normal[r * TERMS + k]! += slope * terms[k]![i]!;
      }
    });
    for (let r = 0; r < TERMS; r++) normal[r * TERMS + r]! *= 1 + HELD;
    if (!solveCholesky(normal, right, step, TERMS)) return counts;
    for (let k = 0; k < TERMS; k++) counts[k]! += step[k]!;
  }
  return counts;
}

import { clamp } from '../../base/geometry/clamp.ts';
import { createPlane, type Plane } from '../../base/image/plane.ts';
import { quantile } from '../../base/image/statistics.ts';

/** A frame as it is compared with others as a whole: about FINE_ACROSS pixels wide, and a quarter of that. */
export interface SmallFrame {
  readonly fine: Plane;
  readonly small: Plane;
}

export const FINE_ACROSS = 160;

/** Two frames whose likeness is less may be a cut; and the likeness of pieces that stands for that. Measured: of other pictures 0.3…0.5, where a screen lights up 0.68 and more. */
export const CUT_ALIKE = 0.75;
const PIECES_ALIKE = 0.62;
/** The likeness of pieces is that which a third of them reach. */
const SURVIVE = 2 / 3;
/** Sides of a piece and of what is taken off it as its surroundings, and how far a piece may have moved, pixels of the finer picture. */
const PIECE = 14;
const SURROUNDINGS = 5;
const REACH = 12;
/** A piece shows something where its detail spreads by so much, display codes 0…255; so many pieces are wanted. */
const DETAIL = 1.2;
const PIECES = 6;

/**
 * How alike two frames are, −1…1: the best correlation of the whole, shifted a little; or, where a part of the picture has changed (a screen lights up), that
 * which a third of its pieces reach, in proportion.
 */
export function likeness(a: SmallFrame, b: SmallFrame): number {
  const whole = ofWhole(a.small, b.small);
  if (whole >= CUT_ALIKE) return whole;
  const pieces = ofPieces(a.fine, b.fine);
  return pieces === null ? whole : Math.max(whole, Math.min(1, (pieces * CUT_ALIKE) / PIECES_ALIKE));
}

function ofWhole(p: Plane, q: Plane): number {
  const reach = clamp(Math.floor(p.width / 8), 1, 4);
  let best = -1;
  for (let v = -reach; v <= reach; v++)
    for (let u = -reach; u <= reach; u++) best = Math.max(best, shifted(p, q, u, v));
  return best;
}

/** How well the pieces of `p` that show something are found again in `q`, near by; null where too few show anything. Light that changes over a piece counts as nothing. */
function ofPieces(p: Plane, q: Plane): number | null {
  const own = detailOf(p);
  const other = detailOf(q);
  const found: number[] = [];
  for (let y = 0; y + PIECE <= p.height; y += PIECE) {
    for (let x = 0; x + PIECE <= p.width; x += PIECE) {
      let sum = 0;
      for (let j = 0; j < PIECE; j++) for (let i = 0; i < PIECE; i++) sum += own.data[(y + j) * p.width + x + i]! ** 2;
      if (sum > DETAIL ** 2 * PIECE * PIECE) found.push(bestNear(own, other, x, y, sum));
    }
  }
  return found.length >= PIECES ? quantile(found, SURVIVE) : null;
}

function bestNear(p: Plane, q: Plane, x: number, y: number, power: number): number {
  let best = -1;
  for (let v = Math.max(0, y - REACH); v <= Math.min(q.height - PIECE, y + REACH); v++) {
    for (let u = Math.max(0, x - REACH); u <= Math.min(q.width - PIECE, x + REACH); u++) {
      let both = 0;
      let theirs = 0;
      for (let j = 0; j < PIECE; j++) {
        const a = (y + j) * p.width + x;
        const b = (v + j) * q.width + u;
        for (let i = 0; i < PIECE; i++) {
          const t = q.data[b + i]!;
          both += p.data[a + i]! * t;
          theirs += t * t;
        }
      }
      best = Math.max(best, theirs > 0 ? both / Math.sqrt(power * theirs) : 0);
    }
  }
  return best;
}

/** What a picture shows over the mean of its surroundings. */
function detailOf({ width, height, data }: Plane): Plane {
  const out = createPlane(width, height);
  const across = createPlane(width, height);
  const half = (SURROUNDINGS - 1) / 2;
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      let sum = 0;
      for (let k = -half; k <= half; k++) sum += data[y * width + clamp(x + k, 0, width - 1)]!;
      across.data[y * width + x] = sum / SURROUNDINGS;
    }
  }
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      let sum = 0;
      for (let k = -half; k <= half; k++) sum += across.data[clamp(y + k, 0, height - 1) * width + x]!;
      out.data[y * width + x] = data[y * width + x]! - sum / SURROUNDINGS;
    }
  }
  return out;
}

function shifted(p: Plane, q: Plane, u: number, v: number): number {
  let n = 0;
  let sp = 0;
  let sq = 0;
  let spp = 0;
  let sqq = 0;
  let spq = 0;
  for (let y = Math.max(0, -v); y < Math.min(p.height, p.height - v); y++) {
    for (let x = Math.max(0, -u); x < Math.min(p.width, p.width - u); x++) {
      const a = p.data[y * p.width + x]!;
      const b = q.data[(y + v) * p.width + x + u]!;
      n++;
      sp += a;
      sq += b;
      spp += a * a;
      sqq += b * b;
      spq += a * b;
    }
  }
  const spreads = (spp - (sp * sp) / n) * (sqq - (sq * sq) / n);
  return spreads > 1e-6 ? (spq - (sp * sq) / n) / Math.sqrt(spreads) : 1;
}

import { compose, invert, type Homography } from '../geometry/homography.ts';
import { homographyBetweenQuads } from '../geometry/estimate-homography.ts';
import { bounds, signedArea, UNIT_SQUARE, type Quad } from '../geometry/quad.ts';
import { createLightPicture, type LightPicture } from '../image/picture.ts';
import type { PixelBox } from '../image/pixel-box.ts';
import type { ContentPyramid } from './content-pyramid.ts';

/** Signed distance to one edge of a quad, positive inside: a·x + b·y + c, in pixels. */
interface EdgeLine {
  a: number;
  b: number;
  c: number;
  feather: number;
}

/** The pixels that a quad can touch, grown by a margin and cut to `limit`; null when there are none. */
export function touchedPixels(quads: readonly Quad[], margin: number, limit: PixelBox): PixelBox | null {
  const all = bounds(quads.flat());
  const box = {
    left: Math.max(limit.left, Math.floor(all.left - margin)), top: Math.max(limit.top, Math.floor(all.top - margin)),
    right: Math.min(limit.right, Math.ceil(all.right + margin)), bottom: Math.min(limit.bottom, Math.ceil(all.bottom + margin)),
  };
  return box.right > box.left && box.bottom > box.top ? box : null;
}

/** Offsets within the pixel, in quarters, visited so that neighbours in time are apart in place. */
const PLACES: readonly (readonly [number, number])[] = Array.from({ length: 16 }, (_, k) => {
  const place = (k * 7) % 16;
  return [((place % 4) + 0.5) / 4, (Math.floor(place / 4) + 0.5) / 4] as const;
});

/**
 * Content seen through each of the quads, averaged: premultiplied light over the pixels of `box`.
 *
 * Every quad is sampled at several places within the pixel (at least four in all over the quads), each from the
 * pyramid level that matches its footprint, so that content shown small neither shimmers nor smears.
 * Edges are covered by their distance from the pixel's centre, and fade inward over `feather`
 * (top, right, bottom, left).
 */
export function renderPin(
  content: ContentPyramid, placement: Homography, quads: readonly Quad[], feather: readonly number[], box: PixelBox,
): LightPicture {
  const layer = createLightPicture(box.right - box.left, box.bottom - box.top);
  const placesPerQuad = quads.length >= 4 ? 1 : quads.length >= 2 ? 2 : 4;
  quads.forEach((quad, index) => {
    const toPicture = homographyBetweenQuads(UNIT_SQUARE, quad);
    const toUnit = toPicture && invert(toPicture);
    if (!toUnit) return;
    const toContent = compose(placement, toUnit);
    const places = Array.from({ length: placesPerQuad }, (_, k) =>
      placesPerQuad === 4 ? ([0.25 + 0.5 * (k % 2), 0.25 + 0.5 * (k >> 1)] as const) : PLACES[(index * placesPerQuad + k) % 16]!);
    addQuad(content, orient(toContent, quad), edgeLines(quad, feather), places, touchedPixels([quad], 1, box), box, 1 / quads.length, layer);
  });
  return layer;
}

/** The same map with a positive denominator over the quad. */
function orient(h: Homography, quad: Quad): Homography {
  const [x, y] = [(quad[0][0] + quad[2][0]) / 2, (quad[0][1] + quad[2][1]) / 2];
  return h[6]! * x + h[7]! * y + h[8]! < 0 ? h.map((v) => -v) : h;
}

function edgeLines(quad: Quad, feather: readonly number[]): EdgeLine[] {
  const inward = signedArea(quad) > 0 ? 1 : -1;
  return quad.map(([x, y], i) => {
    const [nx, ny] = quad[(i + 1) % 4]!;
    const length = Math.hypot(nx - x, ny - y) || 1;
    const a = (-(ny - y) / length) * inward, b = ((nx - x) / length) * inward;
    return { a, b, c: -(a * x + b * y), feather: feather[i] ?? 0 };
  });
}

/** Coverage 0…1 of the pixel centred at (x, y). */
function coverage(edges: readonly EdgeLine[], x: number, y: number): number {
  let covered = 1;
  for (let i = 0; i < 4; i++) {
    const edge = edges[i]!;
    const inside = edge.a * x + edge.b * y + edge.c;
    if (inside <= -0.5) return 0;
    if (edge.feather > 0) {
      const t = inside <= 0 ? 0 : inside >= edge.feather ? 1 : inside / edge.feather;
      covered *= t * t * (3 - 2 * t);
    } else if (inside < 0.5) covered *= inside + 0.5;
  }
  return covered;
}

function addQuad(
  content: ContentPyramid, h: Homography, edges: readonly EdgeLine[], places: readonly (readonly [number, number])[],
  touched: PixelBox | null, box: PixelBox, share: number, layer: LightPicture,
): void {
  if (!touched) return;
  const [h0, h1, h2, h3, h4, h5, h6, h7, h8] = h as [number, number, number, number, number, number, number, number, number];
  // All samples of a pixel together stand for its area; half a pixel each keeps text crisp without shimmer.
  const detail = Math.max(0.5, Math.sqrt(share / places.length));
  for (let row = touched.top; row < touched.bottom; row++) {
    for (let col = touched.left; col < touched.right; col++) {
      const covered = coverage(edges, col + 0.5, row + 0.5);
      if (covered === 0) continue;
      const at = ((row - box.top) * layer.width + col - box.left) * 4;
      const weight = (covered * share) / places.length;
      let footprint = 1;
      for (let k = 0; k < places.length; k++) {
        const x = col + places[k]![0], y = row + places[k]![1];
        let inverse = h6 * x + h7 * y + h8;
        if (inverse < 1e-12) continue;
        inverse = 1 / inverse;
        const u = (h0 * x + h1 * y + h2) * inverse, v = (h3 * x + h4 * y + h5) * inverse;
        // The footprint hardly changes within a pixel: it is reckoned at the first place. (Math.hypot is ten times slower.)
        if (k === 0) {
          const ux = h0 - u * h6, vx = h3 - v * h6, uy = h1 - u * h7, vy = h4 - v * h7;
          footprint = Math.sqrt(Math.max(ux * ux + vx * vx, uy * uy + vy * vy)) * inverse * detail;
        }
        addSample(content, u, v, footprint, weight, layer.data, at);
      }
    }
  }
}

/** Adds weight times the content's mean over about `footprint` content pixels at (u, v). */
function addSample(content: ContentPyramid, u: number, v: number, footprint: number, weight: number, out: Float32Array, at: number): void {
  if (u < -0.5 || v < -0.5 || u > content.width + 0.5 || v > content.height + 0.5) {
    // Beyond the content (bars beside a fitted picture) a screen shows its black; a stretched one repeats its rim.
    const outside = Math.max(-u, -v, u - content.width, v - content.height);
    if (outside > footprint) {
      out[at]! += weight * content.black;
      out[at + 1]! += weight * content.black;
      out[at + 2]! += weight * content.black;
      out[at + 3]! += weight;
      return;
    }
  }
  const detail = footprint <= 1 ? 0 : Math.min(content.levels.length - 1, Math.log2(footprint));
  const lower = Math.floor(detail);
  const share = detail - lower;
  addBilinear(content.levels[lower]!, u / (1 << lower), v / (1 << lower), weight * (1 - share), out, at);
  if (share > 0) addBilinear(content.levels[lower + 1]!, u / (2 << lower), v / (2 << lower), weight * share, out, at);
}

function addBilinear(level: { width: number; height: number; data: Float32Array }, x: number, y: number, weight: number, out: Float32Array, at: number): void {
  const { width, height, data } = level;
  let px = x - 0.5, py = y - 0.5;
  if (!(px > 0)) px = 0;
  else if (px > width - 1) px = width - 1;
  if (!(py > 0)) py = 0;
  else if (py > height - 1) py = height - 1;
  const ix = px | 0, iy = py | 0;
  const fx = px - ix, fy = py - iy;
  const a = (iy * width + ix) * 4;
  const right = ix < width - 1 ? 4 : 0, down = iy < height - 1 ? width * 4 : 0;
  const w00 = weight * (1 - fx) * (1 - fy), w10 = weight * fx * (1 - fy), w01 = weight * (1 - fx) * fy, w11 = weight * fx * fy;
  const b = a + right, c = a + down, d = c + right;
  out[at]! += data[a]! * w00 + data[b]! * w10 + data[c]! * w01 + data[d]! * w11;
  out[at + 1]! += data[a + 1]! * w00 + data[b + 1]! * w10 + data[c + 1]! * w01 + data[d + 1]! * w11;
  out[at + 2]! += data[a + 2]! * w00 + data[b + 2]! * w10 + data[c + 2]! * w01 + data[d + 2]! * w11;
  out[at + 3]! += data[a + 3]! * w00 + data[b + 3]! * w10 + data[c + 3]! * w01 + data[d + 3]! * w11;
}

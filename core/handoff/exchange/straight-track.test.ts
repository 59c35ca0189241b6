import { expect, test } from 'vitest';
import {
  applyToPoint,
  compose,
  rotationAbout,
  translation,
  type Homography,
  type Point,
} from '../../base/geometry/homography.ts';
import { distance, type Quad } from '../../base/geometry/quad.ts';
import { IdealMotion } from '../../motion/lens/ideal-motion.ts';
import { surfaceFromPlace } from '../../motion/lens/lens-surface.ts';
import { bend, type Lens } from '../../motion/lens/lens.ts';
import { exportText } from './export-formats.ts';
import { homographyFromFile } from '../../base/geometry/pixel-centre.ts';
import { inverseStMap, stMap } from './st-map.ts';
import { straightTrack } from './straight-track.ts';
import { cornersByFrame, writeTrack } from './track-file.ts';

const LENS: Lens = { k1: -0.12, k2: 0.02, k3: 0, centre: [322, 178], focal: 500 };
const SIZE = { width: 640, height: 360 };
/** Where the corners would be without the lens, and how they move. */
const straightHome: Quad = [
  [120, 60],
  [420, 80],
  [410, 300],
  [110, 280],
];
const motion = Array.from({ length: 5 }, (_, k): Homography =>
  compose(translation(30 * k, -6 * k), rotationAbout(0.03 * k, [300, 180])),
);
const straightAt = (k: number) => straightHome.map((p) => applyToPoint(motion[k]!, p)) as unknown as Quad;
const filmedHome = straightHome.map((p) => bend(LENS, p)) as unknown as Quad;
const track = (centre: 'half' | 'integer') =>
  writeTrack(
    { pixelCentre: centre, ...SIZE, rate: [25, 1], referenceFrame: 0, corners: filmedHome, lens: LENS },
    motion.map((h, frame) => ({
      frame,
      homography: IdealMotion.at(LENS, filmedHome)!.filmed(h)!,
      error: 0,
      confidence: 1,
    })),
  );
const farthest = (a: readonly Point[], b: readonly Point[]) => Math.max(...a.map((p, i) => distance(p, b[i]!)));

test('with the lens taken out, corners and homographies are those of the flat surface, in either convention; without a lens nothing is touched', () => {
  for (const centre of ['half', 'integer'] as const) {
    const filmed = track(centre);
    const straight = straightTrack(filmed);
    const corners = cornersByFrame(straight);
    expect(straight.lens).toBeUndefined();
    for (let k = 0; k < motion.length; k++) {
      expect(farthest(corners.get(k)!, straightAt(k))).toBeLessThan(1e-4);
      expect(
        farthest(
          cornersByFrame(filmed).get(k)!,
          straightAt(k).map((p) => bend(LENS, p)),
        ),
      ).toBeLessThan(1e-4);
      const map = homographyFromFile(straight.frames[k]!.homography!, centre);
      expect(
        farthest(
          straightHome.map((p) => applyToPoint(map, p)),
          straightAt(k),
        ),
      ).toBeLessThan(1e-3);
    }
    expect(straightTrack(straight)).toBe(straight);
  }
});

test('ST maps of the plate as filmed go through the lens, there and back', () => {
  const quad = cornersByFrame(track('half')).get(2)!;
  const map = stMap(quad, SIZE, { lens: LENS });
  const place = surfaceFromPlace(quad, LENS)!;
  const plain = stMap(quad, SIZE);
  let off = 0;
  let without = 0;
  let inside = 0;
  for (let j = 0; j < SIZE.height; j += 7) {
    for (let i = 0; i < SIZE.width; i += 7) {
      const k = j * SIZE.width + i;
      if (map.within[k] !== 1) continue;
      const [u, v] = place([i + 0.5, j + 0.5]);
      inside++;
      off = Math.max(off, Math.abs(map.s[k]! - u), Math.abs(map.t[k]! - v));
      without = Math.max(without, 300 * Math.abs(plain.s[k]! - u));
    }
  }
  expect(inside).toBeGreaterThan(400);
  expect(off).toBeLessThan(1e-6);
  // What leaving it out would be off by, px of the plate.
  expect(without).toBeGreaterThan(1);
  const back = inverseStMap(quad, { width: 60, height: 40 }, SIZE, { lens: LENS });
  for (const k of [0, 1234, 2399]) {
    const [u, v] = place([back.s[k]! * SIZE.width, back.t[k]! * SIZE.height]);
    expect(u).toBeCloseTo(((k % 60) + 0.5) / 60, 4);
    expect(v).toBeCloseTo((Math.floor(k / 60) + 0.5) / 40, 4);
  }
});

test('a glTF camera knows no lens: it is made of the straight track', () => {
  const filmed = exportText({ name: 'wide', track: track('half'), focal: 500, ratio: 1.4 }, 'gltf');
  const straight = exportText({ name: 'wide', track: straightTrack(track('half')), focal: 500, ratio: 1.4 }, 'gltf');
  expect(filmed).toBe(straight);
});

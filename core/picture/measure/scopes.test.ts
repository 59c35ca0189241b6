import { describe, expect, test } from 'vitest';
import type { Quad } from '../../base/geometry/quad.ts';
import { DISPLAY_COLOUR } from '../../base/image/plate-colour.ts';
import { boxWithin, lightOfRegion } from '../../base/image/light-region.ts';
import { movingDevice } from '../../test/generated-device.ts';
import { edgeProfile } from './edge-profile.ts';
import { LEVEL_BINS, scopesOf } from './scopes.ts';
import { encodeLight } from '../../base/image/transfer.ts';

/** A picture of a function of the pixel's centre, light. */
function picture(width: number, height: number, at: (x: number, y: number) => number) {
  const data = new Uint8Array(3 * width * height);
  for (let row = 0, i = 0; row < height; row++)
    for (let col = 0; col < width; col++, i += 3)
      data.fill(Math.round(255 * encodeLight(Math.min(1, Math.max(0, at(col + 0.5, row + 0.5))))), i, i + 3);
  return { width, height, data, peak: 255 as const };
}
const all = (p: ReturnType<typeof picture>) =>
  lightOfRegion(p, boxWithin({ left: 0, top: 0, right: p.width, bottom: p.height }, 0, p)!, DISPLAY_COLOUR);

/** The normal distribution (W. J. Cody's coefficients are not needed: Abramowitz and Stegun, Handbook of Mathematical Functions, 7.1.26, to 1.5e-7). */
function normal(z: number): number {
  const x = Math.abs(z) / Math.SQRT2;
  const t = 1 / (1 + 0.3275911 * x);
  const erf =
    1 -
    t *
      (0.254829592 + t * (-0.284496736 + t * (1.421413741 + t * (-1.453152027 + t * 1.061405429)))) *
      Math.exp(-x * x);
  return z < 0 ? (1 - erf) / 2 : (1 + erf) / 2;
}

describe('the profile of a border', () => {
  // Of a gaussian the step from 10 % to 90 % is 2 × 1.28155 σ wide (quantiles of the normal distribution, Abramowitz and Stegun, table 26.5).
  test.each([0.8, 1.5, 2.2])('of σ %f px is 2.563 σ wide, whichever side is bright', (sigma) => {
    for (const turn of [1, -1]) {
      const slant = 0.08;
      const edge = picture(
        80,
        60,
        (x, y) => 0.2 + 0.4 * normal((turn * (x - 40 - slant * (y - 30))) / Math.hypot(1, slant) / sigma),
      );
      const found = edgeProfile(all(edge), [40 - slant * 22, 8], [40 + slant * 22, 52])!;
      expect(Math.abs(found.width - 2.563 * sigma)).toBeLessThan(0.12 * sigma + 0.06);
      expect(found.values.at(0)).toBeCloseTo(0, 1);
      expect(found.values.at(-1)).toBeCloseTo(1, 1);
    }
  });

  test('nothing is measured of what is too short or no step', () => {
    const flat = picture(80, 60, () => 0.3);
    expect(edgeProfile(all(flat), [40, 8], [40, 52])).toBeNull();
    expect(edgeProfile(all(picture(80, 60, (x) => (x < 40 ? 0.1 : 0.5))), [40, 8], [40, 10])).toBeNull();
  });
});

describe('scopes of a frame', () => {
  const { picture: plate, quad } = movingDevice({ softness: 1, border: 0.1 })(0);
  const motion = { before: null, now: quad, after: null };

  test('the plate against itself: levels inside and around, the same border twice', () => {
    const { levels, edges } = scopesOf(plate, plate, motion, 1.5, 0.5, 1, DISPLAY_COLOUR);
    for (const scope of [levels.content!, levels.around!]) {
      expect(scope.shares).toHaveLength(LEVEL_BINS);
      expect(scope.shares.reduce((a, b) => a + b, 0)).toBeCloseTo(1, 6);
      expect(scope.ends[0]).toBeLessThanOrEqual(scope.ends[1]);
    }
    expect(Math.abs(edges.device!.sigma - 1)).toBeLessThan(0.12);
    expect(edges.content!.width).toBeCloseTo(edges.device!.width, 0);
  });

  test('content that is brighter and sharper than its plate shows as both', () => {
    const sharp = movingDevice({ softness: 0.3, border: 0.1, screen: () => 0.7 })(0).picture;
    const { levels, edges } = scopesOf(plate, sharp, motion, 1.5, 0.5, 1, DISPLAY_COLOUR);
    const plain = scopesOf(plate, plate, motion, 1.5, 0.5, 1, DISPLAY_COLOUR);
    expect(levels.content!.ends[1]).toBeGreaterThan(plain.levels.content!.ends[1] + 0.1);
    expect(edges.content!.sigma).toBeLessThan(edges.device!.sigma - 0.4);
  });

  test('a surface that lies beyond the picture shows nothing', () => {
    const away: Quad = [
      [9000, 0],
      [9100, 0],
      [9100, 60],
      [9000, 60],
    ];
    expect(scopesOf(plate, plate, { before: null, now: away, after: null }, 1.5, 0.5, 1, DISPLAY_COLOUR)).toEqual({
      levels: { content: null, around: null },
      edges: { content: null, device: null },
      noise: { content: [], plate: [] },
    });
  });
});

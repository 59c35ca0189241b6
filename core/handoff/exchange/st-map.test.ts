import { expect, test } from 'vitest';
import { composeFrame } from '../../picture/composite/compose-frame.ts';
import { buildContentPyramid } from '../../picture/pin/content-pyramid.ts';
import { NEUTRAL_LEVELS, resolveLook } from '../../picture/look/look.ts';
import { homographyBetweenQuads } from '../../base/geometry/estimate-homography.ts';
import { applyToPoint } from '../../base/geometry/homography.ts';
import { UNIT_SQUARE, type Quad } from '../../base/geometry/quad.ts';
import { LAID } from '../../../bench/reference/golden-cases.ts';
import { golden } from '../../../bench/reference/golden.ts';
import { inverseStMap, stMap } from './st-map.ts';

const PLATE = { width: 640, height: 360 };
const QUAD: Quad = [
  [120, 60],
  [520, 90],
  [500, 300],
  [140, 320],
];
const TO_UNIT = homographyBetweenQuads(QUAD, UNIT_SQUARE)!;
const TO_PLATE = homographyBetweenQuads(UNIT_SQUARE, QUAD)!;

test('each pixel’s middle goes where the homography leads it, to a hundredth of a pixel; t upward where that is wanted', () => {
  const down = stMap(QUAD, PLATE);
  const up = stMap(QUAD, PLATE, { y: 'up' });
  for (let row = 0; row < PLATE.height; row += 7) {
    for (let col = 0; col < PLATE.width; col += 9) {
      const i = row * PLATE.width + col;
      const [u, v] = applyToPoint(TO_UNIT, [col + 0.5, row + 0.5]);
      const inside = u >= 0 && u <= 1 && v >= 0 && v <= 1;
      expect(down.within[i]).toBe(inside ? 1 : 0);
      if (!inside) continue;
      const [x, y] = applyToPoint(TO_PLATE, [down.s[i]!, down.t[i]!]);
      expect(Math.hypot(x - col - 0.5, y - row - 0.5)).toBeLessThan(0.01);
      expect(up.t[i]).toBeCloseTo(1 - down.t[i]!, 6);
    }
  }
});

test('with overscan the same places stand further in; the inverse leads back; nothing where there is no surface', () => {
  const plain = stMap(QUAD, PLATE);
  const wide = stMap(QUAD, PLATE, { overscan: 16 });
  expect([wide.width, wide.height]).toEqual([672, 392]);
  for (const [col, row] of [
    [200, 150],
    [400, 250],
  ] as const)
    expect(wide.s[(row + 16) * 672 + col + 16]).toBe(plain.s[row * 640 + col]);
  const back = inverseStMap(QUAD, { width: 200, height: 120 }, PLATE);
  for (const [col, row] of [
    [0, 0],
    [199, 119],
    [80, 33],
  ] as const) {
    const [x, y] = applyToPoint(TO_PLATE, [(col + 0.5) / 200, (row + 0.5) / 120]);
    expect(back.s[row * 200 + col]! * 640).toBeCloseTo(x, 3);
    expect(back.t[row * 200 + col]! * 360).toBeCloseTo(y, 3);
  }
  expect(stMap(null, PLATE).within.some((v) => v > 0)).toBe(false);
});

test('beyond the horizon of a steep surface nothing is mapped', () => {
  const steep: Quad = [
    [310, 120],
    [330, 120],
    [600, 340],
    [40, 340],
  ];
  const map = stMap(steep, PLATE);
  // Far above its upper edge the surface's plane is behind the camera.
  for (let col = 0; col < 640; col += 40) expect([map.s[col], map.t[col], map.within[col]]).toEqual([0, 0, 0]);
  expect(map.within[200 * 640 + 320]).toBe(1);
});

test('the vision library’s remap with it is our own unblurred render, to a code in 255 in the mean', () => {
  const { plate, corners } = LAID;
  const content = LAID.content();
  const ours = composeFrame(
    { ...plate, peak: 255 as const, data: new Uint8Array(plate.width * plate.height * 3) },
    {
      contents: [{ pyramid: buildContentPyramid(content, NEUTRAL_LEVELS) }],
      motion: { before: null, now: corners, after: null },
      ratio: content.width / content.height,
      look: resolveLook({}),
      frame: 0,
    },
    'final',
  );
  const map = stMap(corners, plate);
  const theirs = golden('laid-by-st-map');
  for (let c = 0; c < 3; c++) {
    let sum = 0;
    let n = 0;
    for (let i = 0; i < map.within.length; i++) {
      // The rim, which covers pixels in part, is left out.
      if (map.s[i]! < 0.02 || map.s[i]! > 0.98 || map.t[i]! < 0.03 || map.t[i]! > 0.97) continue;
      sum += Math.abs(theirs[c * map.within.length + i]! - ours.data[3 * i + c]!);
      n++;
    }
    expect(n).toBeGreaterThan(4000);
    expect(sum / n).toBeLessThan(1);
  }
});

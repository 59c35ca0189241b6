import { expect, test } from 'vitest';
import type { Quad } from '../../../core/base/geometry/quad.ts';
import { quickContent, quickWidth } from './quick-size.ts';

const QUAD: Quad = [
  [100, 50],
  [500, 60],
  [490, 300],
  [110, 290],
];

test('a picture in haste is as wide as it is shown, in steps, and no narrower', () => {
  expect(quickWidth(830)).toBe(832);
  expect(quickWidth(832)).toBe(832);
  expect(quickWidth(833)).toBe(896);
  expect(quickWidth(3)).toBe(64);
});

test('content is taken somewhat finer than it is seen, never finer than it is', () => {
  const asked = quickContent(1680, 1050, QUAD, { place: {} });
  expect(asked).toBeGreaterThanOrEqual(1.5 * 400);
  expect(asked).toBeLessThan(1.5 * 400 * 1.3);
  expect(quickContent(320, 200, QUAD, { place: {} })).toBe(320);
  // Enlarged on the surface, more of it is needed.
  expect(quickContent(1680, 1050, QUAD, { place: { scale: [2, 2] } })).toBeGreaterThan(1.9 * asked * 0.8);
  expect(quickContent(1680, 1050, QUAD, { place: { scale: [2, 2] } })).toBeGreaterThanOrEqual(1.5 * 800);
  // Turned by a quarter its height lies along the surface's width.
  expect(
    quickContent(
      1000,
      2000,
      [
        [0, 0],
        [400, 0],
        [400, 200],
        [0, 200],
      ],
      { place: { quarters: 1 } },
    ),
  ).toBeGreaterThanOrEqual(1.5 * 400);
});

test('a crop is given in the content’s own pixels', () => {
  expect(quickContent(1680, 1050, QUAD, { place: { crop: [10, 0, 0, 0] } })).toBe(1680);
});

import { describe, expect, test } from 'vitest';
import { applyToPoint, compose, translation } from '../geometry/homography.ts';
import { createPlane } from '../image/plane.ts';
import { wavePlane } from '../test/planes.ts';
import { buildTemplate, homographyAtLevel, homographyFromLevel, toLevel, type Template } from './template.ts';

const everything = (w: number, h: number) => new Uint8Array(w * h).fill(1);

describe('buildTemplate', () => {
  test('takes all points when they fit the budget', () => {
    const template = buildTemplate(wavePlane(80, 60), everything(80, 60)) as Template;
    expect(template.levels[0]!.count).toBe(78 * 58);
  });

  test('over the budget it takes the strongest, but some from every square', () => {
    const plane = wavePlane(200, 160);
    // The right half is nearly flat.
    for (let i = 0; i < plane.data.length; i++) if (i % 200 >= 100) plane.data[i] = 0.5 + 0.01 * plane.data[i]!;
    const template = buildTemplate(plane, everything(200, 160), { finestBudget: 8000, coarseBudget: 1000, maxLevels: 4 }) as Template;
    const { count, xs, ys } = template.levels[0]!;
    expect(count).toBeGreaterThan(7500);
    expect(count).toBeLessThan(8600);
    const squares = new Set(Array.from(xs, (x, i) => `${Math.floor(x / 40)},${Math.floor(ys[i]! / 40)}`));
    expect(squares.size).toBe(20);
    expect(xs.filter((x) => x < 100).length).toBeGreaterThan(2 * xs.filter((x) => x >= 101).length);
  });

  test('scales its coordinates to about −1…1 over the region', () => {
    const { toUnit, box } = (buildTemplate(wavePlane(80, 60), everything(80, 60)) as Template).levels[0]!;
    for (const corner of box) applyToPoint(toUnit, corner).forEach((v) => expect(Math.abs(v)).toBeLessThanOrEqual(1.0001));
  });

  test.each<[string, Uint8Array, string]>([
    ['nothing', new Uint8Array(80 * 60), 'empty'],
    ['a few pixels', new Uint8Array(80 * 60).fill(1, 1000, 1006), 'too-small'],
    ['a thin line', new Uint8Array(80 * 60).fill(1, 1600, 1680), 'too-small'],
  ])('says why %s cannot be followed', (_, mask, fault) => expect(buildTemplate(createPlane(80, 60), mask)).toEqual({ fault }));
});

test('levels sample even pixels: sample i of level l lies over sample i·2^l', () => {
  expect(applyToPoint(toLevel(2), [8.5, 4.5])).toEqual([2, 1]);
  const h = compose(translation(12, -8));
  expect(applyToPoint(homographyAtLevel(h, 2), [3, 5])).toEqual([6, 3]);
  homographyFromLevel(homographyAtLevel(h, 3), 3).forEach((v, i) => expect(v).toBeCloseTo(h[i]!, 9));
});

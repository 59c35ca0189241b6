import { describe, expect, test } from 'vitest';
import { applyToPoint, compose, translation } from '../../base/geometry/homography.ts';
import { createPlane } from '../../base/image/plane.ts';
import { picturesOf } from '../../test/follow-memory.ts';
import { wavePlane } from '../../test/planes.ts';
import { buildTemplate, GROUP, homographyAtLevel, homographyFromLevel, toLevel, type Template } from './template.ts';

const everything = (w: number, h: number) => new Uint8Array(w * h).fill(1);

describe('buildTemplate', () => {
  test('takes all points when they fit the budget', () => {
    const template = buildTemplate(picturesOf([wavePlane(80, 60)])[0]!, everything(80, 60)) as Template;
    expect(template.levels[0]!.chosen).toBe(78 * 58);
  });

  test('over the budget it takes the strongest, but some from every square', () => {
    const plane = wavePlane(200, 160);
    // The right half is nearly flat.
    for (let i = 0; i < plane.data.length; i++) if (i % 200 >= 100) plane.data[i] = 0.5 + 0.01 * plane.data[i]!;
    const template = buildTemplate(picturesOf([plane])[0]!, everything(200, 160), {
      finestBudget: 8000,
      coarseBudget: 1000,
      maxLevels: 4,
    }) as Template;
    const { chosen, xs, ys } = template.levels[0]!;
    expect(chosen).toBeGreaterThan(7500);
    expect(chosen).toBeLessThan(8600);
    const squares = new Set(Array.from(xs, (x, i) => `${Math.floor(x / 40)},${Math.floor(ys[i]! / 40)}`));
    expect(squares.size).toBe(20);
    expect(xs.filter((x) => x < 100).length).toBeGreaterThan(2 * xs.filter((x) => x >= 101).length);
  });

  test('keeps ring and inside apart, piece by piece, each filled up to fours', () => {
    const mask = everything(80, 60);
    for (let j = 15; j < 45; j++) mask.fill(2, j * 80 + 20, j * 80 + 60);
    const template = buildTemplate(picturesOf([wavePlane(80, 60)])[0]!, mask) as Template;
    const { xs, ys, chosenPrior, pieceStarts, count } = template.levels[0]!;
    expect(template.hasInside).toBe(true);
    expect(pieceStarts.every((start) => start % 4 === 0)).toBe(true);
    for (let i = 0; i < count; i++)
      if (chosenPrior[i] === 1)
        expect(i >= pieceStarts[GROUP]!, `${xs[i]},${ys[i]}`).toBe(
          xs[i]! >= 20 && xs[i]! < 60 && ys[i]! >= 15 && ys[i]! < 45,
        );
  });

  test('scales its coordinates to about −1…1 over the region', () => {
    const { toUnit, box } = (buildTemplate(picturesOf([wavePlane(80, 60)])[0]!, everything(80, 60)) as Template)
      .levels[0]!;
    for (const corner of box)
      applyToPoint(toUnit, corner).forEach((v) => expect(Math.abs(v)).toBeLessThanOrEqual(1.0001));
  });

  test.each<[string, Uint8Array, string]>([
    ['nothing', new Uint8Array(80 * 60), 'empty'],
    ['a few pixels', new Uint8Array(80 * 60).fill(1, 1000, 1006), 'too-small'],
    ['a thin line', new Uint8Array(80 * 60).fill(1, 1600, 1680), 'too-small'],
  ])('says why %s cannot be followed', (_, mask, fault) =>
    expect(buildTemplate(picturesOf([createPlane(80, 60)])[0]!, mask)).toEqual({ fault }),
  );
});

test('levels sample even pixels: sample i of level l lies over sample i·2^l', () => {
  expect(applyToPoint(toLevel(2), [8.5, 4.5])).toEqual([2, 1]);
  const h = compose(translation(12, -8));
  expect(applyToPoint(homographyAtLevel(h, 2), [3, 5])).toEqual([6, 3]);
  homographyFromLevel(homographyAtLevel(h, 3), 3).forEach((v, i) => expect(v).toBeCloseTo(h[i]!, 9));
});

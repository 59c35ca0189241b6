import { describe, expect, test } from 'vitest';
import { applyToPoint, type Point } from '../../base/geometry/homography.ts';
import { contentCorners, croppedSize, placeFault, surfaceToContent, visibleSides, type Place } from './content-fit.ts';

const WIDE = { width: 1600, height: 900 };

describe('surfaceToContent', () => {
  // A 16:9 surface and content of 1000×1000.
  test.each<['stretch' | 'fit' | 'fill', [number, number], [number, number]]>([
    ['stretch', [0, 0], [1000, 1000]],
    ['fit', [-388.889, 0], [1388.889, 1000]],
    ['fill', [0, 218.75], [1000, 781.25]],
  ])('%s', (fit, topLeft, bottomRight) => {
    const map = surfaceToContent(fit, {}, 16 / 9, { width: 1000, height: 1000 })!;
    const [a, b] = [applyToPoint(map, [0, 0]), applyToPoint(map, [1, 1])];
    expect(a[0]).toBeCloseTo(topLeft[0], 2);
    expect(a[1]).toBeCloseTo(topLeft[1], 2);
    expect(b[0]).toBeCloseTo(bottomRight[0], 2);
    expect(b[1]).toBeCloseTo(bottomRight[1], 2);
  });
  test('content wider than the surface: fit leaves bars above and below, fill cuts the sides', () => {
    expect(applyToPoint(surfaceToContent('fit', {}, 1, WIDE)!, [0, 0])[1]).toBeCloseTo(-350, 9);
    expect(applyToPoint(surfaceToContent('fill', {}, 1, WIDE)!, [0, 0])[0]).toBeCloseTo(350, 9);
  });
  test('equal proportions: all three are the same', () => {
    const [a, b, c] = (['stretch', 'fit', 'fill'] as const).map((fit) =>
      surfaceToContent(fit, {}, 1.6, { width: 1680, height: 1050 })!,
    );
    a!.forEach((v, i) => {
      expect(b![i]).toBeCloseTo(v, 9);
      expect(c![i]).toBeCloseTo(v, 9);
    });
  });
});

describe('placing', () => {
  const near = (corners: readonly Point[], wanted: readonly Point[]) =>
    corners.forEach(([x, y], i) => {
      expect(x).toBeCloseTo(wanted[i]![0], 9);
      expect(y).toBeCloseTo(wanted[i]![1], 9);
    });
  // A surface twice as wide as high; its own square of sides 1.
  const on = (place: Place, fit: 'stretch' | 'fit' | 'fill' = 'stretch', size = { width: 200, height: 100 }) =>
    contentCorners(fit, place, 2, size);
  test.each<[string, Place, readonly Point[]]>([
    [
      'neutral',
      {},
      [
        [0, 0],
        [1, 0],
        [1, 1],
        [0, 1],
      ],
    ],
    [
      'offset',
      { offset: [0.25, -0.1] },
      [
        [0.25, -0.1],
        [1.25, -0.1],
        [1.25, 0.9],
        [0.25, 0.9],
      ],
    ],
    [
      'scale',
      { scale: [0.5, 2] },
      [
        [0.25, -0.5],
        [0.75, -0.5],
        [0.75, 1.5],
        [0.25, 1.5],
      ],
    ],
    [
      'a quarter clockwise: its top left corner is at the top right',
      { quarters: 1 },
      [
        [1, 0],
        [1, 1],
        [0, 1],
        [0, 0],
      ],
    ],
    [
      'mirrored',
      { mirror: [true, false] },
      [
        [1, 0],
        [0, 0],
        [0, 1],
        [1, 1],
      ],
    ],
    // Turned by 90° in the world: the wide picture stands upright on the surface, half as high again as it is.
    [
      'turned by 90°',
      { turn: 90 },
      [
        [0.75, -0.5],
        [0.75, 1.5],
        [0.25, 1.5],
        [0.25, -0.5],
      ],
    ],
    // A half-height of ½ at 45° leans by ½ of a height, ¼ of a width.
    [
      'leaning by 45°',
      { shear: [45, 0] },
      [
        [0.25, 0],
        [1.25, 0],
        [0.75, 1],
        [-0.25, 1],
      ],
    ],
    [
      'corners moved',
      {
        perspective: [
          [0.1, 0.2],
          [0, 0],
          [0, 0],
          [-0.1, 0],
        ],
      },
      [
        [0.1, 0.2],
        [1, 0],
        [1, 1],
        [-0.1, 1],
      ],
    ],
  ])('%s', (_, place, wanted) => near(on(place), wanted));
  test('a quarter turn takes part in the fit', () =>
    near(on({ quarters: 1 }, 'fit', { width: 100, height: 200 }), [
      [1, 0],
      [1, 1],
      [0, 1],
      [0, 0],
    ]));
  test('crops are whole pixels and leave at least one', () => {
    expect(croppedSize({ width: 100, height: 50 }, [10.4, 5, 20, 0])).toEqual({ width: 70, height: 45 });
    expect(croppedSize({ width: 10, height: 1 }, [90, 90, 90, 90])).toEqual({ width: 1, height: 1 });
  });
  test('sides along the surface’s border show no bars; those inside it do', () => {
    const sides = (place: Place, fit: 'stretch' | 'fit' | 'fill' = 'stretch') =>
      visibleSides(surfaceToContent(fit, place, 2, { width: 100, height: 100 })!, { width: 100, height: 100 });
    expect(sides({})).toEqual([false, false, false, false]);
    expect(sides({}, 'fill')).toEqual([false, false, false, false]);
    expect(sides({}, 'fit')).toEqual([true, false, true, false]);
    expect(sides({ offset: [0, 0.1] })).toEqual([false, true, false, false]);
    expect(sides({ turn: 10 })).toEqual([true, true, true, true]);
  });
  test('what cannot be shown is said', () => {
    expect(placeFault('stretch', { scale: [0, 1] }, 1, WIDE)).toMatch('scaled to nothing');
    expect(
      placeFault(
        'stretch',
        {
          perspective: [
            [2, 0],
            [0, 0],
            [0, 0],
            [0, 0],
          ],
        },
        1,
        WIDE,
      ),
    ).toMatch('past each other');
    expect(placeFault('fill', { turn: 30, mirror: [true, true] }, 1, WIDE)).toBeNull();
  });
});

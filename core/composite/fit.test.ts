import { describe, expect, test } from 'vitest';
import { applyToPoint } from '../geometry/homography.ts';
import { surfaceToContent } from './fit.ts';

describe('surfaceToContent', () => {
  // A 16:9 surface and content of 1000×1000.
  test.each<['stretch' | 'fit' | 'fill', [number, number], [number, number]]>([
    ['stretch', [0, 0], [1000, 1000]],
    ['fit', [-388.889, 0], [1388.889, 1000]],
    ['fill', [0, 218.75], [1000, 781.25]],
  ])('%s', (fit, topLeft, bottomRight) => {
    const map = surfaceToContent(fit, 16 / 9, 1000, 1000);
    const [a, b] = [applyToPoint(map, [0, 0]), applyToPoint(map, [1, 1])];
    expect(a[0]).toBeCloseTo(topLeft[0], 2);
    expect(a[1]).toBeCloseTo(topLeft[1], 2);
    expect(b[0]).toBeCloseTo(bottomRight[0], 2);
    expect(b[1]).toBeCloseTo(bottomRight[1], 2);
  });
  test('content wider than the surface: fit leaves bars above and below, fill cuts the sides', () => {
    expect(applyToPoint(surfaceToContent('fit', 1, 1600, 900), [0, 0])[1]).toBeCloseTo(-350, 9);
    expect(applyToPoint(surfaceToContent('fill', 1, 1600, 900), [0, 0])[0]).toBeCloseTo(350, 9);
  });
  test('equal proportions: all three are the same', () => {
    const [a, b, c] = (['stretch', 'fit', 'fill'] as const).map((fit) => surfaceToContent(fit, 1.6, 1680, 1050));
    a!.forEach((v, i) => {
      expect(b![i]).toBeCloseTo(v, 9);
      expect(c![i]).toBeCloseTo(v, 9);
    });
  });
});

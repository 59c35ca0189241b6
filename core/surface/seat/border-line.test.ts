import { borderPlaces } from '../../../bench/reference/golden-cases.ts';
import { golden } from '../../../bench/reference/golden.ts';
import { expect, test } from 'vitest';
import { fitBorder, robustLine } from './border-line.ts';
import { lightPicture, type LightPicture } from '../../base/image/light-sampler.ts';
import type { SideLine } from './sides.ts';
import { StepFitter } from './step-fit.ts';
import { drawSurface } from '../../../bench/seat/drawn-surface.ts';

/**
 * The edge of a nearly upright border by the slanted-edge method: in each row the centroid of the derivative of the light within a
 * window, and a straight line through the centroids by least squares.
 * Source: ISO 12233:2017, Photography – Electronic still picture imaging – Resolution and spatial frequency responses, annex D
 * (edge-based SFR: line spread centroids row by row, linear fit); as commonly published, e.g. P. Burns, Slanted-edge MTF for digital
 * camera and scanner analysis, PICS 2000. The wording of the standard is from memory.
 */
function slantedEdge(
  { codes, light, width }: LightPicture,
  rows: readonly [number, number],
  about: (y: number) => number,
): { at: number; slope: number } {
  let n = 0;
  let sy = 0;
  let syy = 0;
  let sx = 0;
  let sxy = 0;
  for (let y = rows[0]; y < rows[1]; y++) {
    let sum = 0;
    let moment = 0;
    const middle = Math.round(about(y + 0.5));
    for (let x = middle - 11; x <= middle + 11; x++) {
      const slope = light[codes[y * width + x + 1]!]! - light[codes[y * width + x]!]!;
      sum += slope;
      moment += slope * (x + 1);
    }
    const v = y + 0.5;
    const u = moment / sum;
    n++;
    sy += v;
    syy += v * v;
    sx += u;
    sxy += u * v;
  }
  const slope = (n * sxy - sx * sy) / (n * syy - sy * sy);
  return { slope, at: (sx - slope * sy) / n };
}

test.each([
  [0.6, 0],
  [1, 0.002],
  [1.8, 0.004],
  [3, 0.002],
])(
  'an edge of %f px blur and %f noise lies where the slanted-edge method of ISO 12233 puts it, and where it was drawn',
  (blur, noise) => {
    const quad = [
      [90.37, 20.1],
      [260, 22],
      [258, 280],
      [77.81, 279.6],
    ] as const;
    const frame = drawSurface({ width: 340, height: 300, quad, blur, noise, margin: 60, bezel: 0.03, screen: 0.6 });
    const picture = lightPicture(frame);
    const [a, , , d] = quad;
    const edge = (y: number) => a[0] + ((d[0] - a[0]) * (y - a[1])) / (d[1] - a[1]);
    const line: SideLine = {
      from: [92, 60],
      to: [81, 240],
      length: Math.hypot(11, 180),
      normal: [-180 / Math.hypot(11, 180), -11 / Math.hypot(11, 180)],
    };
    const found = fitBorder(picture, line)!;
    const standard = slantedEdge(picture, [60, 240], edge);
    for (const y of [70, 150, 230]) {
      const { from, to } = found.line;
      const ours = from[0] + ((to[0] - from[0]) * (y - from[1])) / (to[1] - from[1]);
      expect(Math.abs(ours - edge(y))).toBeLessThan(0.03);
      expect(Math.abs(ours - (standard.at + standard.slope * y))).toBeLessThan(0.06);
    }
    expect(Math.abs(found.sigma - blur)).toBeLessThan(0.45);
  },
);

test('a line through places with strays is the one that the reference library fits with its own robust weights', () => {
  // OpenCV fitLine, DIST_WELSCH (6), with t stretched so that distances are about those across.
  const [vx, vy, x, y] = golden('line-through-strays') as [number, number, number, number];
  const ours = robustLine(borderPlaces().map((at) => ({ ...at, contrast: 1, deviation: 0.03, cost: 0 })))!;
  for (const t of [0, 0.5, 1]) {
    expect(Math.abs(ours.a + ours.b * t - (y + ((1000 * t - x) * vy) / vx))).toBeLessThan(0.02);
    expect(Math.abs(ours.a + ours.b * t - (0.4 - 0.9 * t))).toBeLessThan(0.02);
  }
});

test('a step is found to hundredths, whatever its sense, and not where there is none', () => {
  const places = Array.from({ length: 19 }, (_, i) => -4.5 + i * 0.5);
  const fitter = new StepFitter(places, 0.8, -2.5, 2.5);
  for (const at of [-1.73, 0, 0.37, 2.1]) {
    for (const contrast of [0.4, -0.05]) {
      const found = fitter.fit(
        places.map((s) => 0.5 + 0.02 * contrast * s + contrast / (1 + Math.exp((-1.702 * (s - at)) / 0.8))),
      )!;
      expect(found.place).toBeCloseTo(at, 1);
      expect(Math.sign(found.contrast)).toBe(Math.sign(contrast));
    }
  }
  expect(fitter.fit(places.map(() => NaN))).toBeNull();
});

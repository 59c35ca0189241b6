import { describe, expect, test } from 'vitest';
import { cornerPoints, drawnFrames, screenAt } from '../../../bench/points/drawn-corners.ts';
import { drawSurface } from '../../../bench/seat/drawn-surface.ts';
import { movingFrame } from '../../test/moving-plate.ts';
import { IDENTITY } from '../../base/geometry/homography.ts';
import { checkPoints, judgePoints, warningOf } from './check-points.ts';
import { lightWindow } from './light-window.ts';
import { matchPatch } from './match-patch.ts';
import { takePatch } from './patch.ts';
import { searchPatch } from './search-patch.ts';

const plate = {
  width: 160,
  height: 120,
  velocity: (): [number, number] => [2.3, -1.6],
  shutter: 0,
  noise: 0.8,
  seed: 4,
};
const [first, second] = [movingFrame(plate, 0), movingFrame(plate, 1)];
const patch = takePatch(first, [80, 60], [31, 31])!;
const window = lightWindow(second, { left: 30, top: 20, right: 130, bottom: 100 })!;
const settings = { light: 'same', smear: [0, 0], turns: false, noise: 0.008 } as const;

describe('a pattern', () => {
  test('is found to the pixel by correlation and to hundredths by least squares', () => {
    const [best] = searchPatch(patch, IDENTITY, [0, 0], window, [80, 60], [20, 20], 2);
    expect(Math.hypot(best!.at[0] - 82.3, best!.at[1] - 58.4)).toBeLessThan(1);
    const found = matchPatch(patch, IDENTITY, window, best!.at, settings)!;
    expect(Math.hypot(found.at[0] - 82.3, found.at[1] - 58.4)).toBeLessThan(0.05);
    expect(found.score).toBeGreaterThan(0.98);
    expect(found.unsure).toBeLessThan(0.05);
  });
  test('elsewhere it scores low', () => {
    expect(matchPatch(patch, IDENTITY, window, [60, 75], settings)?.score ?? 0).toBeLessThan(0.6);
  });
  test('is drawn as smeared as the picture is', () => {
    const fast = { ...plate, velocity: (): [number, number] => [14, 0], shutter: 0.5 };
    const smeared = movingFrame(fast, 1);
    const there = lightWindow(smeared, { left: 40, top: 20, right: 150, bottom: 100 })!;
    const sharp = takePatch(movingFrame({ ...fast, shutter: 0 }, 0), [70, 60], [31, 31])!;
    const drawn = matchPatch(sharp, IDENTITY, there, [83, 60], { ...settings, smear: [7, 0] })!;
    const plain = matchPatch(sharp, IDENTITY, there, [83, 60], settings)!;
    expect(Math.hypot(drawn.at[0] - 84, drawn.at[1] - 60)).toBeLessThan(0.15);
    expect(drawn.misfit).toBeLessThan(0.5 * plain.misfit);
  });
  test('outside the picture there is none', () => {
    expect(takePatch(first, [8, 60], [31, 31])).toBeNull();
    expect(lightWindow(first, { left: 300, top: 0, right: 340, bottom: 40 })).toBeNull();
  });
});

describe('before points are followed', () => {
  const [reference] = drawnFrames(1);
  const points = cornerPoints(0);
  test('corners hold; on one straight edge it is reported that they slide, and along which way', () => {
    expect(judgePoints(points, reference!, 0, 'the job').map((q) => q.hold)).toEqual([
      'corner',
      'corner',
      'corner',
      'corner',
    ]);
    const plain = drawSurface({
      width: 200,
      height: 160,
      quad: [
        [40, 40],
        [160, 40],
        [160, 120],
        [40, 120],
      ],
    });
    const onEdge = judgePoints(
      [{ ...points[0]!, name: 'top', at: [100, 40], pattern: [21, 21] }],
      plain,
      0,
      'the job',
    )[0]!;
    expect(onEdge.hold).toBe('edge');
    expect(warningOf('top', onEdge)).toBe('top can slide along its edge (sideways)');
    expect(warningOf('top-left', judgePoints(points, reference!, 0, 'the job')[0]!)).toBeNull();
  });
  test.each([
    [
      'on flat colour',
      [{ ...points[0]!, at: [20, 20] as const, pattern: [15, 15] as const }],
      /nothing to hold on to at top-left/,
    ],
    [
      'reaching outside',
      [{ ...points[0]!, at: [5, 50] as const }],
      /pattern of top-left reaches outside the picture on frame 0/,
    ],
  ])('%s: a sentence', (_, wrong, sentence) =>
    expect(() => judgePoints(wrong, reference!, 0, 'the job')).toThrow(sentence),
  );
  test.each([
    ['none', [], /there are no points/],
    ['two on one spot', [points[0]!, { ...points[1]!, at: points[0]!.at }], /top-right and top-left lie on one spot/],
    [
      'a search box smaller than the pattern',
      [{ ...points[0]!, search: [20, 61] as const }],
      /search box of top-left is smaller/,
    ],
  ])('%s: a sentence', (_, wrong, sentence) => expect(() => checkPoints(wrong, 'the job')).toThrow(sentence));
  test('all is well with four corners', () => {
    expect(() => checkPoints(points, 'the job')).not.toThrow();
    expect(screenAt(0)).toHaveLength(4);
  });
});

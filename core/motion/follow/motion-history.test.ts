import { expect, test } from 'vitest';
import { applyToPoint, compose, invert, translation, type Homography } from '../../base/geometry/homography.ts';
import { MotionHistory } from './motion-history.ts';

const at = (h: Homography) => applyToPoint(h, [50, 40]).map((v) => Math.round(v * 1e6) / 1e6);
const history = (reference: number, maps: Record<number, Homography>): MotionHistory => {
  const made = new MotionHistory(reference);
  for (const [frame, h] of Object.entries(maps)) made.maps.set(Number(frame), h);
  return made;
};

test('the next frame is expected by velocity, by standstill and by acceleration going on', () => {
  const { maps, nearestFrame, gap } = history(0, { 1: translation(2, 0), 2: translation(6, 1) }).expect(3, -1);
  expect([nearestFrame, gap]).toEqual([2, 1]);
  // 2, 6: 10 at the same speed, 6 standing still, 12 when the speed grows as it did.
  expect(maps.map(at)).toEqual([
    [60, 42],
    [56, 41],
    [62, 43],
  ]);
});

test('from the later side it is the same, backwards; after a gap only where it was last seen', () => {
  expect(
    history(9, { 8: translation(-3, 0), 7: translation(-6, 0) })
      .expect(6, 1)
      .maps.map(at),
  ).toEqual([
    [41, 40],
    [44, 40],
    [41, 40],
  ]);
  const { maps, gap, nearestFrame } = history(0, { 1: translation(2, 0) }).expect(5, -1);
  expect([gap, nearestFrame, maps.map(at)]).toEqual([4, 1, [[52, 40]]]);
});

test('a turn goes on as a turn', () => {
  const turn = (angle: number): Homography =>
    compose(
      translation(50, 0),
      [Math.cos(angle), -Math.sin(angle), 0, Math.sin(angle), Math.cos(angle), 0, 0, 0, 1],
      translation(-50, 0),
    );
  const known = history(0, { 1: turn(0.3) });
  expect(at(known.expect(2, -1).maps[0]!)).toEqual(at(turn(0.6)));
  expect(at(known.extrapolate(1, -1, 3))).toEqual(at(turn(1.2)));
});

test('how far a frame was from where it was expected; unknown with too few frames', () => {
  const known = history(0, { 1: translation(2, 0), 2: translation(4, 3) });
  expect(
    known.offExpected(2, -1, [
      [0, 0],
      [10, 10],
    ]),
  ).toBeCloseTo(3, 9);
  expect(known.offExpected(1, -1, [[0, 0]])).toBe(Infinity);
});

test('the motion about a frame leads from its neighbours, at the level that is asked for', () => {
  const known = history(0, { 1: translation(2, 0), 2: translation(8, 0) });
  const here = translation(4, 0);
  expect(known.motionBetween(2)).toBeNull();
  const both = known.motionBetween(1)!(here, 0);
  const one = known.motionFrom(1, -1)(here, 0);
  expect([at(both.back!), at(both.ahead!), at(one.back!), one.ahead]).toEqual([[54, 40], [46, 40], [54, 40], null]);
  // On level 1 a sample is two pixels.
  expect(applyToPoint(known.motionFrom(1, -1)(translation(2, 0), 1).back!, [0, 0])[0]).toBeCloseTo(2, 9);
  expect(known.motionFrom(7, -1)(here, 0)).toEqual({ back: null, ahead: null });
  expect(at(known.middle(1)[0]!)).toEqual([54, 40]);
});

test('runs end at a gap; a map that cannot be undone gives no velocity', () => {
  const known = history(0, { 1: translation(1, 0), 3: translation(3, 0) });
  expect(known.run(1, -1, 5).map(at)).toEqual([
    [51, 40],
    [50, 40],
  ]);
  expect(known.run(3, -1, 5)).toHaveLength(1);
  const flat: Homography = [1, 0, 0, 0, 0, 0, 0, 0, 1];
  expect(invert(flat)).toBeNull();
  expect(history(0, { [-1]: flat }).expect(1, -1).maps).toHaveLength(1);
});

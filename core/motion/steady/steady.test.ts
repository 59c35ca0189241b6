import { describe, expect, test } from 'vitest';
import { screenAt } from '../../../bench/points/drawn-corners.ts';
import { homographyBetweenQuads } from '../../base/geometry/estimate-homography.ts';
import {
  applyToPoint,
  applyToPoints,
  compose,
  jacobianAt,
  rotationAbout,
  translation,
  type Homography,
  type Point,
} from '../../base/geometry/homography.ts';
import type { CodedPicture } from '../../base/image/picture.ts';
import { DISPLAY_COLOUR } from '../../base/image/plate-colour.ts';
import { cropFilled, steadyFrame } from './stabilised-frame.ts';
import { ALL_STEADY, mapBack, steadyMaps, type SteadyChoice } from './steady-maps.ts';

const COUNT = 14;
const reference = screenAt(0);
const middle = [0, 1].map((k) => reference.reduce((s, p) => s + p[k]!, 0) / 4) as unknown as Point;
const maps = new Map(Array.from({ length: COUNT }, (_, f) => [f, homographyBetweenQuads(reference, screenAt(f))!]));
const only = (...parts: (keyof SteadyChoice)[]): SteadyChoice => ({
  position: false,
  rotation: false,
  scale: false,
  perspective: false,
  smooth: 0,
  ...Object.fromEntries(parts.map((p) => [p, true])),
});
const left = (steady: ReadonlyMap<number, Homography>, f: number) => compose(steady.get(f)!, maps.get(f)!);
const turnOf = (h: Homography) => {
  const [a, b, c, d] = jacobianAt(h, middle);
  return { turn: Math.atan2(c - b, a + d), size: Math.hypot(a + d, c - b) / 2 };
};

describe('what is taken out of a motion', () => {
  test('all of it: the surface stands where it is on the reference', () => {
    const steady = steadyMaps(maps, middle, ALL_STEADY, COUNT);
    for (let f = 0; f < COUNT; f++)
      applyToPoints(left(steady, f), reference).forEach((p, i) =>
        expect(Math.hypot(p[0] - reference[i]![0], p[1] - reference[i]![1])).toBeLessThan(1e-8),
      );
  });
  test('each part by itself, the others still there', () => {
    const f = 9;
    const whole = turnOf(maps.get(f)!);
    const place = applyToPoint(maps.get(f)!, middle);
    const position = left(steadyMaps(maps, middle, only('position'), COUNT), f);
    const rotation = left(steadyMaps(maps, middle, only('rotation'), COUNT), f);
    const scale = left(steadyMaps(maps, middle, only('scale'), COUNT), f);
    expect(applyToPoint(position, middle)).toEqual(middle.map((v) => expect.closeTo(v, 8) as number));
    expect(turnOf(position).turn).toBeCloseTo(whole.turn, 8);
    expect(turnOf(rotation).turn).toBeCloseTo(0, 8);
    expect(turnOf(rotation).size).toBeCloseTo(whole.size, 8);
    expect(applyToPoint(rotation, middle)).toEqual(place.map((v) => expect.closeTo(v, 8) as number));
    expect(turnOf(scale).size).toBeCloseTo(1, 8);
    const none = steadyMaps(maps, middle, only(), COUNT);
    none.get(f)!.forEach((v, k) => expect(v).toBeCloseTo([1, 0, 0, 0, 1, 0, 0, 0, 1][k]!, 9));
  });
  test('only what is fast: slow motion stays, trembling goes', () => {
    const shaking = new Map(
      Array.from({ length: 60 }, (_, f) => [f, translation(0.8 * f + (f % 2 === 0 ? 1.5 : -1.5), 0)]),
    );
    const steady = steadyMaps(shaking, [50, 50], { ...ALL_STEADY, smooth: 5 }, 60);
    const x = (f: number) => applyToPoint(compose(steady.get(f)!, shaking.get(f)!), [50, 50])[0];
    for (let f = 20; f < 40; f++) expect(x(f + 1) - x(f)).toBeCloseTo(0.8, 1);
  });
  test('a turn goes on round; frames that are not known lie between', () => {
    const spin = new Map([0, 1, 2, 4, 5, 6, 7, 8].map((f) => [f, rotationAbout((f * Math.PI) / 4, middle)]));
    const steady = steadyMaps(spin, middle, { ...ALL_STEADY, smooth: 0 }, 9);
    expect(turnOf(compose(steady.get(3)!, rotationAbout((3 * Math.PI) / 4, middle))).turn).toBeCloseTo(0, 8);
    expect(steady.size).toBe(9);
    expect(steadyMaps(new Map(), middle, ALL_STEADY, 9).size).toBe(0);
  });
});

test('what is found on the steadied picture comes back to the plate within a millionth of a pixel', () => {
  for (const choice of [ALL_STEADY, only('position', 'rotation'), { ...ALL_STEADY, smooth: 4 }]) {
    const steady = steadyMaps(maps, middle, choice, COUNT);
    const on = 3;
    const seen = new Map(
      [...maps].map(([f, h]) => [
        f,
        compose(
          steady.get(f)!,
          h,
          homographyBetweenQuads(screenAt(on), reference)!,
          homographyBetweenQuads(applyToPoints(steady.get(on)!, screenAt(on)), screenAt(on))!,
        ),
      ]),
    );
    const back = mapBack(seen, steady, on);
    for (const [f, h] of back)
      applyToPoints(h, screenAt(on)).forEach((p, i) =>
        expect(Math.hypot(p[0] - screenAt(f)[i]![0], p[1] - screenAt(f)[i]![1])).toBeLessThan(1e-6),
      );
  }
});

describe('the steadied picture', () => {
  const width = 60;
  const height = 40;
  const picture: CodedPicture = {
    width,
    height,
    peak: 255,
    data: Uint8Array.from({ length: width * height * 3 }, (_, i) =>
      Math.round(
        127 + 90 * Math.sin(((i / 3) % width) * 0.35) * Math.cos(Math.floor(i / 3 / width) * 0.3) + (i % 3) * 9,
      ),
    ),
  };
  test('whole pixels are copied, code by code', () => {
    const { picture: out, alpha } = steadyFrame(
      picture,
      translation(5, -3),
      width,
      height,
      'transparent',
      DISPLAY_COLOUR,
    );
    expect([...out.data.slice(3 * (10 * width + 20), 3 * (10 * width + 21))]).toEqual([
      ...picture.data.slice(3 * (13 * width + 15), 3 * (13 * width + 16)),
    ]);
    expect([alpha[10 * width + 4], alpha[10 * width + 5], alpha[(height - 3) * width + 20]]).toEqual([0, 255, 0]);
    expect([
      ...steadyFrame(picture, [1, 0, 0, 0, 1, 0, 0, 0, 1], width, height, 'fill', DISPLAY_COLOUR).picture.data,
    ]).toEqual([...picture.data]);
  });
  test('moved on by parts of a pixel and back it is nearly what it was', () => {
    const there = steadyFrame(picture, translation(0.4, 0.3), width, height, 'fill', DISPLAY_COLOUR).picture;
    const back = steadyFrame(there, translation(-0.4, -0.3), width, height, 'fill', DISPLAY_COLOUR).picture;
    let worst = 0;
    for (let y = 6; y < height - 6; y++)
      for (let x = 6; x < width - 6; x++)
        for (let c = 0; c < 3; c++)
          worst = Math.max(
            worst,
            Math.abs(back.data[3 * (y * width + x) + c]! - picture.data[3 * (y * width + x) + c]!),
          );
    expect(worst).toBeLessThanOrEqual(2);
  });
  test('is enlarged just so far that every frame is filled', () => {
    const { scale, maps: filled } = cropFilled(
      new Map([
        [0, translation(3, 0)],
        [1, translation(0, -2)],
      ]),
      width,
      height,
    );
    expect(scale).toBeCloseTo(1 / (1 - 2 * (3 / width)), 2);
    for (const map of filled.values())
      expect(
        Math.min(
          ...steadyFrame(picture, map, width, height, 'transparent', DISPLAY_COLOUR).alpha.filter(
            (_, i) => i % width > 0 && i % width < width - 1 && i >= width && i < width * (height - 1),
          ),
        ),
      ).toBe(255);
    expect(cropFilled(new Map([[0, translation(0, 0)]]), width, height).scale).toBe(1);
  });
});

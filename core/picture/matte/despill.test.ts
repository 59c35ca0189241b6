import { describe, expect, test } from 'vitest';
import { GREEN } from '../../test/green-screen.ts';
import { applyHueTable, hueTable, changeAt, changeColour } from './hue-curves.ts';
import { planeRows, replaceSpill } from './despill.ts';

describe('spill', () => {
  const place = (near: number) => ({ width: 1, height: 1, weight: Float32Array.of(1), near: Float32Array.of(near) });
  const planes = (r: number, g: number, b: number) =>
    [Float32Array.of(r), Float32Array.of(g), Float32Array.of(b)] as const;
  const lit = (f: readonly number[], l: number, by: readonly number[]) =>
    f.map((v, c) => v * (0.8 + l * by[c]!)) as [number, number, number];

  test('a grey patch under green light returns to grey', () => {
    const p = planes(...lit([0.3, 0.3, 0.3], 0.4, GREEN));
    replaceSpill(planeRows(p, 1), place(1), GREEN, {}, null);
    for (const plane of p) expect(plane[0]).toBeCloseTo(0.24, 3);
  });
  test('the new screen’s light falls where the old one’s did', () => {
    const light = [0.5, 0.4, 0.2] as const;
    const p = planes(...lit([0.3, 0.3, 0.3], 0.4, GREEN));
    const expected = lit([0.3, 0.3, 0.3], 0.4, light);
    replaceSpill(planeRows(p, 1), place(1), GREEN, {}, light);
    p.forEach((plane, c) => expect(plane[0]).toBeCloseTo(expected[c]!, 2));
  });
  test('skin without green light, and leaves away from the surface, stay as they are', () => {
    for (const [colour, near] of [
      [[0.5, 0.3, 0.2], 1],
      [[0.05, 0.35, 0.04], 0],
    ] as const) {
      const p = planes(colour[0], colour[1], colour[2]);
      replaceSpill(planeRows(p, 1), place(near), GREEN, {}, [1, 1, 1]);
      p.forEach((plane, c) => expect(plane[0]).toBeCloseTo(colour[c]!, 6));
    }
  });
  test('a rim of the screen’s colour at its border goes, though hardly any is around it; away from the border it is left as part of what is around', () => {
    const width = 24;
    const height = 12;
    const bezel = 0.012;
    const rim = (near: number) => {
      const p = [0, 1, 2].map((c) =>
        Float32Array.from({ length: width * height }, (_, i) => bezel + (c === 1 && i % width === 12 ? 0.05 : 0)),
      ) as unknown as Parameters<typeof planeRows>[0];
      replaceSpill(
        planeRows(p, width),
        {
          width,
          height,
          weight: new Float32Array(p[0].length).fill(1),
          near: new Float32Array(p[0].length).fill(near),
        },
        GREEN,
        {},
        null,
      );
      return p[1][6 * width + 12]!;
    };
    expect(rim(1)).toBeLessThan(bezel + 0.002);
    expect(rim(0)).toBeGreaterThan(0.03);
  });
  test('the limit is the mean, the larger, or a mix of the other two, as chosen', () => {
    const held = (settings: Parameters<typeof replaceSpill>[3]) => {
      const p = planes(0.3, 0.5, 0.1);
      replaceSpill(planeRows(p, 1), place(1), [0, 1, 0], settings, null);
      return p[1][0];
    };
    expect(held({})).toBeCloseTo(0.2, 5);
    expect(held({ limit: 'larger' })).toBeCloseTo(0.3, 5);
    expect(held({ limit: 'weighted', weight: 0.25 })).toBeCloseTo(0.15, 5);
    expect(held({ allowance: 1.2 })).toBeCloseTo(0.24, 5);
  });
});

describe('hue curves', () => {
  test('between points they are linear around the circle', () => {
    const hues = [
      { hue: 350, shift: 10 },
      { hue: 30, shift: -10, saturation: 0.5 },
    ];
    expect(changeAt(hues, 10).shift).toBeCloseTo(0, 9);
    expect(changeAt(hues, 10).saturation).toBeCloseTo(0.75, 9);
    expect(changeAt(hues, 190).shift).toBeCloseTo(0, 9);
  });
  test('luminance stays, grey stays, three thirds of a turn come home', () => {
    const planes = [Float32Array.of(0.2, 0.3), Float32Array.of(0.4, 0.3), Float32Array.of(0.1, 0.3)] as const;
    const luma = (i: number) => 0.2126 * planes[0][i]! + 0.7152 * planes[1][i]! + 0.0722 * planes[2][i]!;
    const before = luma(0);
    changeColour(planes, 0, 15, 0.8);
    changeColour(planes, 1, 90, 2);
    expect(luma(0)).toBeCloseTo(before, 5);
    expect([0, 1, 2].map((c) => planes[c]![1])).toEqual(Array<unknown>(3).fill(expect.closeTo(0.3, 5)));
    const small = [Float32Array.of(0.31), Float32Array.of(0.3), Float32Array.of(0.29)] as const;
    for (let k = 0; k < 3; k++) changeColour(small, 0, 120, 1);
    expect(small[0][0]).toBeCloseTo(0.31, 5);
    applyHueTable(small, Float32Array.of(1), hueTable([{ hue: 30, saturation: 0 }]));
    expect(small[0][0]).toBeCloseTo(small[1][0]!, 5);
  });
});

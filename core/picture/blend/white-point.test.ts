import { describe, expect, test } from 'vitest';
import { daylight, kelvinOf, tintOf, whiteTint } from './white-point.ts';

describe('colour of white', () => {
  test.each([
    // CIE 15:2004, table T.3: chromaticities of the daylight illuminants, 2° observer.
    [5003, 0.34567, 0.3585],
    [5503, 0.33242, 0.34743],
    [6504, 0.31272, 0.32903],
    [7504, 0.29902, 0.31485],
  ])('daylight of %i K lies on the locus of the tables', (kelvin, x, y) => {
    const [ours, and] = daylight(kelvin);
    expect(ours).toBeCloseTo(x, 3);
    expect(and).toBeCloseTo(y, 3);
  });

  test('D65 is the display’s own white; warmer is redder, colder bluer, and as bright', () => {
    for (const v of whiteTint(6504)) expect(v).toBeCloseTo(1, 2);
    const [r, g, b] = whiteTint(5003);
    // D50 without adaptation: X 0.9642, Y 1, Z 0.8251 through the matrix of IEC 61966-2-1, reckoned by hand: 1.176, 0.976, 0.722.
    expect(r).toBeCloseTo(1.176, 2);
    expect(g).toBeCloseTo(0.976, 2);
    expect(b).toBeCloseTo(0.722, 2);
    for (const kelvin of [4000, 5600, 9300]) {
      const tint = whiteTint(kelvin);
      expect(0.2126 * tint[0] + 0.7152 * tint[1] + 0.0722 * tint[2]).toBeCloseTo(1, 3);
    }
  });

  test.each([4200, 5600, 6504, 9300, 20000])('%i K is found again from its tint', (kelvin) => {
    expect(Math.abs(kelvinOf(whiteTint(kelvin)) - kelvin)).toBeLessThanOrEqual(1);
  });

  test('a colour picked from the room becomes a tint as bright as none', () => {
    expect(tintOf([0.2, 0.2, 0.2])).toEqual([1, 1, 1].map((v) => expect.closeTo(v, 6) as number));
    expect(kelvinOf(tintOf([0.5, 0.42, 0.3]))).toBeLessThan(5600);
  });
});

import { expect, test } from 'vitest';
import { parseCube } from './cube-lut.ts';

/** A table of a function of the codes. */
function cube(size: number, of: (r: number, g: number, b: number) => number[]): string {
  const lines = [`TITLE "greenhouse"`, '# a comment', `LUT_3D_SIZE ${size}`];
  for (let b = 0; b < size; b++)
    for (let g = 0; g < size; g++)
      for (let r = 0; r < size; r++) lines.push(of(r / (size - 1), g / (size - 1), b / (size - 1)).join(' '));
  return lines.join('\n');
}
const at = (text: string, rgb: [number, number, number]) => {
  const out: [number, number, number] = [0, 0, 0];
  parseCube(text, 'a.cube').apply(...rgb, out);
  return out;
};

test('a linear table is exact everywhere, in every one of the six tetrahedra', () => {
  const text = cube(5, (r, g, b) => [0.5 * r + 0.25 * b, 1 - g, 0.1 + 0.3 * r + 0.6 * g]);
  for (const [r, g, b] of [
    [0.1, 0.2, 0.9],
    [0.9, 0.2, 0.1],
    [0.33, 0.34, 0.35],
    [0.7, 0.9, 0.8],
    [0.2, 0.9, 0.1],
    [0.6, 0.1, 0.5],
    [1, 1, 1],
    [0, 0, 0],
  ] as [number, number, number][]) {
    const out = at(text, [r, g, b]);
    [0.5 * r + 0.25 * b, 1 - g, 0.1 + 0.3 * r + 0.6 * g].forEach((v, c) => expect(out[c]).toBeCloseTo(v, 6));
  }
});
test('neutral colours stay on the diagonal of a curved table', () => {
  const out = at(
    cube(17, (r, g, b) => [r ** 2, g ** 2, b ** 2]),
    [0.5, 0.5, 0.5],
  );
  expect(out).toEqual([0.25, 0.25, 0.25]);
});
test('beyond the domain its border holds; a stated domain is kept to', () => {
  expect(
    at(
      cube(2, (r, g, b) => [r, g, b]),
      [-1, 0.5, 7],
    ),
  ).toEqual([0, 0.5, 1]);
  expect(at(`DOMAIN_MIN 0 0 0\nDOMAIN_MAX 2 2 2\n${cube(2, (r, g, b) => [r, g, b])}`, [1, 1, 1])).toEqual([
    0.5, 0.5, 0.5,
  ]);
});
test('one-dimensional tables', () => {
  expect(at('LUT_1D_SIZE 3\n0 0 0\n0.5 0.25 1\n1 1 1', [0.25, 0.75, 0.5])).toEqual([0.25, 0.625, 1]);
});
test.each([
  ['LUT_3D_SIZE 2\n0 0 0', /1 entries instead of 8/],
  ['0 0 0', /states no size/],
  ['LUT_1D_SIZE 2\n0 0 0\n0 x 0', /line 3 is not three numbers/],
  ['LUT_3D_SIZE 4000', /size 4000 is out of range/],
  ['LUT_1D_SIZE 2\nDOMAIN_MIN 1 1 1\n0 0 0\n1 1 1', /domain is empty/],
])('refuses %j', (text, words) => expect(() => parseCube(text, 'a.cube')).toThrow(words));

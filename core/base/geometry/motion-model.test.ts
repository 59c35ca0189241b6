import { expect, test } from 'vitest';
import { applyToPoint } from './homography.ts';
import { DEGREES_OF_FREEDOM, MOTIONS, stiffer, warpDerivatives, warpFromParameters } from './motion-model.ts';

test.each(MOTIONS)('%s: the derivatives are those of the warp', (motion) => {
  const dof = DEGREES_OF_FREEDOM[motion];
  const [x, y, e] = [0.7, -0.4, 1e-6];
  const du = new Float64Array(8);
  const dv = new Float64Array(8);
  warpDerivatives(motion, x, y, du, dv);
  for (let k = 0; k < dof; k++) {
    const step = Array.from({ length: dof }, (_, i) => (i === k ? e : 0));
    const [u, v] = applyToPoint(warpFromParameters(motion, step), [x, y]);
    expect((u - x) / e).toBeCloseTo(du[k]!, 4);
    expect((v - y) / e).toBeCloseTo(dv[k]!, 4);
  }
});

test('no parameters, no warp', () => {
  for (const motion of MOTIONS)
    warpFromParameters(motion, []).forEach((v, i) => expect(v).toBeCloseTo(i % 4 === 0 ? 1 : 0, 12));
});

test('the stiffer of two motions has fewer degrees of freedom', () => {
  expect(stiffer('perspective', 'similarity')).toBe('similarity');
  expect(stiffer('translation', 'affine')).toBe('translation');
});

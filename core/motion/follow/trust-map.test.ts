import { expect, test } from 'vitest';
import { picturesOf } from '../../test/follow-memory.ts';
import { noisyPlane, wavePlane } from '../../test/planes.ts';
import { createScratch } from './align-level.ts';
import { buildTemplate, type Template } from './template.ts';
import { TrustMap } from './trust-map.ts';

const W = 120;
const H = 96;
/** A template, and a trust map that is shown residuals: noise everywhere, and within some of the points those of a shift to the right. */
function told(frames: number, shifted: (x: number, y: number) => boolean, off = 0.6) {
  const [reference] = picturesOf([wavePlane(W, H)]);
  const template = buildTemplate(reference!, new Uint8Array(W * H).fill(1)) as Template;
  const level = template.levels[0]!;
  const s = createScratch(reference!.set, level);
  const trust = new TrustMap(template);
  const { count, xs, ys, plane } = level;
  const noise = noisyPlane(W, H, 5);
  const speak = (disturbed: boolean) => {
    for (let i = 0; i < count; i++) {
      const at = (ys[i]! * W + xs[i]!) * 4;
      const gx = plane.texels[at + 1]!;
      const gy = plane.texels[at + 2]!;
      [s.blurred[i], s.blurred[i + count], s.blurred[i + 2 * count], s.blurred[i + 3 * count]] = [
        plane.texels[at]!,
        gx,
        gy,
        1,
      ];
      s.sampled[i] =
        0.014 * (noise.data[ys[i]! * W + xs[i]!]! - 0.5) + (disturbed && shifted(xs[i]!, ys[i]!) ? off * gx : 0);
      [s.sampled[i + count], s.sampled[i + 2 * count], s.sampled[i + 3 * count]] = [gx, gy, 1];
    }
    trust.learn(level, s, 1, 0.004);
  };
  for (let k = 0; k < frames; k++) speak(true);
  const believed = (from = trust) => {
    for (const each of template.levels) each.prior.fill(1);
    from.weigh((each) => each.prior);
    const mean = (inside: boolean) => {
      let sum = 0;
      let n = 0;
      for (let i = 0; i < count; i++) if (shifted(xs[i]!, ys[i]!) === inside) [sum, n] = [sum + level.prior[i]!, n + 1];
      return sum / n;
    };
    return { inside: mean(true), outside: mean(false) };
  };
  return { trust, template, believed, speak };
}
const patch = (x: number, y: number) => x >= 60 && x < 96 && y >= 36 && y < 72;

test('what would like to move on every frame is believed less and less, the rest as before', () => {
  const [once, often] = [told(1, patch), told(8, patch)].map((t) => t.believed());
  expect(once!.outside).toBeGreaterThan(0.8);
  expect(often!.outside).toBeGreaterThan(0.8);
  expect(often!.inside).toBeLessThan(0.15);
  expect(once!.inside).toBeGreaterThan(often!.inside);
});

test('what goes along again is believed again; it was never wholly left out', () => {
  const { believed, speak } = told(8, patch);
  expect(believed().inside).toBeGreaterThanOrEqual(0.02 - 1e-6);
  for (let k = 0; k < 14; k++) speak(false);
  expect(believed().inside).toBeGreaterThan(0.7);
});

test('what is learnt is kept in whole numbers; another region’s is refused', () => {
  const { trust, template, believed } = told(5, patch);
  const state = trust.state();
  const again = new TrustMap(template);
  expect(state.every(Number.isInteger)).toBe(true);
  again.restore(state);
  expect(again.state()).toEqual(state);
  expect(believed(again)).toEqual(believed());
  expect(() => again.restore(state.slice(1))).toThrow(/cells/);
});

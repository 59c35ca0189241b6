import { describe, expect, test } from 'vitest';
import { DISPLAY_COLOUR } from '../../base/image/plate-colour.ts';
import type { ColourKey } from '../../base/schemas/types.ts';
import { GREEN, greenScreen, SCREEN_QUAD } from '../../test/green-screen.ts';
import { calmExcess } from './calm-excess.ts';
import { frontOfFrame } from './front-of-frame.ts';

const noise = (() => {
  let state = 7;
  return () => ((state = (state * 1103515245 + 12345) % 2147483648) / 2147483648 - 0.5) * 0.2;
})();
const W = 80;
const H = 60;
const step = Float32Array.from({ length: W * H }, (_, i) => (i % W < 40 ? 0.1 : 0.6));
const noisy = step.map((v) => v + noise());
const inside = new Float32Array(W * H).fill(1);
const rms = (a: Float32Array, from: number, to: number) =>
  Math.sqrt(a.reduce((s, v, i) => (i % W >= from && i % W < to ? s + (v - step[i]!) ** 2 : s), 0) / ((to - from) * H));

describe('the excess with less noise', () => {
  const calm = calmExcess(noisy, inside, W, H, 1.5);
  test('the noise is less than half of what it was, and the edge stays where it is', () => {
    expect(rms(calm, 2, 36)).toBeLessThan(0.5 * rms(noisy, 2, 36));
    expect(rms(calm, 38, 42)).toBeLessThan(rms(noisy, 38, 42));
  });
  test('without noise, or without an inside to tell it by, nothing is changed', () => {
    const even = calmExcess(step, inside, W, H, 1.5);
    const blind = calmExcess(noisy, new Float32Array(W * H), W, H, 1.5);
    step.forEach((v, i) => expect(even[i]).toBeCloseTo(v, 6));
    expect(blind).toEqual(noisy);
  });
});

test('a noisy plate is keyed more nearly to what stands before it, and keeps its own light', () => {
  const scene = greenScreen({ noise: 0.16 });
  const scope = {
    outline: SCREEN_QUAD,
    smeared: [SCREEN_QUAD],
    motion: { before: null, now: SCREEN_QUAD, after: null },
    frame: 0,
    reference: null,
    referenceFrame: 0,
    shutter: 0,
    phase: 0,
    mostMoments: 1,
  };
  const matteOf = (denoise: number) => {
    const key: ColourKey = { colour: [...GREEN], floor: 0.02, ceiling: 0.9, ...(denoise > 0 ? { denoise } : {}) };
    const found = frontOfFrame(
      scene.picture,
      DISPLAY_COLOUR,
      { keys: [key], markers: [], shapes: [], difference: null, spill: null, edge: {} },
      scope,
    )!;
    let off = 0;
    let n = 0;
    for (let row = found.box.top, i = 0; row < found.box.bottom; row++)
      for (let col = found.box.left; col < found.box.right; col++, i++)
        if (found.limit[i]! >= 1) {
          off += (1 - found.front[i]! - scene.screen[row * 160 + col]!) ** 2;
          n++;
        }
    return { off: Math.sqrt(off / n), light: found.region.planes[1].slice() };
  };
  const plain = matteOf(0);
  const calmed = matteOf(1.5);
  expect(calmed.off).toBeLessThan(0.75 * plain.off);
  expect(calmed.light).toEqual(plain.light);
});

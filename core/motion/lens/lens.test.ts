import { expect, test } from 'vitest';
import { bend, straighten, type Lens } from './lens.ts';

const barrel: Lens = { k1: -0.18, k2: 0.03, k3: -0.002, centre: [961.5, 538], focal: 1400 };

test('a filmed point straightened and bent again is where it was, over the whole picture', () => {
  let worst = 0;
  for (let x = 0; x <= 1920; x += 60)
    for (let y = 0; y <= 1080; y += 60) {
      const [u, v] = bend(barrel, straighten(barrel, [x, y]));
      worst = Math.max(worst, Math.hypot(u - x, v - y));
    }
  expect(worst).toBeLessThan(1e-8);
});

test('by hand: f = 1000, k1 = −0.1 films a point at (300, 400) from the centre at 0.975 of that (r² = 0.25)', () => {
  const [x, y] = bend({ k1: -0.1, k2: 0, k3: 0, centre: [500, 400], focal: 1000 }, [800, 800]);
  expect([x, y]).toEqual([500 + 300 * 0.975, 400 + 400 * 0.975]);
});

test('the centre stays, and where the lens films nothing there is nothing', () => {
  expect(straighten(barrel, barrel.centre)).toEqual([...barrel.centre]);
  expect(straighten({ ...barrel, k1: -0.5, k2: 0, k3: 0 }, [961.5 + 1400 * 0.6, 538])[0]).toBe(Infinity);
});

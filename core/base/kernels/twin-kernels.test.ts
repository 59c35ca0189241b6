import { describe, expect, test } from 'vitest';
import { compiledFactory } from '../../../server/kernels/load-kernels.ts';
import { noisyPlane } from '../../test/planes.ts';
import { plainKernels } from './index.ts';
import { roundOf, apart } from '../../test/kernel-rounds.ts';

describe('the compiled kernels do what the plain ones do', () => {
  test('a round of alignment', () => {
    const plain = roundOf(plainKernels);
    const compiled = roundOf(compiledFactory());
    expect(compiled.visible).toBe(plain.visible);
    expect(plain.visible).toBeGreaterThan(200);
    for (const part of ['blurred', 'sampled', 'tukey', 'huber', 'sums'] as const)
      expect(apart(compiled[part], plain[part]), part).toBeLessThan(2e-5);
    // A residual at the very border of a bin may fall to either side.
    let moved = 0;
    compiled.histogram.forEach((n, i) => (moved += Math.abs(n - plain.histogram[i]!)));
    expect(moved).toBeLessThanOrEqual(6);
  });

  test.each<[string, 255 | 65535]>([
    ['8 bits', 255],
    ['16 bits', 65535],
  ])('signal of codes of %s, pyramid, texels under a mask', (_, peak) => {
    const width = 37;
    const height = 23;
    const noise = noisyPlane(width, height, 5).data;
    const levels = Array.from(noise, (v) => Math.floor(v * peak));
    const codes = peak === 255 ? Uint8Array.from(levels) : Uint16Array.from(levels);
    const table = Float32Array.from({ length: peak + 1 }, (_, i) => i / peak + 0.01);
    const [plain, compiled] = [plainKernels, compiledFactory()].map((factory) => {
      const set = factory.open(1_000_000);
      const signal = set.floats(width * height);
      const half = set.floats(19 * 12);
      const texels = set.floats(4 * 19 * 12);
      const mask = set.bytes(width * height);
      mask.forEach((_, i) => (mask[i] = i % 3 === 0 ? 0 : 1));
      set.signal(codes, width, height, table, signal);
      set.pyramidDown(signal, width, height, half);
      set.texels(half, 19, 12, mask, width, 1, { left: 2, top: 0, right: 19, bottom: 11 }, texels);
      return { signal, half, texels };
    });
    for (const part of ['signal', 'half', 'texels'] as const)
      expect(apart(compiled![part], plain![part]), part).toBeLessThan(1e-6);
  });

  test('an array of another memory is refused, a full memory is reported', () => {
    const set = compiledFactory().open(1000);
    expect(() => set.pyramidDown(new Float32Array(16), 4, 4, set.floats(4))).toThrow(/memory/);
    expect(() => set.floats(10_000_000)).toThrow(/full/);
  });
});

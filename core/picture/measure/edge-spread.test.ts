import { describe, expect, test } from 'vitest';
import { discEdge, edgeModel, erf, gaussianEdge, gaussianTransfer } from './edge-model.ts';
import { fitEdge, type EdgePixels } from './edge-spread.ts';

/** Pixels about an edge turned by `degrees`, each the mean of an edge-spread function over its square. */
function slanted(edge: (d: number) => number, degrees: number, place: number, reach = 9): EdgePixels {
  const turn = (degrees * Math.PI) / 180;
  const nx = Math.cos(turn);
  const ny = Math.sin(turn);
  const along: number[] = [];
  const across: number[] = [];
  const light: number[] = [];
  const fine = 10;
  for (let y = -20; y < 20; y++) {
    for (let x = -20; x < 20; x++) {
      const d = (x + 0.5) * nx + (y + 0.5) * ny;
      const t = (y + 0.5) * nx - (x + 0.5) * ny;
      if (Math.abs(d) > reach || Math.abs(t) > 18) continue;
      let sum = 0;
      for (let j = 0; j < fine; j++)
        for (let i = 0; i < fine; i++) sum += edge((x + (i + 0.5) / fine) * nx + (y + (j + 0.5) / fine) * ny - place);
      along.push(t);
      across.push(d);
      light.push(0.02 + (0.3 * sum) / (fine * fine));
    }
  }
  return {
    along: Float64Array.from(along),
    across: Float64Array.from(across),
    light: Float64Array.from(light),
    count: light.length,
    normal: [nx, ny],
  };
}

describe('edge-spread functions', () => {
  test('error function (Abramowitz and Stegun, Handbook of Mathematical Functions, table 7.1)', () => {
    for (const [x, value] of [
      [0, 0],
      [0.5, 0.5204998778],
      [1, 0.8427007929],
      [2, 0.995322265],
    ] as const) {
      expect(Math.abs(erf(x) - value)).toBeLessThan(2e-7);
      expect(erf(-x)).toBeCloseTo(-erf(x), 6);
    }
  });

  test('a gaussian edge rises from 10 to 90 % over 2.5631 σ', () => {
    expect(gaussianEdge(-1.28155 * 2, 2)).toBeCloseTo(0.1, 5);
    expect(gaussianEdge(1.28155 * 2, 2)).toBeCloseTo(0.9, 5);
  });

  test('a gaussian passes half of the contrast at 0.1874/σ cycles a pixel (MTF50: √(ln 2 / 2) / π / σ, by hand)', () => {
    for (const sigma of [0.5, 1, 3])
      expect(gaussianTransfer(Math.sqrt(Math.LN2 / 2) / Math.PI / sigma, sigma)).toBeCloseTo(0.5, 9);
    expect(Math.sqrt(Math.LN2 / 2) / Math.PI).toBeCloseTo(0.1874, 4);
  });

  test("the transfer is the Fourier transform of the edge's slope", () => {
    const sigma = 1.3;
    const frequency = 0.12;
    const step = 0.01;
    let re = 0;
    for (let d = -10; d < 10; d += step)
      re +=
        (gaussianEdge(d + step, sigma) - gaussianEdge(d, sigma)) * Math.cos(2 * Math.PI * frequency * (d + step / 2));
    expect(re).toBeCloseTo(gaussianTransfer(frequency, sigma), 4);
  });

  test("a disc's edge is half at its middle and ends at its radius", () => {
    expect(discEdge(0, 3)).toBe(0.5);
    expect(discEdge(-3, 3)).toBe(0);
    expect(discEdge(3, 3)).toBe(1);
    // A chord at half the radius: 1/2 + (½·√¾ + π/6)/π, by hand.
    expect(discEdge(1.5, 3)).toBeCloseTo(0.8045, 4);
  });

  test('every model rises from 0 to 1, and its ramp is its integral', () => {
    for (const [kind, softness] of [
      ['gaussian', 0.5],
      ['gaussian', 2],
      ['disc', 3],
    ] as const) {
      const model = edgeModel(kind, softness, [Math.cos(0.3), Math.sin(0.3)]);
      const [edges, ramps] = [new Float64Array(1), new Float64Array(1)];
      const edge = (d: number) => (model.sample(Float64Array.of(d), edges, ramps), edges[0]!);
      const ramp = (d: number) => (model.sample(Float64Array.of(d), edges, ramps), ramps[0]!);
      expect(edge(-12)).toBeLessThan(1e-6);
      expect(edge(12)).toBeGreaterThan(1 - 1e-6);
      let sum = 0;
      for (let d = -12; d < 1; d += 0.01) sum += 0.01 * edge(d + 0.005);
      expect(Math.abs(ramp(1) - sum)).toBeLessThan(0.01);
    }
  });
});

describe('fitEdge, the slanted-edge method (ISO 12233) on generated edges', () => {
  test.each([
    [1, 4],
    [1.5, 12],
    [2, 45],
    [4, 7],
  ])('σ %f px at %f°', (sigma, degrees) => {
    const fit = fitEdge(
      slanted((d) => gaussianEdge(d, sigma), degrees, 0.3, 3 * sigma + 1),
      'gaussian',
      1,
    )!;
    expect(Math.abs(fit.spread - sigma)).toBeLessThan(0.06 * sigma);
    expect(fit.place).toBeCloseTo(0.3, 1);
    expect(Math.abs(fit.step - 0.3)).toBeLessThan(0.01);
  });

  test('a disc is distinguished from a gaussian', () => {
    const pixels = slanted((d) => discEdge(d, 4), 9, 0, 12);
    const disc = fitEdge(pixels, 'disc', 3)!;
    const gaussian = fitEdge(pixels, 'gaussian', 2)!;
    expect(Math.abs(disc.spread - 4)).toBeLessThan(0.15);
    expect(disc.left).toBeLessThan(0.5 * gaussian.left);
  });

  test('where there is no edge there is no fit', () => {
    const flat = slanted(() => 0, 5, 0);
    expect(fitEdge(flat, 'gaussian', 1)?.step ?? 0).toBeLessThan(1e-6);
  });
});

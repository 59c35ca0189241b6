import { describe, expect, test } from 'vitest';
import { distance, type Quad } from '../../base/geometry/quad.ts';
import { lightPicture } from '../../base/image/light-sampler.ts';
import { borderLines } from './border-lines.ts';
import { bend, straighten, type Lens } from './lens.ts';
import { lensFromLines } from './lens-from-lines.ts';

const W = 480;
const H = 270;
const LENS: Lens = { k1: -0.09, k2: 0, k3: 0, centre: [240, 135], focal: 400 };
const STRAIGHT: Quad = [
  [40, 20],
  [430, 32],
  [440, 250],
  [30, 240],
];
const QUAD = STRAIGHT.map((p) => bend(LENS, p)) as unknown as Quad;
/** A dark screen with a bright frame, as the lens films it; `cover` px of its top side are hidden by something. */
function filmed(cover: readonly [number, number] = [0, 0]) {
  const inside = (p: readonly [number, number], by: number) =>
    Math.min(
      ...STRAIGHT.map((a, k) => {
        const b = STRAIGHT[(k + 1) % 4]!;
        const l = distance(a, b);
        return ((b[0] - a[0]) * (p[1] - a[1]) - (b[1] - a[1]) * (p[0] - a[0])) / l + by;
      }),
    );
  const step = (d: number) => Math.min(1, Math.max(0, d / 1.2 + 0.5));
  const codes = new Uint8Array(W * H);
  for (let y = 0; y < H; y++)
    for (let x = 0; x < W; x++) {
      const p = straighten(LENS, [x + 0.5, y + 0.5]);
      const frame = step(inside(p, 7));
      const screen = step(inside(p, 0));
      const covered = y < 60 && x > cover[0] && x < cover[1];
      codes[y * W + x] = covered ? 120 : Math.round(90 + frame * 110 - screen * 160);
    }
  return lightPicture({ width: W, height: H, codes, peak: 255 });
}
const off = (points: readonly (readonly [number, number])[], side: number) =>
  points.map((p) => {
    const [x, y] = straighten(LENS, p);
    const a = STRAIGHT[side]!;
    const b = STRAIGHT[(side + 1) % 4]!;
    return ((b[0] - a[0]) * (y - a[1]) - (b[1] - a[1]) * (x - a[0])) / distance(a, b);
  });

describe('borders of a surface through a lens', () => {
  test('are followed as they bend, from corners that are a little off', () => {
    const lines = borderLines(
      filmed(),
      QUAD.map(([x, y], i) => [x + 1.5 * Math.sin(3 * i), y + 1.5 * Math.cos(2 * i)]) as unknown as Quad,
    );
    expect(lines).toHaveLength(4);
    lines.forEach((line, side) => {
      // One change of light all along: of the screen, or of its frame 7 px outside; never from one to the other.
      const away = off(line, side);
      const middle = away[away.length >> 1]!;
      expect(line.length).toBeGreaterThan(36);
      expect(Math.min(Math.abs(middle), Math.abs(middle + 7))).toBeLessThan(0.3);
      expect(Math.max(...away.map((d) => Math.abs(d - middle)))).toBeLessThan(0.35);
    });
    expect(lensFromLines(lines, LENS.centre, LENS.focal)!.lens.k1).toBeCloseTo(LENS.k1, 2);
  });
  test('what covers a part of one is left out', () => {
    const [top] = borderLines(filmed([150, 260]), QUAD);
    expect(top!.filter(([x]) => x > 155 && x < 255)).toHaveLength(0);
    expect(top!.length).toBeGreaterThan(16);
  });
  test('where there is no border, and of a surface no larger than a stamp, there are none', () => {
    expect(
      borderLines(lightPicture({ width: W, height: H, codes: new Uint8Array(W * H).fill(90), peak: 255 }), QUAD),
    ).toEqual([]);
    expect(
      borderLines(filmed(), [
        [100, 100],
        [120, 100],
        [120, 115],
        [100, 115],
      ]),
    ).toEqual([]);
  });
});

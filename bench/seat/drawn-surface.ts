import { clamp } from '../../core/base/geometry/clamp.ts';
import { randomFrom } from '../../demo/scene/random.ts';
import type { LumaFrame } from '../../core/base/image/luma-frame.ts';
import type { Point } from '../../core/base/geometry/homography.ts';
import { distance, type Quad } from '../../core/base/geometry/quad.ts';
import { lightToCode } from '../../core/base/image/transfer.ts';
import { shiftedSide, sideOf, quadOfSides } from '../../core/surface/seat/sides.ts';
import { normalIntegral } from '../../core/surface/seat/step-fit.ts';

/** A screen in a frame before something, drawn exactly: every border is the integral of a gaussian of `blur` px across it, in light. */
export interface Drawing {
  readonly width: number;
  readonly height: number;
  readonly quad: Quad;
  readonly screen?: number;
  readonly bezel?: number;
  readonly behind?: number;
  /** How wide the frame is, px. */
  readonly margin?: number;
  /** The device's outline in place of a margin: on a moving plane it is carried as the screen is. */
  readonly outline?: Quad;
  readonly blur?: number;
  readonly noise?: number;
  readonly seed?: number;
  /** Light everywhere, times this. */
  readonly exposure?: number;
  /** Discs that lie over it. */
  readonly cover?: readonly { readonly at: Point; readonly radius: number; readonly light: number }[];
  /** Adds to the screen's light. */
  readonly pattern?: (x: number, y: number) => number;
}

/** 16-bit codes, so that nothing but the asked noise is rounded away. */
export function drawSurface({
  width,
  height,
  quad,
  screen = 0.5,
  bezel = 0.02,
  behind = 0.2,
  margin = 24,
  blur = 0.8,
  noise = 0,
  seed = 1,
  exposure = 1,
  cover = [],
  pattern,
  outline,
}: Drawing): LumaFrame {
  const outer = outline ?? quadOfSides([0, 1, 2, 3].map((k) => shiftedSide(sideOf(quad, k), margin, margin)))!;
  const codes = new Uint16Array(width * height);
  const random = randomFrom(seed);
  const inner = coverage(quad, blur);
  const device = coverage(outer, blur);
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const at: Point = [x + 0.5, y + 0.5];
      const lit = inner(at);
      let light =
        behind + (bezel - behind) * device(at) + (screen + (pattern && lit > 0 ? pattern(...at) : 0) - bezel) * lit;
      for (const disc of cover)
        light += (disc.light - light) * normalIntegral((disc.radius - distance(at, disc.at)) / 0.8);
      // A sum of uniform numbers is gaussian enough.
      if (noise > 0) light += noise * (random() + random() + random() + random() - 2) * Math.sqrt(3);
      codes[y * width + x] = Math.round(65535 * clamp(lightToCode(Math.max(0, light * exposure)), 0, 1));
    }
  }
  return { width, height, codes, peak: 65535 };
}

function coverage(quad: Quad, blur: number): (at: Point) => number {
  const sides = [0, 1, 2, 3].map((k) => sideOf(quad, k));
  return ([x, y]) =>
    sides.reduce(
      (share, { from, normal }) =>
        share * normalIntegral(-((x - from[0]) * normal[0] + (y - from[1]) * normal[1]) / blur),
      1,
    );
}

/** Distances of corners, px. */
export function cornerDistances(a: Quad, b: Quad): number[] {
  return a.map((corner, i) => distance(corner, b[i]!));
}

/** Each corner moved off by up to `off` px, alike for alike seeds. */
export function roughly(quad: Quad, off: number, seed = 5): Quad {
  const random = randomFrom(seed);
  return quad.map(([x, y]) => {
    const angle = 2 * Math.PI * random();
    const by = off * Math.sqrt(random());
    return [x + by * Math.cos(angle), y + by * Math.sin(angle)];
  }) as unknown as Quad;
}

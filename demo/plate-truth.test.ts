import { describe, expect, test } from 'vitest';
import type { LumaFrame } from '../core/base/image/luma-frame.ts';
import { lumaNoise } from '../bench/luma-noise.ts';
import { quantile } from '../core/base/image/statistics.ts';
import { PlateChecker, type PlateCheckResult } from '../core/motion/plate/plate-check.ts';
import type { Lens } from './scene/camera.ts';
import { renderFrame } from './scene/render.ts';
import { LUMA, recordFrame } from './scene/sensor.ts';
import type { Shot } from './scene/shot.ts';
import { visibleSmears } from './scene/visible-motion.ts';
import { benchTablet } from './shots/bench-tablet.ts';
import { ordersLaptop } from './shots/orders-laptop.ts';

/** The plate check against what the generator knows: the smear of every visible point, and the sensor's noise. */
interface Stretch {
  shot: Shot;
  first: number;
  last: number;
  shutter: number;
  /** Sub-frames: enough for how long the smears are. */
  samples: number;
}
interface Checked {
  result: PlateCheckResult;
  /** Of each frame: 0.9 quantile of the smears of what is seen, px; median noise of the luma, codes of 255. */
  smear: number[];
  noise: number[];
}

/** A smaller sensor behind the same lens scaled with it: the same picture, smears and all, in 9/16 of the time. */
const smaller = ({ width, height, focal }: Lens): Lens => ({
  width: 0.75 * width,
  height: 0.75 * height,
  focal: 0.75 * focal,
});

function check({ shot, first, last, shutter, samples }: Stretch): Checked {
  const whole = shot.scene();
  const scene = { ...whole, shutter, lens: smaller(whole.lens), samples };
  const checker = new PlateChecker();
  const smear: number[] = [];
  const noise: number[] = [];
  for (let frame = first; frame <= last; frame++) {
    const recorded = recordFrame(renderFrame(scene, frame), shot.noise, shot.seed * 1000 + frame);
    checker.add(lumaOf(recorded, scene.lens.width, scene.lens.height));
    smear.push(shutter === 0 ? 0 : quantile(visibleSmears(scene, frame, 30), 0.9));
    noise.push(lumaNoise(recorded, shot.noise));
  }
  return { result: checker.finish(), smear, noise };
}

function lumaOf(codes: Uint8Array, width: number, height: number): LumaFrame {
  const luma = new Uint16Array(width * height);
  for (let i = 0; i < luma.length; i++)
    luma[i] = Math.round(LUMA[0] * codes[i * 3]! + LUMA[1] * codes[i * 3 + 1]! + LUMA[2] * codes[i * 3 + 2]!);
  return { codes: luma, width, height, peak: 255 };
}

// Both begin slowly and gain speed, as what is held and turned by hand does.
const TABLET = { shot: benchTablet(), first: 27, last: 33, samples: 5 };
const LAPTOP = { shot: ordersLaptop(), first: 38, last: 43, samples: 10 };

describe('without loss by a codec', () => {
  test.each([
    ['bench tablet', TABLET],
    ['orders laptop', LAPTOP],
  ])(
    '%s: blur within 20 % or 2 px of what is seen smeared, noise within 15 %, on every frame; nothing found that is not there',
    (_, stretch) => {
      const { result, smear, noise } = check({ ...stretch, shutter: 0.5 });
      // So much that telling none would fail.
      expect(Math.max(...smear)).toBeGreaterThan(3.5);
      result.rows.forEach((row, i) => {
        expect(Math.abs(row.blur - smear[i]!)).toBeLessThanOrEqual(Math.max(2, 0.2 * smear[i]!));
        expect(Math.abs(row.noise - noise[i]!)).toBeLessThanOrEqual(0.15 * noise[i]!);
        expect([row.cut, row.flash, row.repeats]).toEqual([false, false, null]);
      });
      expect(Math.abs(result.shutter! - 0.5)).toBeLessThan(0.1);
      for (const {
        kind,
        frames: [from, to],
      } of result.findings) {
        expect(kind).toBe('blur');
        expect(Math.min(...smear.slice(from, to + 1))).toBeGreaterThan(2);
      }
    },
  );
  test('the tablet filmed without a smear has none', () => {
    const { result } = check({ ...TABLET, last: TABLET.first + 3, shutter: 0, samples: 2 });
    expect(result.rows.map((r) => r.blur)).toEqual(result.rows.map(() => 0));
    expect(result.findings.filter((f) => f.kind !== 'fast')).toEqual([]);
  });
});

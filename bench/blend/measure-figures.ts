import { grainAt } from '../../core/picture/blend/grain-field.ts';
import { blurBursts } from '../../demo/conditions/blur-bursts.ts';
import { clean } from '../../demo/conditions/clean.ts';
import { darkReflection, lightChange } from '../../demo/conditions/dark-reflection.ts';
import { SEEDS } from '../../demo/make-conditions.ts';
import type { FigureRow } from './figure-row.ts';
import { colouredRecord, measuredFrames, type ColouredNoise } from './generated-frames.ts';
import { median } from '../../core/base/image/statistics.ts';

const SOFTNESS = [0.5, 1, 2, 4] as const;
const SHUTTERS = [90, 180, 270, 360] as const;
const FRAMES = 4;
const NOISES: readonly { title: string; noise: ColouredNoise }[] = [
  { title: 'white', noise: { floor: 0.004, shot: 0.01, channels: [1, 1, 1], size: 0 } },
  { title: 'coloured, of 0.7 px', noise: { floor: 0.006, shot: 0.012, channels: [1.2, 0.8, 1.5], size: 0.7 } },
];

/** Softness, shutter, grain and exposure against what the plates were made with. */
export function measureFigures(): FigureRow[] {
  return [
    ...SOFTNESS.map((softness): FigureRow => ({
      title: `softness of ${softness} px, off by`,
      unit: 'px',
      digits: 3,
      asked: Math.max(0.1, 0.1 * softness),
      below: true,
      seeds: SEEDS.map((seed) =>
        Math.abs(
          median(measuredFrames(clean.make(seed), { softness }, 'soft', FRAMES).softness.map((s) => s.sigma)) -
            softness,
        ),
      ),
    })),
    ...SHUTTERS.map((degrees): FigureRow => ({
      title: `shutter of ${degrees}°, bursts of blur, off by`,
      unit: '°',
      digits: 1,
      asked: 8,
      below: true,
      seeds: SEEDS.map((seed) => {
        const found = measuredFrames(blurBursts.make(seed), { shutter: degrees / 360 }, 'fast', FRAMES).shutter;
        return found ? Math.abs(found.open * 360 - degrees) : 360;
      }),
    })),
    ...NOISES.map(({ title, noise }): FigureRow => ({
      title: `grain (${title}), σ of every channel at levels 0.1–0.8, off by at most`,
      unit: '%',
      digits: 1,
      asked: 10,
      below: true,
      seeds: SEEDS.map((seed) => {
        const found = measuredFrames(clean.make(seed), { record: colouredRecord(noise) }, 'grain', FRAMES).grain;
        return found
          ? Math.max(
              ...[0.1, 0.25, 0.4, 0.6, 0.8].flatMap((level) =>
                ([0, 1, 2] as const).map((c) => {
                  // What is rounded to codes adds a twelfth of a code's square.
                  const true2 =
                    noise.channels[c] ** 2 * (noise.floor ** 2 + noise.shot ** 2 * level) + 1 / 12 / 255 / 255;
                  return 100 * Math.abs(grainAt(found.grain, level, c) / Math.sqrt(true2) - 1);
                }),
              ),
            )
          : 100;
      }),
    })),
    {
      title: 'exposure within ± 1 stop, worst frame',
      unit: 'stops',
      digits: 3,
      asked: 0.05,
      below: true,
      seeds: SEEDS.map((seed) => {
        const shot = darkReflection.make(seed);
        const { lights, home } = measuredFrames(shot, {}, 'light', 48);
        const at = (frame: number) => Math.log2(lightChange(frame, seed) / lightChange(home, seed));
        return Math.max(...lights.map(({ frame, around }) => (around ? Math.abs(around.stops - at(frame)) : 9)));
      }),
    },
  ];
}

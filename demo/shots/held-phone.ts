import { turnedPlane, type CameraPose, type Lens, type PlanePose } from '../scene/camera.ts';
import { degrees, ease, wander } from '../scene/motion.ts';
import type { Finger } from '../scene/render.ts';
import type { Shot } from '../scene/shot.ts';
import { light } from '../scene/texture.ts';
import { pottingBench, seedlingShelf } from '../textures/bench.ts';
import { greenPanel, meanLight, tabletFace } from '../textures/devices.ts';

const WIDTH = 7.4;
const HEIGHT = 15.2;
const SCREEN = { left: 0.4, top: 0.9, width: 6.6, height: 13.2 };
const GLOVE = [0.3, 0.29, 0.25] as const;
const SLEEVE = [0.06, 0.08, 0.13] as const;
/** Of the screen's light that falls on a glove lying on it. */
const SPILL = { strength: 0.55, reach: 1.6, sheen: 0.07 };

export interface HeldPhoneOptions {
  seed?: number;
  lens?: Lens;
  frames?: number;
  name?: string;
}

/** A phone with a green panel and markers, held in a glove before green seedlings; fingers of the other hand cross it, and it is moved aside quickly. */
export function heldPhone({
  seed = 51,
  lens = { width: 1280, height: 720, focal: 1120 },
  frames = 60,
  name = 'held-phone',
}: HeldPhoneOptions = {}): Shot {
  const side = seed % 2 === 0 ? -1 : 1;
  const face = tabletFace(WIDTH, HEIGHT, 60, seed);
  const green = greenPanel(SCREEN.width, SCREEN.height, 60, 2, 4);
  const bench = pottingBench(190, 100, 14, seed + 2);
  const shelf = seedlingShelf(300, 160, 8, seed + 3);
  const jerk = (time: number) =>
    ease(0.62 * frames, 0.72 * frames, time) - 0.6 * ease(0.8 * frames, 0.92 * frames, time);
  const pose = (time: number): PlanePose =>
    turnedPlane(
      [
        0.5 * wander(time, 31, seed) + side * 2.4 * jerk(time),
        0.4 * wander(time, 27, seed + 1),
        0.8 * wander(time, 45, seed + 6),
      ],
      WIDTH,
      HEIGHT,
      degrees(side * (11 + 5 * wander(time, 53, seed + 2))),
      degrees(-9 + 4 * wander(time, 47, seed + 3)),
      degrees(side * (4 + 3 * wander(time, 39, seed + 4) + 9 * jerk(time))),
    );
  const camera = (time: number): CameraPose => ({
    position: [0.4 * wander(time, 33, seed + 7), 1 + 0.3 * wander(time, 28, seed + 8), 28],
    target: [0.4 * wander(time, 37, seed + 9), 0.2 * wander(time, 25, seed + 10), 0],
    roll: degrees(wander(time, 43, seed + 11)),
  });
  return {
    name,
    title: 'Held phone',
    frames,
    rate: [25, 1],
    seed,
    noise: { floor: 0.004, shot: 0.008 },
    content: 'potting-round.png',
    levels: { black: 0.06, white: 0.86 },
    region: [
      [-0.2, -0.2],
      [WIDTH + 0.2, -0.2],
      [WIDTH + 0.2, HEIGHT + 0.2],
      [-0.2, HEIGHT + 0.2],
    ],
    keepOut:
      side > 0
        ? [
            [-1.5, 7.2],
            [2.9, 7.2],
            [2.9, 15.8],
            [-1.5, 15.8],
          ]
        : [
            [WIDTH + 1.5, 7.2],
            [WIDTH - 2.9, 7.2],
            [WIDTH - 2.9, 15.8],
            [WIDTH + 1.5, 15.8],
          ],
    referenceFrame: 3,
    unmarked: () => greenPanel(SCREEN.width, SCREEN.height, 60, 2, 4, false),
    scene: (screen = green) => ({
      lens,
      shutter: 0.5,
      samples: 32,
      softness: 0.7,
      camera,
      fingers: (time) => hands(time, frames, seed, side),
      spill: { ...SPILL, light: meanLight(screen) },
      cards: [
        { texture: face, radius: 0.9, pose, screen: { ...SCREEN, texture: screen } },
        { texture: bench, radius: 0, pose: () => ({ origin: [-95, -16, -90], right: [1, 0, 0], down: [0, 0, 1] }) },
        { texture: shelf, radius: 0, pose: () => turnedPlane([0, 8, -46], 300, 160, 0, 0) },
      ],
      backdrop: light([0.3, 0.42, 0.28]),
    }),
  };
}

/** In the phone's own centimetres: the thumb and finger tips that hold it, and two fingers of the other hand that come in, tap, and go. */
function hands(time: number, frames: number, seed: number, side: number): Finger[] {
  const x = (fromLeft: number) => (side > 0 ? fromLeft : WIDTH - fromLeft);
  const slide = wander(time, 23, seed + 12);
  const at = (share: number) => share * frames;
  const thumb: Finger = {
    from: [x(-1.6), 15.4],
    to: [x(1.5 + 0.25 * slide), 9.2 - 0.4 * slide],
    radius: 0.98,
    colour: GLOVE,
  };
  const tips = [5.2, 7.3, 9.4].map((y, i): Finger => ({
    from: [x(8.6), y + 0.7],
    to: [x(7.05 + 0.05 * i), y + 0.1 * slide],
    radius: 0.72,
    colour: GLOVE,
  }));
  const comes = ease(at(0.1), at(0.3), time) * (1 - ease(at(0.62), at(0.8), time));
  const taps = 0.5 * Math.sin(time * 0.55) * comes;
  const reach = 9.5 * (1 - comes);
  const tip: [number, number] = [x(4.1 + reach + taps), 4.6 + 1.2 * slide + 0.3 * taps];
  const pointing: Finger[] =
    comes <= 0
      ? []
      : [
          { from: [x(8.4 + reach), 8.4 + slide], to: tip, radius: 0.82, colour: GLOVE },
          {
            from: [x(9 + reach), 9.6 + slide],
            to: [x(5.6 + reach + 0.6 * taps), 7.4 + slide],
            radius: 0.84,
            colour: GLOVE,
          },
          { from: [x(10 + reach), 9.4 + slide], to: [x(13 + reach), 11.6 + slide], radius: 2.1, colour: GLOVE },
          { from: [x(13.4 + reach), 11.8 + slide], to: [x(24 + reach), 18], radius: 2.4, colour: SLEEVE },
        ];
  return [...pointing, thumb, { from: [x(-1.6), 15.4], to: [x(-2.2), 24], radius: 2.3, colour: SLEEVE }, ...tips];
}

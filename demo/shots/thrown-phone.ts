import { turnedPlane, type CameraPose, type Lens, type PlanePose } from '../scene/camera.ts';
import { degrees, ease, wander } from '../scene/motion.ts';
import type { Finger } from '../scene/render.ts';
import type { Shot } from '../scene/shot.ts';
import { light } from '../scene/texture.ts';
import { glasshouseWall, pottingBench } from '../textures/bench.ts';
import { greenWithMarkers, tabletFace } from '../textures/devices.ts';

const WIDTH = 7.4;
const HEIGHT = 15.2;
const FRAMES = 64;
const SCREEN = { left: 0.4, top: 0.9, width: 6.6, height: 13.2 };
const GLOVE = [0.4, 0.43, 0.3] as const;
const SLEEVE = [0.2, 0.24, 0.3] as const;
/** Frames on which the hand lets go and catches, and how fast it throws, cm a frame. */
export const RELEASED = 20;
export const CAUGHT = 42;
export const THROWN_AT = 4.4;

/** Speed upwards, cm a frame: still, a dip, the throw, free flight, caught. Its steps are those of the acceleration. */
const SPEED: readonly (readonly [number, number])[] = [
  [0, 0],
  [8, 0],
  [11, -1.3],
  [14, 0],
  [RELEASED, THROWN_AT],
  [CAUGHT, -THROWN_AT],
  [CAUGHT + 6, 0],
  [FRAMES + 2, 0],
];

/** Height over where it is held at first, cm: the speed's integral. */
function height(time: number): number {
  let sum = 0;
  for (let i = 0; i + 1 < SPEED.length; i++) {
    const [from, a] = SPEED[i]!;
    const [to, b] = SPEED[i + 1]!;
    const t = Math.min(1, Math.max(0, (time - from) / (to - from)));
    sum += (to - from) * (a * t + ((b - a) * t * t) / 2);
  }
  return sum;
}

export interface PhoneOptions {
  seed?: number;
  lens?: Lens;
  name?: string;
}

/** A phone with a green panel and small markers, thrown up by a gloved hand and caught again, turning half over. */
export function thrownPhone({
  seed = 31,
  lens = { width: 1280, height: 720, focal: 1120 },
  name = 'thrown-phone',
}: PhoneOptions = {}): Shot {
  const side = seed % 2 === 0 ? -1 : 1;
  const face = tabletFace(WIDTH, HEIGHT, 50, seed);
  const green = greenWithMarkers(SCREEN.width, SCREEN.height, 50, 3, 6);
  const bench = pottingBench(190, 100, 14, seed + 2);
  const wall = glasshouseWall(760, 260, 5, seed + 3);
  const centre = (time: number): [number, number, number] => [
    side * (-4 + 8 * ease(RELEASED - 4, CAUGHT + 4, time)) + 0.3 * wander(time, 30, seed),
    -13 + height(time) + 0.2 * wander(time, 26, seed + 1),
    3 * Math.sin(time * 0.07 + seed),
  ];
  const pose = (time: number): PlanePose => {
    const away = ease(RELEASED - 5, RELEASED + 9, time);
    const back = ease(CAUGHT - 9, CAUGHT + 4, time);
    return turnedPlane(
      centre(time),
      WIDTH,
      HEIGHT,
      degrees(side * (8 + 34 * away - 52 * back)),
      degrees(-10 - 28 * away + 34 * back),
      degrees(side * 180 * ease(RELEASED - 4, CAUGHT + 3, time)),
    );
  };
  const camera = (time: number): CameraPose => ({
    position: [0.5 * wander(time, 33, seed + 4), 4 + 0.4 * wander(time, 27, seed + 5), 62],
    target: [0.5 * wander(time, 29, seed + 6), -6 + 0.36 * height(time - 3), 0],
    roll: degrees(1.2 * wander(time, 41, seed + 7)),
  });
  return {
    name,
    title: 'Thrown phone',
    frames: FRAMES,
    rate: [50, 1],
    seed,
    noise: { floor: 0.004, shot: 0.008 },
    content: 'potting-round.png',
    levels: { black: 0.06, white: 0.86 },
    region: [
      [-0.3, -0.3],
      [WIDTH + 0.3, -0.3],
      [WIDTH + 0.3, HEIGHT + 0.3],
      [-0.3, HEIGHT + 0.3],
    ],
    keepOut: [
      [-1, 12],
      [2.6, 11.6],
      [3.6, 15.8],
      [-1, 15.8],
    ],
    referenceFrame: 4,
    scene: (screen = green) => ({
      lens,
      shutter: 0.8,
      samples: 48,
      softness: 0.6,
      camera,
      fingers: (time) => glove(time, pose(time), centre(time)),
      cards: [
        { texture: face, radius: 0.9, pose, screen: { ...SCREEN, texture: screen } },
        { texture: bench, radius: 0, pose: () => ({ origin: [-95, -24, -60], right: [1, 0, 0], down: [0, 0, 1] }) },
        { texture: wall, radius: 0, pose: () => turnedPlane([-20, 30, -130], 760, 260, 0, 0) },
      ],
      backdrop: light([0.5, 0.55, 0.5]),
    }),
  };
}

/** The gloved hand: it goes with the phone while it holds it, and waits below while it flies. As fingers are given, in the phone's own centimetres. */
function glove(time: number, { origin, right, down }: PlanePose, centre: readonly [number, number, number]): Finger[] {
  const holds = 1 - ease(RELEASED, RELEASED + 5, time) + ease(CAUGHT - 4, CAUGHT, time);
  const waits = height(RELEASED) - 15.5;
  const y = holds * centre[1] + (1 - holds) * waits;
  const place = (dx: number, dy: number): [number, number] => {
    const offset = [centre[0] + dx - origin[0], y + dy - origin[1], centre[2] - origin[2]] as const;
    const along = (axis: readonly [number, number, number]) =>
      axis[0] * offset[0] + axis[1] * offset[1] + axis[2] * offset[2];
    return [along(right), along(down)];
  };
  const part = (
    from: [number, number],
    to: [number, number],
    radius: number,
    colour: Finger['colour'] = GLOVE,
  ): Finger => ({ from: place(...from), to: place(...to), radius, colour });
  return [
    part([-3, -24], [-2, -11.5], 3.2, SLEEVE),
    part([-4.4, -9.6], [-1.2, -5.6], 0.95),
    part([3.9, -9.4], [3.7, -6.6], 0.75),
    part([3.9, -7.4], [3.8, -4.4], 0.7),
    part([-2.4, -11.6], [2.2, -10.4], 2.5),
  ];
}

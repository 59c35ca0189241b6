import { turnedPlane, type CameraPose } from '../scene/camera.ts';
import { degrees, ease, wander } from '../scene/motion.ts';
import type { Finger } from '../scene/render.ts';
import type { Shot } from '../scene/shot.ts';
import { light } from '../scene/texture.ts';
import { glasshouseWall, pottingBench } from '../textures/bench.ts';
import { darkGlass, greenWithMarkers, leafPicture, tabletFace } from '../textures/devices.ts';

const WIDTH = 24;
const HEIGHT = 16.4;
const FRAMES = 96;
const SCREEN = { left: 1.5, top: 1.6, width: 21, height: 13.125 };

export interface TabletOptions {
  seed?: number;
  screen?: keyof typeof SCREENS;
  /** A thumb holds the lower right corner. */
  thumb?: boolean;
}

const SCREENS = {
  picture: (width: number, height: number, seed: number) => leafPicture(width, height, 50, seed),
  dark: (width: number, height: number) => darkGlass(width, height, 50),
  green: (width: number, height: number) => greenWithMarkers(width, height, 50, 6, 4),
} as const;

/** The grower's tablet leaning on the potting bench; the camera goes round it until it is seen 35° from the side. */
export function benchTablet({ seed = 11, screen: shown = 'picture', thumb = false }: TabletOptions = {}): Shot {
  const face = tabletFace(WIDTH, HEIGHT, 50, seed);
  const resting = SCREENS[shown](SCREEN.width, SCREEN.height, seed + 1);
  const bench = pottingBench(190, 100, 16, seed + 2);
  const wall = glasshouseWall(760, 220, 5, seed + 3);
  const camera = (time: number): CameraPose => {
    const angle = degrees(-6 + 41 * ease(8, 86, time));
    const distance = 43 - 3 * ease(20, 80, time);
    return {
      position: [
        distance * Math.sin(angle) + 0.35 * wander(time, 34, seed),
        9 + 1.5 * ease(0, 95, time) + 0.3 * wander(time, 27, seed + 1),
        distance * Math.cos(angle),
      ],
      target: [0.5 * wander(time, 41, seed + 2), 0.4 * wander(time, 31, seed + 3), 0],
      roll: degrees(1.4 * wander(time, 52, seed + 4)),
    };
  };
  return {
    name: ['bench-tablet', ...(shown === 'picture' ? [] : [shown]), ...(thumb ? ['thumb'] : [])].join('-'),
    title: 'Bench tablet',
    frames: FRAMES,
    rate: [25, 1],
    seed,
    noise: { floor: 0.004, shot: 0.008 },
    content: 'bed-temperatures.png',
    levels: { black: 0.06, white: 0.86 },
    region: [
      [-0.6, -0.6],
      [WIDTH + 0.6, -0.6],
      [WIDTH + 0.6, HEIGHT + 0.6],
      [-0.6, HEIGHT + 0.6],
    ],
    ...(thumb
      ? {
          keepOut: [
            [16.2, 17.4],
            [17.4, 9.4],
            [21.6, 8.8],
            [25.6, 17.4],
          ] as [number, number][],
        }
      : {}),
    referenceFrame: 34,
    scene: (screen = resting) => ({
      lens: { width: 1280, height: 720, focal: 1120 },
      shutter: 0.5,
      softness: 0.7,
      camera,
      ...(thumb ? { fingers: (time: number) => [thumbAt(time, seed)] } : {}),
      cards: [
        {
          texture: face,
          radius: 1.2,
          pose: () => turnedPlane([0, 0, 0], WIDTH, HEIGHT, 0, degrees(-22)),
          screen: { ...SCREEN, texture: screen },
        },
        { texture: bench, radius: 0, pose: () => ({ origin: [-105, -8, -55], right: [1, 0, 0], down: [0, 0, 1] }) },
        { texture: wall, radius: 0, pose: () => turnedPlane([-90, 30, -130], 760, 220, 0, 0) },
      ],
      backdrop: light([0.5, 0.55, 0.5]),
    }),
  };
}

/** A thumb from below that slides about a centimetre on the glass. */
function thumbAt(time: number, seed: number): Finger {
  const slide = wander(time, 23, seed + 8);
  return { from: [22.4, 18.5], to: [19.2 + 0.5 * slide, 11.4 - 0.4 * slide], radius: 1.15, colour: [0.42, 0.25, 0.18] };
}

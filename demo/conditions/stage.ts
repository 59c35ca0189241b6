import { turnedPlane, type CameraPose } from '../scene/camera.ts';
import { degrees, wander } from '../scene/motion.ts';
import type { Card, Scene } from '../scene/render.ts';
import type { Shot } from '../scene/shot.ts';
import { light, paintTexture, type Texture } from '../scene/texture.ts';
import { glasshouseWall, pottingBench } from '../textures/bench.ts';
import { darkGlass, greenWithMarkers, leafPicture, tabletFace } from '../textures/devices.ts';

/** What a condition's plates are held to. Corner errors in px, root mean square over the four corners of a frame. */
export interface Limits {
  /** Mean over the frames on which the device is seen. */
  mean?: number;
  /** Shares of those frames. */
  under1?: number;
  under5?: number;
  /** Root mean square second difference in time of the corner error, px. */
  jitter?: number;
}

/** One kind of trouble, made for any seed. */
export interface Condition {
  name: string;
  title: string;
  limits: Limits;
  make(seed: number): Shot;
  /** Constant rate factor of H.264 where the plate is not kept without loss. */
  compression?: number;
}

/** The tablet that most plates show, centimetres. */
export const TABLET = { width: 24, height: 16.4, screen: { left: 1.5, top: 1.6, width: 21, height: 13.125 } };
/** Roughly around it, as somebody would draw. */
export const AROUND_TABLET: [number, number][] = [
  [-0.6, -0.5],
  [TABLET.width + 0.5, -0.7],
  [TABLET.width + 0.7, TABLET.height + 0.5],
  [-0.5, TABLET.height + 0.6],
];

export type Shown = 'picture' | 'markers' | 'dark';

/** The tablet leaning at the middle of the world, or posed otherwise. */
export function tablet(
  seed: number,
  shown: Shown,
  pose: Card['pose'] = () => turnedPlane([0, 0, 0], TABLET.width, TABLET.height, 0, degrees(-18)),
): (screen?: Texture) => Card {
  const { screen: area } = TABLET;
  const resting =
    shown === 'dark'
      ? darkGlass(area.width, area.height, 40)
      : shown === 'markers'
        ? greenWithMarkers(area.width, area.height, 40, 5 + (seed % 3), 4)
        : leafPicture(area.width, area.height, 40, seed + 1);
  const face = tabletFace(TABLET.width, TABLET.height, 40, seed);
  return (screen = resting) => ({ texture: face, radius: 1.2, pose, screen: { ...area, texture: screen } });
}

/** What the device stands in: a potting bench under it, a glasshouse wall far behind. */
export function surroundings(seed: number): Card[] {
  return [
    {
      texture: pottingBench(190, 100, 14, seed + 2),
      radius: 0,
      pose: () => ({ origin: [-95, -8.4, -60], right: [1, 0, 0], down: [0, 0, 1] }),
    },
    {
      texture: glasshouseWall(760, 260, 5, seed + 3),
      radius: 0,
      pose: () => turnedPlane([-20, 30, -130], 760, 260, 0, 0),
    },
  ];
}

/** A window as reflections show it: bright panes between dark bars. */
export function windowPanes(widthCm: number, heightCm: number): Texture {
  return paintTexture(widthCm, heightCm, 4, (x, y) => {
    const bar = Math.min(Math.abs((x % 30) - 15), Math.abs((y % 38) - 19));
    return bar < 1.6 ? [0.06, 0.07, 0.07] : [0.93 - 0.2 * (y / heightCm), 0.95 - 0.15 * (y / heightCm), 0.97];
  });
}

/** A camera in a steady hand about `distance` cm in front of the device. */
export function handheld(seed: number, distance: number, sway = 1): (time: number) => CameraPose {
  return (time) => ({
    position: [
      sway * 1.2 * wander(time, 36, seed),
      8 + sway * 0.9 * wander(time, 29, seed + 1),
      distance + sway * 0.8 * wander(time, 44, seed + 5),
    ],
    target: [sway * 0.8 * wander(time, 41, seed + 2), sway * 0.6 * wander(time, 33, seed + 3), 0],
    roll: degrees(sway * 1.5 * wander(time, 52, seed + 4)),
  });
}

export const LENS = { width: 960, height: 540, focal: 860 };
export const BACKDROP = light([0.5, 0.55, 0.5]);

type Given = Pick<Shot, 'frames' | 'seed' | 'referenceFrame'> &
  Partial<Omit<Shot, 'scene'>> & { scene(screen?: Texture): Pick<Scene, 'camera' | 'cards'> & Partial<Scene> };

/** A plate of a condition, with all that most of them share. */
export function plateOf(condition: string, given: Given): Shot {
  return {
    name: `${condition}@${given.seed}`,
    title: condition,
    rate: [25, 1],
    noise: { floor: 0.004, shot: 0.008 },
    content: 'bed-temperatures.png',
    levels: { black: 0.06, white: 0.86 },
    region: AROUND_TABLET,
    ...given,
    scene: (screen) => ({ lens: LENS, shutter: 0.5, softness: 0.6, backdrop: BACKDROP, ...given.scene(screen) }),
  };
}

import { turnedPlane, type CameraPose, type Lens, type PlanePose, type Vector } from '../scene/camera.ts';
import { degrees, ease, wander } from '../scene/motion.ts';
import type { Card, Scene } from '../scene/render.ts';
import { darkGlass } from '../textures/devices.ts';
import { hallFloor, ivyWall, planter, planterCut, screenFace, walker, walkerCut } from '../textures/hall.ts';
import { BACKDROP, plateOf, type Condition } from './stage.ts';

/** How the hall is filmed. */
export type HallMove = 'walk' | 'turn' | 'zoom' | 'pan';

const WIDTH = 124;
const HEIGHT = 72;
const SCREEN = { left: 2, top: 2, width: 120, height: 67.5 };
const SHORT: Lens = { width: 960, height: 540, focal: 860 };

export interface HallShot {
  readonly move: HallMove;
  /** Somebody walks past. */
  readonly person?: boolean;
  readonly lens?: Lens;
  readonly frames?: number;
  /** Rows are read one after the other; share of a frame from the topmost to the lowest. */
  readonly rowTime?: number;
}

/** A planted hall with a wall screen that is off, nothing on it to hold to; the camera walks past, turns on its stand, or zooms in while it walks. */
export function hallScene(
  seed: number,
  { move, person = false, lens = SHORT, frames = 72, rowTime }: HallShot,
): (screen?: Card['texture']) => Pick<Scene, 'camera' | 'cards' | 'lens'> & Partial<Scene> {
  const last = frames - 1;
  const stand: Vector = [-40 + 20 * (seed % 3), 6, 430];
  const camera = (time: number): CameraPose => {
    const t = ease(-8, last + 8, time);
    const sway = (period: number, k: number) => wander(time, period, seed + k);
    if (move === 'turn')
      return {
        position: stand,
        target: [-95 + 190 * t + 3 * sway(31, 2), 12 + 18 * Math.sin(3 * t) + 2 * sway(27, 3), 0],
        roll: degrees(1.2 * sway(50, 4)),
      };
    // To and fro, at up to 20 px a frame, while the stand is carried past.
    if (move === 'pan')
      return {
        position: [-60 + 120 * t + 2 * sway(29, 0), 4 + 5 * sway(26, 1), 440 - 30 * t],
        target: [-12 + 24 * t + 62 * Math.sin(0.165 * time + seed), 10 + 12 * Math.sin(0.29 * time + 2 * seed), 0],
        roll: degrees(1.5 * sway(45, 4)),
      };
    return {
      position: [-130 + 260 * t + 2 * sway(29, 0), 4 + 5 * sway(26, 1), 440 - 60 * t],
      target: [-25 + 50 * t + 4 * sway(33, 2), 10 + 3 * sway(37, 3), 0],
      roll: degrees(1.5 * sway(45, 4)),
    };
  };
  const upright = (
    texture: Card['texture'],
    cut: Card['cut'],
    centre: Vector,
    w: number,
    h: number,
    yaw = 0,
  ): Card => ({ texture, radius: 0, ...(cut ? { cut } : {}), pose: () => turnedPlane(centre, w, h, degrees(yaw), 0) });
  const planters: readonly [Vector, number, number, number][] = [
    [[-185, -80, 150], 120, 90, 12],
    [[120, -92, 110], 150, 80, -8],
    [[10, -118, 200], 130, 66, 3],
    [[235, -60, 60], 110, 110, -20],
    [[-300, -60, 70], 140, 120, 25],
  ];
  const baskets: readonly [Vector, number, number][] = [
    [[-150, 118, 130], 80, 56],
    [[120, 112, 180], 70, 52],
    [[255, 100, 90], 80, 60],
  ];
  const face = screenFace(WIDTH, HEIGHT, 8, seed);
  const glass = darkGlass(SCREEN.width, SCREEN.height, 4);
  const wall = ivyWall(1100, 460, 3, seed + 1);
  const floor = hallFloor(1100, 520, 3, seed + 2);
  const floorPose: PlanePose = { origin: [-550, -150, 0], right: [1, 0, 0], down: [0, 0, 1] };
  const passers: Card[] = person
    ? [
        {
          texture: walker(62, 172, 5, seed + 30),
          radius: 0,
          cut: walkerCut(62, 172),
          pose: (time) =>
            turnedPlane([-230 + (460 * time) / last, -64 + 3 * Math.abs(Math.sin(time / 3)), 245], 62, 172, 0, 0),
        },
      ]
    : [];
  return (screen = glass) => ({
    lens,
    camera,
    before: passers,
    ...(rowTime ? { rowTime, shutter: 0.12 } : {}),
    ...(move === 'zoom' ? { zoom: (time: number) => 1.8 ** ease(0, last, time) / 1.25 } : {}),
    cards: [
      {
        texture: face,
        radius: 0.6,
        pose: () => turnedPlane([5, 22, 4], WIDTH, HEIGHT, 0, 0),
        screen: { ...SCREEN, texture: screen },
      },
      ...planters.map(([centre, w, h, yaw], i) =>
        upright(planter(w, h, 5, seed + 7 + i), planterCut(h, seed + 7 + i), centre, w, h, yaw),
      ),
      ...baskets.map(([centre, w, h], i) =>
        upright(planter(w, h, 5, seed + 17 + i), planterCut(h, seed + 17 + i), centre, w, h),
      ),
      { texture: floor, radius: 0, pose: () => floorPose },
      upright(wall, undefined, [0, 60, 0], 1100, 460),
    ],
  });
}

function hall(name: string, title: string, shot: HallShot): Condition {
  return {
    name,
    title,
    limits: {},
    make: (seed) =>
      plateOf(name, {
        seed,
        frames: shot.frames ?? 72,
        referenceFrame: 36,
        content: 'bed-temperatures.png',
        region: [
          [-2, -2],
          [WIDTH + 2, -2],
          [WIDTH + 2, HEIGHT + 2],
          [-2, HEIGHT + 2],
        ],
        scene: (screen) => ({ backdrop: BACKDROP, ...hallScene(seed, shot)(screen) }),
      }),
  };
}

export const wallScreen = hall('wall-screen', 'Wall screen off, walking past', { move: 'walk' });
export const wallScreenPerson = hall('wall-screen-person', 'the same, somebody walks past', {
  move: 'walk',
  person: true,
});
export const wallScreenTurn = hall('wall-screen-turn', 'Wall screen off, camera turns', { move: 'turn' });
export const wallScreenRolling = hall('wall-screen-rolling', 'Wall screen off, fast pans, rows read over 20 ms', {
  move: 'pan',
  rowTime: 0.5,
  frames: 60,
});
export const wallScreenZoom = hall('wall-screen-zoom', 'Wall screen off, walking and zooming in 1.8 ×', {
  move: 'zoom',
});

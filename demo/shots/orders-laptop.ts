import { turnedPlane, type CameraPose } from '../scene/camera.ts';
import { degrees, ease, wander } from '../scene/motion.ts';
import type { Shot } from '../scene/shot.ts';
import { light } from '../scene/texture.ts';
import { glasshouseWall, pottingBench } from '../textures/bench.ts';
import { greenWithMarkers, laptopKeys, laptopLid } from '../textures/devices.ts';

const WIDTH = 31;
const HEIGHT = 20.6;
const FRAMES = 80;
const SCREEN = { left: 1, top: 1.1, width: 29, height: 18.125 };

/** The laptop with the orders turns past the camera, its screen lit green with small crosses. */
export function ordersLaptop(seed = 23): Shot {
  const lid = laptopLid(WIDTH, HEIGHT, 40, seed);
  const keys = laptopKeys(WIDTH, 21, 30, seed + 1);
  const green = greenWithMarkers(SCREEN.width, SCREEN.height, 40, 7, 4);
  const bench = pottingBench(170, 110, 20, seed + 2);
  const wall = glasshouseWall(460, 240, 5, seed + 3);
  const camera = (time: number): CameraPose => ({
    position: [-9 + 18 * ease(-10, 92, time) + 0.5 * wander(time, 30, seed), 12 + 0.4 * wander(time, 26, seed + 1), 56],
    target: [-3 + 6 * ease(-8, 88, time) + 0.6 * wander(time, 24, seed + 2), 0.5 * wander(time, 29, seed + 3), 0],
    roll: degrees(1.2 * wander(time, 45, seed + 4)),
  });
  const yaw = (time: number) => degrees(-27 + 50 * ease(-6, 84, time));
  return {
    name: 'orders-laptop',
    title: 'Orders laptop',
    frames: FRAMES,
    rate: [25, 1],
    seed,
    noise: { floor: 0.004, shot: 0.009 },
    content: 'orders.png',
    levels: { black: 0.07, white: 0.84 },
    region: [
      [-0.5, -0.5],
      [WIDTH + 0.5, -0.5],
      [WIDTH + 0.5, HEIGHT - 0.1],
      [-0.5, HEIGHT - 0.1],
    ],
    referenceFrame: 40,
    scene: (screen = green) => ({
      lens: { width: 1280, height: 720, focal: 1080 },
      shutter: 0.5,
      softness: 0.75,
      camera,
      cards: [
        {
          texture: lid,
          radius: 0.4,
          pose: (time) => turnedPlane([0, 1, 0], WIDTH, HEIGHT, yaw(time), degrees(-14)),
          screen: { ...SCREEN, texture: screen },
        },
        { texture: keys, radius: 0.4, pose: (time) => keyboardPose(yaw(time)) },
        { texture: bench, radius: 0, pose: () => ({ origin: [-85, -9.4, -60], right: [1, 0, 0], down: [0, 0, 1] }) },
        { texture: wall, radius: 0, pose: () => turnedPlane([0, 30, -140], 460, 240, 0, 0) },
      ],
      backdrop: light([0.5, 0.55, 0.5]),
    }),
  };
}

/** The keyboard's plane lies on the bench and starts at the lid's lower edge. */
function keyboardPose(yaw: number) {
  const back = 1 - (HEIGHT / 2) * Math.cos(degrees(-14));
  const forward = (HEIGHT / 2) * Math.sin(degrees(14));
  const right: [number, number, number] = [Math.cos(yaw), 0, -Math.sin(yaw)];
  const down: [number, number, number] = [Math.sin(yaw), 0, Math.cos(yaw)];
  return {
    origin: [-right[0] * (WIDTH / 2) + down[0] * forward, back, -right[2] * (WIDTH / 2) + down[2] * forward] as [
      number,
      number,
      number,
    ],
    right,
    down,
  };
}

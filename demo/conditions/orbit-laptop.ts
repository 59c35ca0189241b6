import { turnedPlane, type Vector } from '../scene/camera.ts';
import { degrees, ease } from '../scene/motion.ts';
import { darkGlass, laptopKeys, laptopLid } from '../textures/devices.ts';
import { handheld, plateOf, surroundings, type Condition } from './stage.ts';

const WIDTH = 31;
const HEIGHT = 20.6;
const TILT = degrees(-14);
const SCREEN = { left: 1, top: 1.1, width: 29, height: 18.125 };

/** A laptop that is off turns from one side to the other; its keyboard is a second plane under the first. */
export const orbitLaptop: Condition = {
  name: 'orbit-laptop',
  title: 'orbit ± 45°, dark laptop beside its keyboard plane',
  limits: { mean: 0.15, under1: 1, under5: 1 },
  make(seed) {
    const lid = laptopLid(WIDTH, HEIGHT, 36, seed);
    const keys = laptopKeys(WIDTH, 21, 30, seed + 1);
    const dark = darkGlass(SCREEN.width, SCREEN.height, 30);
    const yaw = (time: number) => degrees((seed % 2 === 0 ? 1 : -1) * (-45 + 90 * ease(-4, 64, time)));
    return plateOf('orbit-laptop', {
      seed,
      frames: 60,
      referenceFrame: 30,
      content: 'orders.png',
      region: [
        [-0.5, -0.6],
        [WIDTH + 0.5, -0.4],
        [WIDTH + 0.5, HEIGHT - 0.1],
        [-0.4, HEIGHT - 0.2],
      ],
      scene: (screen = dark) => ({
        camera: handheld(seed, 60),
        cards: [
          {
            texture: lid,
            radius: 0.4,
            pose: (time) => turnedPlane([0, 1, 0], WIDTH, HEIGHT, yaw(time), TILT),
            screen: { ...SCREEN, texture: screen },
          },
          { texture: keys, radius: 0.4, pose: (time) => keyboard(yaw(time)) },
          ...surroundings(seed),
        ],
      }),
    });
  },
};

/** It lies on the bench and starts at the lid's lower edge. */
function keyboard(yaw: number) {
  const back = 1 - (HEIGHT / 2) * Math.cos(TILT);
  const forward = (HEIGHT / 2) * Math.sin(-TILT);
  const right: Vector = [Math.cos(yaw), 0, -Math.sin(yaw)];
  const down: Vector = [Math.sin(yaw), 0, Math.cos(yaw)];
  const origin: Vector = [
    -right[0] * (WIDTH / 2) + down[0] * forward,
    back,
    -right[2] * (WIDTH / 2) + down[2] * forward,
  ];
  return { origin, right, down };
}

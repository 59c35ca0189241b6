import { degrees, wander } from '../scene/motion.ts';
import type { Card, Scene } from '../scene/render.ts';
import { handheld, plateOf, surroundings, tablet, type Condition } from './stage.ts';

/** A barrel of three per cent at the picture's corners. */
const BARREL = 0.03;
const WIDTH = 960;
const HEIGHT = 540;
const FOCAL = 520;
const FRAMES = 84;
const WIDE = {
  width: WIDTH,
  height: HEIGHT,
  focal: FOCAL,
  bend: { k1: -BARREL / ((WIDTH / 2 / FOCAL) ** 2 + (HEIGHT / 2 / FOCAL) ** 2), k2: 0 },
};

/** The bench tablet through a wide lens, from near: it wanders out to the picture's borders, where the lens bends most. */
export function wideScene(
  seed: number,
  frames: number,
): (screen?: Card['texture']) => Pick<Scene, 'camera' | 'cards' | 'lens'> {
  const device = tablet(seed, 'picture');
  const around = surroundings(seed);
  const hand = handheld(seed, 30, 0.6);
  return (screen) => ({
    lens: WIDE,
    cards: [device(screen), ...around],
    camera: (time) => {
      const { position, target } = hand(time);
      const across = -11 * Math.cos((Math.PI * time) / (frames - 1));
      const up = 4.5 * wander(time, 76, seed + 9);
      return {
        position: [position[0] + 0.55 * across, position[1] - 4 + 0.3 * up, position[2]],
        target: [target[0] + 0.95 * across, target[1] + up, 0],
        roll: degrees(3 * wander(time, 85, seed + 4)),
      };
    },
  });
}

export const wideLens: Condition = {
  name: 'wide-lens',
  title: 'a wide lens, 3 % barrel',
  limits: {},
  make: (seed) => plateOf('wide-lens', { seed, frames: FRAMES, referenceFrame: 0, scene: wideScene(seed, FRAMES) }),
};

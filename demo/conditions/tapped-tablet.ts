import { degrees, ease, wander } from '../scene/motion.ts';
import type { Finger, Scene } from '../scene/render.ts';
import type { Texture } from '../scene/texture.ts';
import { handheld, plateOf, surroundings, tablet, TABLET, type Condition } from './stage.ts';

const GLOVE = [0.36, 0.31, 0.24] as const;
const SLEEVE = [0.07, 0.09, 0.12] as const;

/** A hand comes in, taps, and goes; before and after it nothing is there but what stands still. A camera in a hand that turns more than it moves; the light falls a little. */
export function tappedScene(
  seed: number,
  frames: number,
): (screen?: Texture) => Pick<Scene, 'camera' | 'cards' | 'fingers' | 'exposure'> {
  const device = tablet(seed, 'picture');
  const around = surroundings(seed);
  const still = handheld(seed, 46, 0.03);
  const side = seed % 2 === 0 ? -1 : 1;
  return (screen) => ({
    cards: [device(screen), ...around],
    fingers: (time) => tappingHand(time, frames, seed, side),
    exposure: (time) => 2 ** (-0.1 * (time / frames)),
    camera: (time) => {
      const { position, target } = still(time);
      const [x, y, z] = target;
      // It does not come back to quite where it was.
      return {
        position,
        target: [x + 0.7 * wander(time, 33, seed + 2) + (0.5 * time) / frames, y + 0.5 * wander(time, 27, seed + 3), z],
        roll: degrees(0.8 * wander(time, 41, seed + 4) + (0.5 * time) / frames),
      };
    },
  });
}

function tappingHand(time: number, frames: number, seed: number, side: number): Finger[] {
  const at = (share: number) => share * frames;
  const here = ease(at(0.28), at(0.42), time) * (1 - ease(at(0.56), at(0.7), time));
  if (here <= 0) return [];
  const x = (fromLeft: number) => (side > 0 ? fromLeft : TABLET.width - fromLeft);
  const out = 17 * (1 - here);
  const tap = 0.5 * Math.sin(time * 0.7) * here;
  const sway = 0.3 * wander(time, 21, seed + 5);
  return [
    { from: [x(17.5 + out), 13.5 + sway], to: [x(12.6 + out + tap), 8.2 + tap + sway], radius: 0.8, colour: GLOVE },
    { from: [x(18.4 + out), 14.2 + sway], to: [x(15.6 + out), 11.6 + sway], radius: 0.85, colour: GLOVE },
    { from: [x(19.4 + out), 14.4 + sway], to: [x(22.5 + out), 17.2 + sway], radius: 2.2, colour: GLOVE },
    { from: [x(23 + out), 17.6 + sway], to: [x(36 + out), 28], radius: 2.6, colour: SLEEVE },
  ];
}

/** The tablet on its bench, tapped once: a shot that can play round and round. */
export const tappedTablet: Condition = {
  name: 'tapped-tablet',
  title: 'a hand that comes and goes, a turning hand-held camera, falling light',
  limits: {},
  make: (seed) => plateOf('tapped-tablet', { seed, frames: 44, referenceFrame: 0, scene: tappedScene(seed, 44) }),
};

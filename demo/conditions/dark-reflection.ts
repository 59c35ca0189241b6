import { turnedPlane } from '../scene/camera.ts';
import { degrees, ease, wander } from '../scene/motion.ts';
import type { Reflection } from '../scene/render.ts';
import { handheld, plateOf, surroundings, tablet, windowPanes, type Condition } from './stage.ts';

/** A window behind the camera, moving as a door's pane does when somebody opens it. */
export function movingWindow(seed: number): Reflection {
  const panes = windowPanes(60, 76);
  return {
    texture: panes,
    strength: 0.06,
    pose: (time) =>
      turnedPlane([-30 + 60 * ease(0, 50, time) + 8 * wander(time, 31, seed + 9), 30, 130], 60, 76, degrees(180), 0),
  };
}

/** One stop up and down. */
export function lightChange(time: number, seed: number): number {
  return 2 ** Math.max(-1, Math.min(1, 1.3 * wander(time, 38, seed + 20)));
}

/** A tablet that is off, a window's reflection sliding over its glass, the light changing. */
export const darkReflection: Condition = {
  name: 'dark-reflection',
  title: 'dark glass, moving window reflection, light ± 1 stop',
  limits: { mean: 0.6, under1: 0.88, under5: 0.98 },
  make(seed) {
    const device = tablet(seed, 'dark');
    const around = surroundings(seed);
    const hand = handheld(seed, 46);
    const reflection = movingWindow(seed);
    return plateOf('dark-reflection', {
      seed,
      frames: 48,
      referenceFrame: 20,
      noise: { floor: 0.005, shot: 0.009 },
      scene: (screen) => ({
        cards: [device(screen), ...around],
        reflection,
        exposure: (time) => lightChange(time, seed),
        camera: (time) => {
          const { position, ...rest } = hand(time);
          const angle = degrees((seed % 2 === 0 ? 1 : -1) * (-9 + 20 * ease(0, 47, time)));
          return {
            ...rest,
            position: [position[0] + position[2] * Math.sin(angle), position[1], position[2] * Math.cos(angle)],
          };
        },
      }),
    });
  },
};

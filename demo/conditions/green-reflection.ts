import { degrees, ease } from '../scene/motion.ts';
import { movingWindow } from './dark-reflection.ts';
import { handheld, plateOf, surroundings, TABLET, tablet, type Condition } from './stage.ts';
import { greenWithMarkers } from '../textures/devices.ts';

/** A tablet lit green with markers, in whose glass a window slides along. */
export const greenReflection: Condition = {
  name: 'green-reflection',
  title: 'green screen with markers, moving window reflection',
  limits: {},
  make(seed) {
    const device = tablet(seed, 'markers');
    const around = surroundings(seed);
    const hand = handheld(seed, 46);
    const reflection = movingWindow(seed);
    return plateOf('green-reflection', {
      seed,
      frames: 36,
      referenceFrame: 16,
      unmarked: () => greenWithMarkers(TABLET.screen.width, TABLET.screen.height, 40, 1, 1, false),
      scene: (screen) => ({
        cards: [device(screen), ...around],
        reflection: { ...reflection, strength: 0.1 },
        camera: (time) => {
          const { position, ...rest } = hand(time);
          const angle = degrees((seed % 2 === 0 ? 1 : -1) * (-7 + 15 * ease(0, 35, time)));
          return {
            ...rest,
            position: [position[0] + position[2] * Math.sin(angle), position[1], position[2] * Math.cos(angle)],
          };
        },
      }),
    });
  },
};

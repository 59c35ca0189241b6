import { ease } from '../scene/motion.ts';
import { handheld, plateOf, surroundings, tablet, type Condition } from './stage.ts';

/** Two corners leave the picture until a quarter of the device is outside, and come back. */
export const partlyOutside: Condition = {
  name: 'partly-outside',
  title: 'two corners a quarter of the width outside the frame',
  limits: { mean: 0.45, under1: 0.93, under5: 1 },
  make(seed) {
    const device = tablet(seed, seed % 2 === 0 ? 'markers' : 'picture');
    const around = surroundings(seed);
    const hand = handheld(seed, 44);
    const side = seed % 2 === 0 ? 1 : -1;
    return plateOf('partly-outside', {
      seed,
      frames: 48,
      referenceFrame: 3,
      scene: (screen) => ({
        cards: [device(screen), ...around],
        camera: (time) => {
          const pose = hand(time);
          const away = side * 18.4 * (ease(4, 20, time) - ease(30, 46, time));
          return {
            ...pose,
            target: [pose.target[0] + away, pose.target[1], 0],
            position: [pose.position[0] + 0.3 * away, pose.position[1], pose.position[2]],
          };
        },
      }),
    });
  },
};

import { degrees, ease } from '../scene/motion.ts';
import { handheld, plateOf, surroundings, tablet, type Condition } from './stage.ts';

/** A lit screen with a picture or markers, a camera that goes half round it. */
export const clean: Condition = {
  name: 'clean',
  title: 'clean, textured or markers',
  limits: { mean: 0.1, under1: 1, under5: 1 },
  make(seed) {
    const device = tablet(seed, seed % 2 === 0 ? 'markers' : 'picture');
    const around = surroundings(seed);
    const hand = handheld(seed, 46);
    return plateOf('clean', {
      seed,
      frames: 48,
      referenceFrame: 20,
      scene: (screen) => ({
        cards: [device(screen), ...around],
        camera: (time) => {
          const { position, ...rest } = hand(time);
          const angle = degrees(-14 + 30 * ease(2, 46, time));
          return {
            ...rest,
            position: [
              position[0] + position[2] * Math.sin(angle),
              position[1],
              position[2] * Math.cos(angle) - 4 * ease(10, 40, time),
            ],
          };
        },
      }),
    });
  },
};

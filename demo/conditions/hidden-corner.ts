import { ease, wander } from '../scene/motion.ts';
import { TABLET, handheld, plateOf, surroundings, tablet, type Condition } from './stage.ts';

/** Frames on which a thumb lies on the screen's lower right corner. */
export const HIDDEN: readonly [number, number] = [14, 33];

/** One of four corner points covered for twenty frames. */
export const hiddenCorner: Condition = {
  name: 'hidden-corner',
  title: 'the fourth corner hidden for 20 frames',
  limits: { mean: 1 },
  make(seed) {
    const device = tablet(seed, seed % 2 === 0 ? 'markers' : 'picture');
    const around = surroundings(seed);
    const corner = [TABLET.screen.left + TABLET.screen.width, TABLET.screen.top + TABLET.screen.height] as const;
    return plateOf('hidden-corner', {
      seed,
      frames: 48,
      referenceFrame: 4,
      scene: (screen) => ({
        cards: [device(screen), ...around],
        camera: handheld(seed, 46, 1.6),
        fingers: (time) => {
          const away =
            9 * (1 - ease(HIDDEN[0] - 3, HIDDEN[0] - 0.5, time) + ease(HIDDEN[1] + 0.5, HIDDEN[1] + 3, time));
          const slide = 0.4 * wander(time, 17, seed + 3);
          return [
            {
              from: [corner[0] + 7 + away, corner[1] + 8 + away],
              to: [corner[0] - 0.6 + away + slide, corner[1] - 0.5 + away],
              radius: 1.7,
              colour: [0.4, 0.43, 0.3],
            },
          ];
        },
      }),
    });
  },
};

import { ease } from '../scene/motion.ts';
import { handheld, plateOf, surroundings, tablet, type Condition } from './stage.ts';

/** The camera turns away until nothing of the device is seen for ten frames, and back again. */
export const leavesFrame: Condition = {
  name: 'leaves-frame',
  title: 'leaves the frame for 10 frames, comes back',
  limits: { mean: 0.4, under1: 0.95, under5: 1 },
  make(seed) {
    const device = tablet(seed, seed % 2 === 0 ? 'markers' : 'picture');
    const around = surroundings(seed);
    const hand = handheld(seed, 46);
    const side = seed % 2 === 0 ? 1 : -1;
    return plateOf('leaves-frame', {
      seed,
      frames: 54,
      referenceFrame: 6,
      scene: (screen) => ({
        cards: [device(screen), ...around],
        // It comes back elsewhere than it left.
        camera: (time) => {
          const pose = hand(time);
          const away = side * 62 * (ease(8, 26, time) - ease(27, 46, time));
          const up = 5 * ease(24, 30, time);
          return { ...pose, target: [pose.target[0] + away, pose.target[1] + up, 0] };
        },
      }),
    });
  },
};

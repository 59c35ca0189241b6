import { ease } from '../scene/motion.ts';
import { jerks } from './blur-bursts.ts';
import { coveringHand } from './covered.ts';
import { lightChange, movingWindow } from './dark-reflection.ts';
import { handheld, plateOf, surroundings, tablet, type Condition } from './stage.ts';

/** Everything at once: dark glass, a reflection, a burst of blur, a third covered. */
export const stretch: Condition = {
  name: 'stretch',
  title: 'a stretch: dark + reflection + blur + a third covered',
  limits: { mean: 0.8, under1: 0.8, under5: 0.95 },
  make(seed) {
    const device = tablet(seed, 'dark');
    const around = surroundings(seed);
    const hand = handheld(seed, 47);
    const reflection = movingWindow(seed);
    return plateOf('stretch', {
      seed,
      frames: 50,
      referenceFrame: 2,
      noise: { floor: 0.005, shot: 0.009 },
      scene: (screen) => ({
        samples: 48,
        cards: [device(screen), ...around],
        reflection,
        exposure: (time) => lightChange(time, seed),
        fingers: (time) => coveringHand(time, seed),
        camera: (time) => {
          const pose = hand(time);
          const { x, y } = jerks(time, seed);
          const calm = 0.55 * ease(0, 6, time);
          return { ...pose, target: [pose.target[0] + calm * x, pose.target[1] + calm * y, 0] };
        },
      }),
    });
  },
};

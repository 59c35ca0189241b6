import { ease } from '../scene/motion.ts';
import { handheld, plateOf, surroundings, tablet, type Condition } from './stage.ts';

/** Jerks of the camera during four frames each: where it turns to, cm at the device, and when. */
export function jerks(time: number, seed: number): { x: number; y: number } {
  const side = seed % 2 === 0 ? 1 : -1;
  const moves = [
    [8, 13.5, -5.5],
    [16, 21.8, 6],
    [29, 34.5, 5.5],
    [37, 42.5, -6],
  ] as const;
  let x = 0;
  let y = 0;
  for (const [from, to, way] of moves) {
    x += side * way * ease(from, from + (to - from) * 0.75, time);
    y += 0.28 * way * ease(from, from + (to - from) * 0.75, time);
  }
  return { x: 2 * x, y };
}

/** Four bursts of motion blur, each to 40–60 px. */
export const blurBursts: Condition = {
  name: 'blur-bursts',
  title: 'bursts of blur to 40–60 px',
  limits: { mean: 0.45, under1: 0.93, under5: 1 },
  make(seed) {
    const device = tablet(seed, seed % 2 === 0 ? 'markers' : 'picture');
    const around = surroundings(seed);
    const hand = handheld(seed, 48);
    return plateOf('blur-bursts', {
      seed,
      frames: 50,
      referenceFrame: 4,
      scene: (screen) => ({
        samples: 64,
        cards: [device(screen), ...around],
        camera: (time) => {
          const pose = hand(time);
          const { x, y } = jerks(time, seed);
          return { ...pose, target: [pose.target[0] + x, pose.target[1] + y, 0] };
        },
      }),
    });
  },
};

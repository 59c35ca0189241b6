import { wander, ease } from '../scene/motion.ts';
import type { Finger } from '../scene/render.ts';
import { TABLET, handheld, plateOf, surroundings, tablet, type Condition } from './stage.ts';

const SKIN = [0.44, 0.27, 0.2] as const;

/** A hand with its arm that comes in over one side and moves about on the glass: about a third of the device, corners and all. */
export function coveringHand(time: number, seed: number): Finger[] {
  const side = seed % 2 === 0 ? 1 : -1;
  const middle = TABLET.width / 2;
  const x = (fromMiddle: number) => middle + side * fromMiddle;
  const inward = 14 * (1 - ease(6, 13, time));
  const slide = wander(time, 25, seed + 8);
  const up = wander(time, 33, seed + 10);
  const palm: [number, number] = [x(8.6 + inward - 1.1 * slide), 11.4 + 1.6 * up];
  const finger = (dx: number, dy: number, radius: number): Finger => ({
    from: palm,
    to: [palm[0] - side * dx, palm[1] + dy],
    radius,
    colour: SKIN,
  });
  return [
    { from: [x(26 + inward), 25], to: palm, radius: 3.9, colour: [0.2, 0.23, 0.3] },
    { from: palm, to: [palm[0] - side * 1.4, palm[1] - 1.6], radius: 3.6, colour: SKIN },
    finger(6.4, -4.4, 0.95),
    finger(7.3, -2.2, 0.95),
    finger(7.2, 0, 0.9),
    finger(6.2, 2, 0.85),
    finger(2.2, -7, 1.05),
  ];
}

/** A third covered by a moving hand. */
export const covered: Condition = {
  name: 'covered',
  title: 'a third covered by a moving hand, corners hidden',
  limits: { mean: 0.3, under1: 0.97, under5: 1 },
  make(seed) {
    const device = tablet(seed, 'picture');
    const around = surroundings(seed);
    return plateOf('covered', {
      seed,
      frames: 48,
      referenceFrame: 2,
      scene: (screen) => ({
        cards: [device(screen), ...around],
        fingers: (time) => coveringHand(time, seed),
        camera: handheld(seed, 46, 1.6),
      }),
    });
  },
};

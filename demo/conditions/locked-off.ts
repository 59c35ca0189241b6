import { handheld, plateOf, surroundings, tablet, type Condition } from './stage.ts';

/** A camera on legs that still breathe a little. */
export const lockedOff: Condition = {
  name: 'locked-off',
  title: 'nearly locked-off',
  limits: { mean: 0.02, under1: 1, under5: 1, jitter: 0.03 },
  make(seed) {
    const device = tablet(seed, seed % 2 === 0 ? 'markers' : 'picture');
    const around = surroundings(seed);
    return plateOf('locked-off', {
      seed,
      frames: 40,
      referenceFrame: 18,
      scene: (screen) => ({ cards: [device(screen), ...around], camera: handheld(seed, 46, 0.03) }),
    });
  },
};

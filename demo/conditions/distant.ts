import { turnedPlane } from '../scene/camera.ts';
import { degrees, ease } from '../scene/motion.ts';
import { TABLET, handheld, plateOf, surroundings, tablet, type Condition } from './stage.ts';

/** A small device far away, a noisy sensor, strong compression. */
export const distant: Condition = {
  name: 'distant',
  title: 'small and distant, noise, strong compression',
  limits: { mean: 0.35, under1: 1, under5: 1 },
  compression: 30,
  make(seed) {
    const pose = (time: number) =>
      turnedPlane(
        [-18 + 30 * ease(0, 60, time), 0, 0],
        TABLET.width,
        TABLET.height,
        degrees(-14 + 26 * ease(0, 60, time)),
        degrees(-12),
      );
    const device = tablet(seed, seed % 2 === 0 ? 'markers' : 'picture', pose);
    const around = surroundings(seed);
    return plateOf('distant', {
      seed,
      frames: 60,
      referenceFrame: 28,
      noise: { floor: 0.012, shot: 0.02 },
      scene: (screen) => ({
        lens: { width: 640, height: 360, focal: 640 },
        cards: [device(screen), ...around],
        camera: handheld(seed, 150, 2.5),
      }),
    });
  },
};

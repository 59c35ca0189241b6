import { turnedPlane } from '../scene/camera.ts';
import { degrees, wander } from '../scene/motion.ts';
import { TABLET, handheld, plateOf, surroundings, tablet, type Condition } from './stage.ts';

/** Thrown up before the camera, turning 25° a frame and tipping over. */
export const thrown: Condition = {
  name: 'thrown',
  title: 'thrown and turning 25° a frame',
  limits: { under1: 0.4 },
  make(seed) {
    const side = seed % 2 === 0 ? 1 : -1;
    const pose = (time: number) => {
      const t = Math.max(0, time - 4);
      const rise = 0.85 * t - 0.022 * t * t;
      return turnedPlane(
        [side * (-9 + 0.45 * t), -4 + rise, 0],
        TABLET.width,
        TABLET.height,
        degrees(18 * Math.sin(t * 0.21)),
        degrees(-18 - 26 * Math.sin(t * 0.17)),
        degrees(side * 25 * t),
      );
    };
    const device = tablet(seed, seed % 2 === 0 ? 'markers' : 'picture', pose);
    const around = surroundings(seed);
    return plateOf('thrown', {
      seed,
      frames: 42,
      referenceFrame: 2,
      scene: (screen) => ({
        samples: 48,
        shutter: 0.25,
        cards: [device(screen), ...around],
        camera: (time) => ({ ...handheld(seed, 66)(time), target: [wander(time, 30, seed), 1.5, 0] }),
      }),
    });
  },
};

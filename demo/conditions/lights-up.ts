import { degrees, wander } from '../scene/motion.ts';
import { pottingBench } from '../textures/bench.ts';
import { leafPicture, tabletFace } from '../textures/devices.ts';
import { plateOf, type Condition } from './stage.ts';

const WIDTH = 7.6;
const HEIGHT = 15.8;
const SCREEN = { left: 0.4, top: 0.7, width: 6.8, height: 14.4 };

/** A phone let into the bench lights up and goes off again; what is followed is its frame and the bench around it. */
export const lightsUp: Condition = {
  name: 'lights-up',
  title: 'screen lights up and goes off (region: bezel and desk)',
  limits: { mean: 0.12, under1: 1, under5: 1 },
  make(seed) {
    const face = tabletFace(WIDTH, HEIGHT, 60, seed);
    const shown = leafPicture(SCREEN.width, SCREEN.height, 60, seed + 1);
    const bench = pottingBench(120, 90, 18, seed + 2);
    const glow = (time: number) => (Math.floor((time + 2 * seed) / 9) % 2 === 0 ? 0.04 : 1);
    return plateOf('lights-up', {
      seed,
      frames: 48,
      referenceFrame: 22,
      content: 'potting-round.png',
      region: [
        [-5, -4],
        [WIDTH + 5.5, -3.6],
        [WIDTH + 5, HEIGHT + 4],
        [-5.2, HEIGHT + 3.6],
      ],
      keepOut: [
        [SCREEN.left - 0.15, SCREEN.top - 0.15],
        [SCREEN.left + SCREEN.width + 0.15, SCREEN.top - 0.15],
        [SCREEN.left + SCREEN.width + 0.15, SCREEN.top + SCREEN.height + 0.15],
        [SCREEN.left - 0.15, SCREEN.top + SCREEN.height + 0.15],
      ],
      scene: (screen = shown) => ({
        cards: [
          {
            texture: face,
            radius: 0.9,
            pose: () => ({ origin: [-WIDTH / 2, 0, -HEIGHT / 2], right: [1, 0, 0], down: [0, 0, 1] }),
            screen: { ...SCREEN, texture: screen, glow },
          },
          { texture: bench, radius: 0, pose: () => ({ origin: [-60, 0, -45], right: [1, 0, 0], down: [0, 0, 1] }) },
        ],
        camera: (time) => ({
          position: [4 * wander(time, 40, seed), 34 + wander(time, 37, seed + 1), 24 + 2 * wander(time, 45, seed + 2)],
          target: [0.8 * wander(time, 33, seed + 3), 0, 0.7 * wander(time, 28, seed + 4)],
          roll: degrees(3 * wander(time, 50, seed + 5)),
        }),
      }),
    });
  },
};

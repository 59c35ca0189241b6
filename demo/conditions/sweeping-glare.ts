import { turnedPlane } from '../scene/camera.ts';
import { degrees, wander } from '../scene/motion.ts';
import type { Reflection } from '../scene/render.ts';
import { paintTexture } from '../scene/texture.ts';
import { handheld, plateOf, surroundings, tablet, type Condition } from './stage.ts';

/** A lamp behind frosted glass, seen in the device from one side to the other: bright in its middle, without an edge. */
export function softLamp(seed: number): Reflection {
  const lamp = paintTexture(90, 60, 3, (x, y) => {
    const away = Math.hypot((x - 45) / 26, (y - 30) / 19);
    const glow = 0.98 * Math.exp(-away * away);
    return [glow, glow, 0.96 * glow];
  });
  const side = seed % 2 === 0 ? -1 : 1;
  return {
    texture: lamp,
    strength: 0.5,
    pose: (time) =>
      turnedPlane(
        [side * (-78 + 3.4 * time) + 5 * wander(time, 21, seed + 9), 30 + 9 * wander(time, 40, seed + 6), 90],
        90,
        60,
        degrees(180),
        0,
      ),
  };
}

/** A tablet whose corners a soft glare sweeps over, one after the other. */
export const sweepingGlare: Condition = {
  name: 'sweeping-glare',
  title: 'corner points under a sweeping reflection',
  limits: { mean: 0.5 },
  make(seed) {
    const device = tablet(seed, 'dark');
    const around = surroundings(seed);
    const reflection = softLamp(seed);
    return plateOf('sweeping-glare', {
      seed,
      frames: 48,
      referenceFrame: 4,
      scene: (screen) => ({ cards: [device(screen), ...around], reflection, camera: handheld(seed, 46, 1.3) }),
    });
  },
};

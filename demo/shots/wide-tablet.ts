import { wideScene } from '../conditions/wide-lens.ts';
import { AROUND_TABLET, BACKDROP } from '../conditions/stage.ts';
import type { Shot } from '../scene/shot.ts';

const FRAMES = 60;

/** The bench tablet filmed from near through a wide lens, which bends it most where it stands at the picture's border. */
export function wideTablet(seed = 4): Shot {
  return {
    name: 'wide-tablet',
    title: 'Wide tablet',
    frames: FRAMES,
    rate: [25, 1],
    seed,
    noise: { floor: 0.004, shot: 0.008 },
    content: 'bed-temperatures.png',
    levels: { black: 0.06, white: 0.86 },
    region: AROUND_TABLET,
    referenceFrame: 0,
    scene: (screen) => ({ shutter: 0.5, softness: 0.7, backdrop: BACKDROP, ...wideScene(seed, FRAMES)(screen) }),
  };
}

import { AROUND_TABLET, BACKDROP } from '../conditions/stage.ts';
import { tappedScene } from '../conditions/tapped-tablet.ts';
import type { Shot } from '../scene/shot.ts';

const FRAMES = 56;

/** The bench tablet, tapped once by a hand that comes in and goes: its end can go over into its beginning. */
export function tappedTabletShot(seed = 5): Shot {
  return {
    name: 'tapped-tablet',
    title: 'Tapped tablet',
    frames: FRAMES,
    rate: [25, 1],
    seed,
    noise: { floor: 0.004, shot: 0.008 },
    content: 'bed-temperatures.png',
    levels: { black: 0.06, white: 0.86 },
    region: AROUND_TABLET,
    referenceFrame: 0,
    scene: (screen) => ({
      lens: { width: 1280, height: 720, focal: 1150 },
      shutter: 0.5,
      softness: 0.7,
      backdrop: BACKDROP,
      ...tappedScene(seed, FRAMES)(screen),
    }),
  };
}

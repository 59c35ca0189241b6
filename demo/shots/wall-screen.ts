import { hallScene } from '../conditions/wall-screen.ts';
import { BACKDROP } from '../conditions/stage.ts';
import type { Shot } from '../scene/shot.ts';

const FRAMES = 72;
const WIDTH = 124;
const HEIGHT = 72;

/** The wall screen with the watering plan, off, in a planted hall; the camera walks past. */
export function wallScreen(seed = 41): Shot {
  return {
    name: 'wall-screen',
    title: 'Wall screen',
    frames: FRAMES,
    rate: [25, 1],
    seed,
    noise: { floor: 0.004, shot: 0.008 },
    content: 'watering-plan.png',
    levels: { black: 0.06, white: 0.82 },
    region: [
      [-2, -2],
      [WIDTH + 2, -2],
      [WIDTH + 2, HEIGHT + 2],
      [-2, HEIGHT + 2],
    ],
    referenceFrame: 36,
    scene: (screen) => ({
      shutter: 0.5,
      softness: 0.7,
      backdrop: BACKDROP,
      ...hallScene(seed, { move: 'walk', frames: FRAMES, lens: LENS })(screen),
    }),
  };
}

const LENS = { width: 1280, height: 720, focal: 1120 };

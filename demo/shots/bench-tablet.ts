import { turnedPlane, type CameraPose } from '../scene/camera.ts';
import { degrees, ease, wander } from '../scene/motion.ts';
import type { Shot } from '../scene/shot.ts';
import { light } from '../scene/texture.ts';
import { glasshouseWall, pottingBench } from '../textures/bench.ts';
import { leafPicture, tabletFace } from '../textures/devices.ts';

const WIDTH = 24, HEIGHT = 16.4, FRAMES = 96;
const SCREEN = { left: 1.5, top: 1.6, width: 21, height: 13.125 };

/** The grower's tablet leaning on the potting bench; the camera goes round it until it is seen 35° from the side. */
export function benchTablet(seed = 11): Shot {
  const face = tabletFace(WIDTH, HEIGHT, 50, seed);
  const resting = leafPicture(SCREEN.width, SCREEN.height, 50, seed + 1);
  const bench = pottingBench(190, 100, 16, seed + 2);
  const wall = glasshouseWall(760, 220, 5, seed + 3);
  const camera = (time: number): CameraPose => {
    const angle = degrees(-6 + 41 * ease(8, 86, time)), distance = 43 - 3 * ease(20, 80, time);
    return {
      position: [
        distance * Math.sin(angle) + 0.35 * wander(time, 34, seed),
        9 + 1.5 * ease(0, 95, time) + 0.3 * wander(time, 27, seed + 1),
        distance * Math.cos(angle),
      ],
      target: [0.5 * wander(time, 41, seed + 2), 0.4 * wander(time, 31, seed + 3), 0],
      roll: degrees(1.4 * wander(time, 52, seed + 4)),
    };
  };
  return {
    name: 'bench-tablet', title: 'Bench tablet', frames: FRAMES, rate: [25, 1], seed,
    noise: { floor: 0.004, shot: 0.008 },
    content: 'bed-temperatures.png', levels: { black: 0.06, white: 0.86 },
    region: [[-0.6, -0.6], [WIDTH + 0.6, -0.6], [WIDTH + 0.6, HEIGHT + 0.6], [-0.6, HEIGHT + 0.6]],
    referenceFrame: 34,
    scene: (screen = resting) => ({
      lens: { width: 1280, height: 720, focal: 1120 }, shutter: 0.5, softness: 0.7, camera,
      cards: [
        { texture: face, radius: 1.2, pose: () => turnedPlane([0, 0, 0], WIDTH, HEIGHT, 0, degrees(-22)), screen: { ...SCREEN, texture: screen } },
        { texture: bench, radius: 0, pose: () => ({ origin: [-105, -8, -55], right: [1, 0, 0], down: [0, 0, 1] }) },
        { texture: wall, radius: 0, pose: () => turnedPlane([-90, 30, -130], 760, 220, 0, 0) },
      ],
      backdrop: light([0.5, 0.55, 0.5]),
    }),
  };
}

import { expect, test } from 'vitest';
import {
  applyToPoint,
  compose,
  invert,
  rotationAbout,
  translation,
  type Homography,
} from '../../base/geometry/homography.ts';
import type { Quad } from '../../base/geometry/quad.ts';
import { steadyMaps, ALL_STEADY } from '../../motion/steady/steady-maps.ts';
import { middleOf } from '../../motion/steady/steadied-luma.ts';
import { cornersByFrame, writeTrack } from './track-file.ts';
import { mapsOfSteadyFile, steadiedTrack } from './steadied-track.ts';
import { homographyFromFile } from '../../base/geometry/pixel-centre.ts';
import { steadyFile } from '../../motion/steady/steady-file.ts';

const corners: Quad = [
  [400, 200],
  [800, 210],
  [790, 480],
  [405, 470],
];
const REFERENCE = 3;
/** A surface that turns and wanders. */
const motion = new Map<number, Homography>(
  Array.from({ length: 8 }, (_, frame): [number, Homography] => [
    frame,
    compose(
      translation(4 * (frame - REFERENCE), (frame - REFERENCE) ** 2),
      rotationAbout(0.01 * (frame - REFERENCE), [600, 340]),
    ),
  ]),
);
const track = writeTrack(
  {
    pixelCentre: 'integer',
    width: 1280,
    height: 720,
    rate: [25, 1],
    referenceFrame: REFERENCE,
    corners,
    seating: { referenceFrame: REFERENCE, corners },
  },
  [...motion].map(([frame, homography]) => ({ frame, homography, error: 0, confidence: 1 })),
);

test('wholly steadied, the corners stand still where the reference has them; the picture’s maps lead back to the plate’s corners', () => {
  const maps = steadyMaps(motion, middleOf(corners), ALL_STEADY, 8);
  const read = mapsOfSteadyFile(steadyFile(maps, 'integer', ALL_STEADY, 1280, 720));
  const still = steadiedTrack(track, read);
  const seen = cornersByFrame(still);
  const plate = cornersByFrame(track);
  let moved = 0;
  let back = 0;
  for (let frame = 0; frame < 8; frame++) {
    const h = homographyFromFile(still.frames[frame]!.homography!, 'integer');
    const inverse = invert(read.get(frame)!)!;
    for (const [i, corner] of seen.get(frame)!.entries()) {
      moved = Math.max(
        moved,
        Math.hypot(corner[0] - seen.get(REFERENCE)![i]![0], corner[1] - seen.get(REFERENCE)![i]![1]),
      );
      const [x, y] = applyToPoint(inverse, corner);
      const [u, v] = plate.get(frame)![i]!;
      const [p, q] = applyToPoint(h, seen.get(REFERENCE)![i]!);
      back = Math.max(back, Math.hypot(x - u, y - v), Math.hypot(p - corner[0], q - corner[1]));
    }
  }
  expect(moved).toBeLessThan(1e-3);
  expect(back).toBeLessThan(1e-3);
});

test('frames that were not steadied are left out; without the reference frame there is nothing to tell', () => {
  const maps = new Map([...motion].slice(2, 5));
  expect(steadiedTrack(track, maps).frames.map((row) => row.frame)).toEqual([2, 3, 4]);
  expect(() => steadiedTrack(track, new Map([...motion].slice(4)))).toThrow(/frame 3/i);
});

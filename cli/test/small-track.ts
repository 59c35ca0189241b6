import { homographyBetweenQuads } from '../../core/base/geometry/estimate-homography.ts';
import { writeTrack } from '../../core/handoff/exchange/track-file.ts';
import { type Quad } from '../../core/base/geometry/quad.ts';
import type { TrackFile } from '../../core/base/schemas/types.ts';

export const QUADS: Quad[] = Array.from({ length: 4 }, (_, f) => [
  [60 + 3 * f, 40],
  [250 + f, 52 + f],
  [240, 170 - f],
  [52 + 2 * f, 160],
]);
export const TRACK: TrackFile = writeTrack(
  {
    pixelCentre: 'half',
    width: 320,
    height: 200,
    rate: [24, 1],
    referenceFrame: 1,
    corners: QUADS[1]!,
    firstFrameNumber: 1001,
  },
  QUADS.map((quad, frame) => ({ frame, homography: homographyBetweenQuads(QUADS[1]!, quad), error: 0, confidence: 1 })),
);

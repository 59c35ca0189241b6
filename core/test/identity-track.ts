import type { Quad } from '../base/geometry/quad.ts';
import type { TrackFile } from '../base/schemas/types.ts';

/** A track of a surface that does not move. */
export function identityTrack(width: number, height: number, frames: number, corners: Quad): TrackFile {
  return {
    format: 'yarlop-track/1',
    pixelCentre: 'half',
    width,
    height,
    rate: [25, 1],
    referenceFrame: 0,
    frames: Array.from({ length: frames }, (_, frame) => ({
      frame,
      homography: [1, 0, 0, 0, 1, 0, 0, 0, 1] as never,
      corners: corners.map(([x, y]) => [x, y]) as never,
    })),
  };
}

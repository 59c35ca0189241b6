import { homographyToFile, type PixelCentre } from '../../base/geometry/pixel-centre.ts';
import type { Homography } from '../../base/geometry/homography.ts';
import type { NineNumbers, SteadyFile } from '../../base/schemas/types.ts';
import { STEADY_PARTS, type SteadyChoice } from './steady-maps.ts';

/** How each frame of a steadied clip was moved, so that what is made on it can be led back to the plate. `maps`: plate to steadied pixels, continuous. */
export function steadyFile(
  maps: ReadonlyMap<number, Homography>,
  pixelCentre: PixelCentre,
  choice: SteadyChoice,
  width: number,
  height: number,
): SteadyFile {
  return {
    format: 'yarlop-steady/1',
    pixelCentre,
    width,
    height,
    steadiedWidth: width,
    steadiedHeight: height,
    remove: STEADY_PARTS.filter((part) => choice[part]),
    smooth: choice.smooth,
    frames: [...maps].map(([frame, map]) => ({ frame, map: [...homographyToFile(map, pixelCentre)] as NineNumbers })),
  };
}

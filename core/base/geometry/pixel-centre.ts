import { shiftOrigin, type Homography, type Point } from './homography.ts';

/** Where a file's coordinates put the centre of the top-left pixel: at (0.5, 0.5) or at (0, 0). */
export type PixelCentre = 'half' | 'integer';

/** How much larger our coordinates (centres at half) are than the file's. */
const shiftOf = (centre: PixelCentre): number => (centre === 'integer' ? 0.5 : 0);

export function pointFromFile([x, y]: Point, centre: PixelCentre): [number, number] {
  return [x + shiftOf(centre), y + shiftOf(centre)];
}

export function pointToFile([x, y]: Point, centre: PixelCentre): [number, number] {
  return [x - shiftOf(centre), y - shiftOf(centre)];
}

export function homographyFromFile(h: Homography, centre: PixelCentre): Homography {
  return centre === 'half' ? h : shiftOrigin(h, -shiftOf(centre));
}

export function homographyToFile(h: Homography, centre: PixelCentre): Homography {
  return centre === 'half' ? h : shiftOrigin(h, shiftOf(centre));
}

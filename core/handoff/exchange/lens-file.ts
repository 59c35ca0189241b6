import { type Lens, isStraight } from '../../motion/lens/lens.ts';
import { pointFromFile, pointToFile, type PixelCentre } from '../../base/geometry/pixel-centre.ts';
import type { Lens as LensInFile } from '../../base/schemas/types.ts';

/** A file's lens in our coordinates; undefined where there is none, or it bends nothing. */
export function lensFromFile(lens: LensInFile | undefined, centre: PixelCentre): Lens | undefined {
  return lens && !isStraight(lens) ? { ...lens, centre: pointFromFile(lens.centre, centre) } : undefined;
}

/** A lens as files have it, coordinates in the convention given. */
export function lensToFile({ k1, k2, k3, centre, focal }: Lens, pixelCentre: PixelCentre): LensInFile {
  const [x, y] = pointToFile(centre, pixelCentre);
  const round = (v: number, digits: number) => Number(v.toFixed(digits));
  return {
    k1: round(k1, 9),
    k2: round(k2, 9),
    k3: round(k3, 9),
    centre: [round(x, 4), round(y, 4)],
    focal: round(focal, 4),
  };
}

import { mapTuple } from '../../base/geometry/map-tuple.ts';
import type { Homography } from '../../base/geometry/homography.ts';
import { IdealMotion } from '../../motion/lens/ideal-motion.ts';
import { straighten, type Lens } from '../../motion/lens/lens.ts';
import type { NineNumbers, QuadCorners, TrackFile, TrackFrame } from '../../base/schemas/types.ts';
import { lensFromFile } from './lens-file.ts';
import { homographyFromFile, homographyToFile, pointFromFile, pointToFile } from '../../base/geometry/pixel-centre.ts';
import { cornersByFrame } from './track-file.ts';

/**
 * A track as it is seen on the plate with its lens taken out: corners straightened, homographies between straightened places, and no lens left to tell of. A track without a lens as it is.
 * Frames on which the lens films no corner there are lost.
 */
export function straightTrack(track: TrackFile): TrackFile {
  const { pixelCentre: centre, lens: told, ...plain } = track;
  const lens = lensFromFile(told, centre);
  if (!lens) return track;
  const home = track.seat
    ? mapTuple(track.seat.corners, (c) => pointFromFile(c, centre))
    : cornersByFrame(track).get(track.referenceFrame);
  const ideal = home && IdealMotion.at(lens, home);
  return {
    ...plain,
    pixelCentre: centre,
    ...(track.seat
      ? { seat: { ...track.seat, corners: straightCorners(track.seat.corners, lens, centre) ?? track.seat.corners } }
      : {}),
    frames: track.frames.map((row): TrackFrame => {
      const { homography, corners, ...kept } = row;
      const seen = corners && straightCorners(corners, lens, centre);
      const map: Homography | null = (homography && ideal?.ideal(homographyFromFile(homography, centre))) ?? null;
      if (corners && !seen)
        return { frame: row.frame, confidence: row.confidence, lost: 'the lens films no surface there' };
      return {
        ...kept,
        ...(seen ? { corners: seen } : {}),
        ...(map ? { homography: [...homographyToFile(map, centre)] as NineNumbers } : {}),
      };
    }),
  };
}

function straightCorners(corners: QuadCorners, lens: Lens, centre: TrackFile['pixelCentre']): QuadCorners | null {
  const out = corners.map((c) => pointToFile(straighten(lens, pointFromFile(c, centre)), centre));
  return out.flat().every(Number.isFinite) ? (out as QuadCorners) : null;
}

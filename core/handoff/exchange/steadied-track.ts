import { applyToPoint, type Homography } from '../../base/geometry/homography.ts';
import { Problem } from '../../base/problem/problem.ts';
import type { NineNumbers, QuadCorners, SteadyFile, TrackFile, TrackFrame } from '../../base/schemas/types.ts';
import { ontoSteadied } from '../../motion/steady/steadied-luma.ts';
import { homographyFromFile, homographyToFile, pointFromFile, pointToFile } from '../../base/geometry/pixel-centre.ts';

/** The moves of a steadied picture as they are kept beside it, in continuous coordinates: plate to steadied pixels. */
export function mapsOfSteadyFile({ frames, pixelCentre }: SteadyFile): Map<number, Homography> {
  return new Map(frames.map(({ frame, map }) => [frame, homographyFromFile(map, pixelCentre)]));
}

/**
 * A track as it is seen on the steadied picture: corners moved by each frame's map, homographies from the steadied reference frame to the steadied frame.
 * Frames that were not steadied are left out. @throws Problem not-followed where the reference frame was not steadied
 */
export function steadiedTrack(track: TrackFile, maps: ReadonlyMap<number, Homography>): TrackFile {
  const home = maps.get(track.referenceFrame);
  const { pixelCentre: centre } = track;
  if (!home) throw new Problem('not-followed', { frame: track.referenceFrame });
  const moved = (corners: QuadCorners, map: Homography) =>
    corners.map((c) => pointToFile(applyToPoint(map, pointFromFile(c, centre)), centre)) as QuadCorners;
  // On the moved picture the lens is nowhere known.
  const { lens: _lens, ...plain } = track;
  return {
    ...plain,
    ...(track.seat ? { seat: { corners: moved(track.seat.corners, home) } } : {}),
    frames: track.frames.flatMap((row): TrackFrame[] => {
      const map = maps.get(row.frame);
      const h = map && row.homography ? ontoSteadied(homographyFromFile(row.homography, centre), map, home) : null;
      if (!map) return [];
      const { homography: _, ...kept } = row;
      return [
        {
          ...kept,
          corners: row.corners && moved(row.corners, map),
          ...(h ? { homography: [...homographyToFile(h, centre)] as NineNumbers } : {}),
        },
      ];
    }),
  };
}

import { mapTuple } from '../../base/geometry/map-tuple.ts';
import { cornersByFrame } from './track-file.ts';
import { homographyFromFile, pointFromFile, pointToFile } from '../../base/geometry/pixel-centre.ts';
import { homographyBetweenQuads } from '../../base/geometry/estimate-homography.ts';
import { applyToPoints, invert, type Homography } from '../../base/geometry/homography.ts';
import { bounds, type Quad } from '../../base/geometry/quad.ts';
import { checkCorners } from '../../motion/follow/check-job.ts';
import { Problem } from '../../base/problem/problem.ts';
import type { CornerBounds, EightMoves, QuadCorners, TrackFile, TrackFrame } from '../../base/schemas/types.ts';
import type { SeatPlan } from '../../surface/seat/measure-seat.ts';
import { SeatedCorners, type Seating } from '../../surface/seat/seated-corners.ts';

/** The smallest a surface may be on the reference frame, px. */
export const SMALLEST_SURFACE = 8;

/**
 * What of a track file is to be seated, in our coordinates. A frame's map is the way from the reference's corners to the frame's own corners, so
 * that what somebody has done to them counts; where a file states how it was seated, it is the homography. Holes are left out.
 * @throws Problem no-reference-corners, nothing-held, bad-corners, quad-too-small
 */
export function planFromTrack(track: TrackFile, where: string): SeatPlan {
  const all = cornersByFrame(track);
  const held = track.frames.filter((f) => f.corners);
  if (held.length === 0) throw new Problem('nothing-held', { where });
  const seated = track.seat && mapTuple(track.seat.corners, (c) => pointFromFile(c, track.pixelCentre));
  const corners = seated ?? all.get(track.referenceFrame) ?? ledBack(track, all);
  if (!corners) throw new Problem('no-reference-corners', { where, frame: track.referenceFrame });
  checkSurface(corners, where);
  const frames = held.flatMap((f) => {
    const map =
      seated && f.homography
        ? homographyFromFile(f.homography, track.pixelCentre)
        : homographyBetweenQuads(corners, all.get(f.frame)!);
    return map ? [{ frame: f.frame, map, bounds: f.bound ?? null }] : [];
  });
  return { corners, referenceFrame: track.referenceFrame, frames };
}

/** Refuses quads that no surface could show itself as, or that are too small to have borders. */
export function checkSurface(corners: Quad, where: string): void {
  const { left, top, right, bottom } = bounds(corners);
  const size = Math.min(right - left, bottom - top);
  if (size < SMALLEST_SURFACE) throw new Problem('quad-too-small', { where, size: size.toFixed(1) });
  checkCorners(corners, where);
}

/** The reference's corners by way of the nearest held frame. */
function ledBack(track: TrackFile, all: ReadonlyMap<number, Quad>): Quad | null {
  const near = track.frames
    .filter((f) => f.corners && f.homography)
    .sort((a, b) => Math.abs(a.frame - track.referenceFrame) - Math.abs(b.frame - track.referenceFrame))[0];
  const back = near?.homography && invert(homographyFromFile(near.homography, track.pixelCentre));
  return back ? applyToPoints(back, all.get(near.frame)!) : null;
}

/** A track file with its corners seated anew; homographies stay as they are. `boundsOf` are the corners' new bounds, where there are any. */
export function seatedTrack(
  track: TrackFile,
  maps: ReadonlyMap<number, Homography>,
  seating: Seating,
  boundsOf: (frame: number) => readonly number[] | null,
  why: readonly string[],
  snapped?: 'inner' | 'outer',
): TrackFile {
  const stated = new Map(track.frames.map((f) => [f.frame, f.bound ?? null]));
  const corners = new SeatedCorners(seating).all(maps, (frame) => boundsOf(frame) ?? stated.get(frame) ?? null);
  const centre = track.pixelCentre;
  return {
    ...track,
    seat: {
      corners: seating.corners.map((c) => pointToFile(c, centre).map(short)) as QuadCorners,
      ...(snapped ? { snapped } : {}),
      ...(seating.lock ? { locked: true } : {}),
      ...(seating.corrections?.length ? { corrections: seating.corrections.map((c) => ({ ...c })) } : {}),
      ...(seating.smooth ? { smooth: seating.smooth } : {}),
      why: [...why],
    },
    frames: track.frames.map((frame): TrackFrame => {
      const seated = corners.get(frame.frame);
      const lock = seating.lock?.get(frame.frame);
      const bound = boundsOf(frame.frame);
      const { lock: _earlier, ...rest } = frame;
      if (!seated) return rest;
      return {
        ...rest,
        corners: seated.map((c) => pointToFile(c, centre).map(short)) as QuadCorners,
        ...(bound ? { bound: bound.map((b) => Number(b.toFixed(4))) as CornerBounds } : {}),
        ...(lock ? { lock: Array.from(lock, short) as EightMoves } : {}),
      };
    }),
  };
}
const short = (v: number) => Number(v.toFixed(5));

import { mapTuple } from '../../base/geometry/map-tuple.ts';
import type { Quad } from '../../base/geometry/quad.ts';
import { cornerBound } from '../../motion/follow/certainty.ts';
import type { TrackedFrame } from '../../motion/follow/tracked-frame.ts';
import type { FrameFit } from '../../motion/follow/frame-fit.ts';
import type {
  CornerBounds,
  FourSides,
  NineNumbers,
  QuadCorners,
  TrackFile,
  TrackFrame,
  TrackSeat,
} from '../../base/schemas/types.ts';
import { carriedCorners, SeatedCorners, type Seating } from '../../surface/seat/seated-corners.ts';
import type { Lens } from '../../motion/lens/lens.ts';
import { lensToFile } from './lens-file.ts';
import { homographyToFile, pointFromFile, pointToFile, type PixelCentre } from '../../base/geometry/pixel-centre.ts';

export interface TrackFacts {
  readonly pixelCentre: PixelCentre;
  readonly width: number;
  readonly height: number;
  readonly rate: readonly [number, number];
  readonly referenceFrame: number;
  /** Reference corners in our coordinates. */
  readonly corners: Quad;
  readonly firstFrameNumber?: number;
  /** The plate's lens, where it was taken out for following; all else is stated for the plate as filmed. */
  readonly lens?: Lens | undefined;
  /** Where the corners are on each frame; the reference's carried along unless given. */
  readonly seating?: Seating;
}

/** A track file of format yarlop-track/1, coordinates in the convention of `facts.pixelCentre`. */
export function writeTrack(facts: TrackFacts, frames: readonly (TrackedFrame | FrameFit)[]): TrackFile {
  return {
    format: 'yarlop-track/1',
    pixelCentre: facts.pixelCentre,
    width: facts.width,
    height: facts.height,
    rate: [facts.rate[0], facts.rate[1]],
    referenceFrame: facts.referenceFrame,
    ...(facts.lens ? { lens: lensToFile(facts.lens, facts.pixelCentre) } : {}),
    ...(facts.firstFrameNumber ? { firstFrameNumber: facts.firstFrameNumber } : {}),
    ...(facts.seating ? { seat: seatToFile(facts.seating, facts.pixelCentre) } : {}),
    frames: writeFrames(
      facts,
      [...frames].sort((a, b) => a.frame - b.frame),
    ),
  };
}

/** What was done to the corners, as a track states it. Moves are differences and the same in either convention. */
export function seatToFile({ corners, outset, corrections, lock, smooth }: Seating, centre: PixelCentre): TrackSeat {
  return {
    corners: corners.map((c) => pointToFile(c, centre).map((v) => round(v, 5))) as QuadCorners,
    ...(lock ? { locked: true } : {}),
    ...(outset ? { outset: { unit: outset.unit, sides: [...outset.sides] as FourSides } } : {}),
    ...(corrections?.length ? { corrections: corrections.map((c) => ({ ...c })) } : {}),
    ...(smooth ? { smooth } : {}),
  };
}

function writeFrames(facts: TrackFacts, fits: readonly (TrackedFrame | FrameFit)[]): TrackFrame[] {
  const { seating } = facts;
  const maps = new Map(fits.flatMap((fit) => (fit.homography ? [[fit.frame, fit.homography] as const] : [])));
  const bounds = (fit: TrackedFrame | FrameFit) =>
    fit.certainty && fit.homography ? facts.corners.map((c) => cornerBound(fit.certainty!, fit.homography!, c)) : null;
  const byFrame = new Map(fits.map((fit) => [fit.frame, fit]));
  const seated = seating && new SeatedCorners(seating).all(maps, (frame) => bounds(byFrame.get(frame)!));
  return fits.map((fit) =>
    writeFrame(
      facts,
      fit,
      seated ? (seated.get(fit.frame) ?? null) : fit.homography && carriedCorners(fit.homography, facts.corners),
      bounds(fit),
    ),
  );
}

function writeFrame(
  facts: TrackFacts,
  fit: TrackedFrame | FrameFit,
  corners: Quad | null,
  bounds: readonly number[] | null,
): TrackFrame {
  const confidence = round(fit.confidence, 4);
  if (!fit.homography || !corners) {
    return { frame: fit.frame, confidence, lost: fit.lost ?? 'the corners would lie behind the camera' };
  }
  return {
    frame: fit.frame,
    homography: homographyToFile(fit.homography, facts.pixelCentre).map((v) =>
      Number(v.toPrecision(12)),
    ) as NineNumbers,
    corners: corners.map((c) => pointToFile(c, facts.pixelCentre).map((v) => round(v, 5))) as QuadCorners,
    error: round(fit.error, 4),
    confidence,
    ...(bounds ? { bound: bounds.map((b) => round(b, 4)) as CornerBounds } : {}),
    ...(fit.note ? { note: fit.note } : {}),
  };
}

function round(value: number, digits: number): number {
  return Number(value.toFixed(digits));
}

/** Corners by frame in our coordinates; frames without corners are absent. */
export function cornersByFrame(track: TrackFile): Map<number, Quad> {
  const out = new Map<number, Quad>();
  for (const frame of track.frames) {
    if (frame.corners)
      out.set(
        frame.frame,
        mapTuple(frame.corners, (c) => pointFromFile(c, track.pixelCentre)),
      );
  }
  return out;
}

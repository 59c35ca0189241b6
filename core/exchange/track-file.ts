import { applyToPoints, keepsInFront, type Homography } from '../geometry/homography.ts';
import type { Quad } from '../geometry/quad.ts';
import { cornerBound, type Certainty } from '../follow/certainty.ts';
import type { FrameFit } from '../follow/frame-fit.ts';
import type { CornerBounds, NineNumbers, QuadCorners, TrackFile, TrackFrame } from '../schemas/types.ts';
import { homographyToFile, pointFromFile, pointToFile, type PixelCentre } from './pixel-convention.ts';

/** What a followed frame comes to in our coordinates; null where it was lost. */
export interface TrackedFrame {
  readonly frame: number;
  readonly homography: Homography | null;
  readonly error: number;
  readonly confidence: number;
  readonly certainty?: Certainty;
  readonly lost?: string;
  readonly note?: string;
}

export interface TrackFacts {
  readonly pixelCentre: PixelCentre;
  readonly width: number;
  readonly height: number;
  readonly rate: readonly [number, number];
  readonly referenceFrame: number;
  /** Reference corners in our coordinates. */
  readonly corners: Quad;
  readonly firstFrameNumber?: number;
}

/** The reference corners carried to a frame, or null when they would pass through the horizon. */
export function carriedCorners(homography: Homography, corners: Quad): Quad | null {
  return keepsInFront(homography, corners) ? (applyToPoints(homography, corners) as unknown as Quad) : null;
}

/** A track file of format yarlop-track/1, coordinates in the convention of `facts.pixelCentre`. */
export function writeTrack(facts: TrackFacts, frames: readonly (TrackedFrame | FrameFit)[]): TrackFile {
  return {
    format: 'yarlop-track/1', pixelCentre: facts.pixelCentre, width: facts.width, height: facts.height,
    rate: [facts.rate[0], facts.rate[1]], referenceFrame: facts.referenceFrame,
    ...(facts.firstFrameNumber ? { firstFrameNumber: facts.firstFrameNumber } : {}),
    frames: [...frames].sort((a, b) => a.frame - b.frame).map((fit) => writeFrame(facts, fit)),
  };
}

function writeFrame(facts: TrackFacts, fit: TrackedFrame | FrameFit): TrackFrame {
  const corners = fit.homography && carriedCorners(fit.homography, facts.corners);
  const confidence = round(fit.confidence, 4);
  if (!fit.homography || !corners) {
    return { frame: fit.frame, confidence, lost: fit.lost ?? 'the corners would lie behind the camera' };
  }
  return {
    frame: fit.frame,
    homography: homographyToFile(fit.homography, facts.pixelCentre).map((v) => Number(v.toPrecision(12))) as NineNumbers,
    corners: corners.map((c) => pointToFile(c, facts.pixelCentre).map((v) => round(v, 5))) as QuadCorners,
    error: round(fit.error, 4), confidence,
    ...(fit.certainty ? { bound: facts.corners.map((c) => round(cornerBound(fit.certainty!, fit.homography!, c), 4)) as CornerBounds } : {}), ...(fit.note ? { note: fit.note } : {}),
  };
}

function round(value: number, digits: number): number {
  return Number(value.toFixed(digits));
}

/** Corners by frame in our coordinates; frames without corners are absent. */
export function cornersByFrame(track: TrackFile): Map<number, Quad> {
  const out = new Map<number, Quad>();
  for (const frame of track.frames) {
    if (frame.corners) out.set(frame.frame, frame.corners.map((c) => pointFromFile(c, track.pixelCentre)) as unknown as Quad);
  }
  return out;
}

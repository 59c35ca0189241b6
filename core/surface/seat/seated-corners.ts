import { type Homography, applyToPoints, keepsInFront } from '../../base/geometry/homography.ts';
import type { Quad } from '../../base/geometry/quad.ts';
import { CornerMoves, movedCorners, type Correction } from './corrections.ts';
import { outsetQuad, type Outset } from './seat-outset.ts';
import { smoothCorners } from './smooth-corners.ts';

/** All that decides where a surface's corners are on a frame, but for its map. */
export interface Seating {
  readonly corners: Quad;
  readonly referenceFrame: number;
  readonly outset?: Outset | undefined;
  readonly corrections?: readonly Correction[] | undefined;
  /** What the edge lock adds, by frame: x and y of corners 0…3, reference px. */
  readonly lock?: ReadonlyMap<number, ArrayLike<number>> | null | undefined;
  /** 0…1; smooth-corners.ts. */
  readonly smooth?: number | undefined;
}

/** The reference corners carried to a frame, or null when they would pass through the horizon. */
export function carriedCorners(homography: Homography, corners: Quad): Quad | null {
  return keepsInFront(homography, corners) ? applyToPoints(homography, corners) : null;
}

/** Carries corners to frames: reference corners with their outset, the lock's and the corrections' moves, then the frame's map. */
export class SeatedCorners {
  /** The reference's corners with their outset, before any moves. */
  readonly quad: Quad;
  private readonly moves: CornerMoves;

  constructor(private readonly seating: Seating) {
    this.quad = outsetQuad(seating.corners, seating.outset);
    this.moves = new CornerMoves(seating.corrections ?? [], seating.referenceFrame);
  }

  /** On the reference, where the corners of a frame come from; without the track. */
  onReference(frame: number): Quad {
    const lock = this.seating.lock?.get(frame);
    return this.moves.moved(lock ? movedCorners(this.quad, lock) : this.quad, frame);
  }

  at(frame: number, map: Homography): Quad | null {
    return carriedCorners(map, this.onReference(frame));
  }

  /** All frames of a track, smoothed where that is asked for. `boundsOf` gives what is stated of a frame's corners, px; null where nothing is. */
  all(maps: ReadonlyMap<number, Homography>, boundsOf: (frame: number) => readonly number[] | null): Map<number, Quad> {
    const path = [...maps].flatMap(([frame, map]) => {
      const corners = this.at(frame, map);
      return corners ? [{ frame, corners, bounds: boundsOf(frame) ?? UNSAID }] : [];
    });
    return this.seating.smooth
      ? smoothCorners(path, this.seating.smooth)
      : new Map(path.map((p) => [p.frame, p.corners]));
  }
}
/** Taken for noise where a track states no bounds, px. */
const UNSAID = [0.1, 0.1, 0.1, 0.1] as const;

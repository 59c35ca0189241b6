import type { Lens } from '../../core/motion/lens/lens.ts';
import type { Homography, Point } from '../../core/base/geometry/homography.ts';
import type { Quad } from '../../core/base/geometry/quad.ts';
import type { Border } from '../../core/surface/seat/snap.ts';
import type { StoredMedia } from '../database/media.ts';
import type { BoardsTask, LensMapTask } from './lens-tasks.ts';

/** Put a quad of a frame onto the borders near it. */
export interface SnapTask {
  readonly kind: 'snap';
  readonly plate: StoredMedia;
  readonly dataFolder: string;
  readonly frame: number;
  readonly corners: Quad;
  readonly border: Border;
  readonly lens: Lens | undefined;
}

/** Find where corners of the reference are on a frame. */
export interface MatchTask {
  readonly kind: 'match';
  readonly plate: StoredMedia;
  readonly dataFolder: string;
  readonly referenceFrame: number;
  readonly frame: number;
  /** Reference pixels to the frame's, as seated now. */
  readonly map: Homography;
  readonly corners: readonly {
    readonly corner: number;
    readonly place: Point;
    readonly onReference?: Point;
    readonly onFrame?: Point;
  }[];
}

/** Some frames of a surface. */
export interface SurfaceTask {
  readonly plate: StoredMedia;
  readonly dataFolder: string;
  readonly ratio: number;
  /** The corners on the frame that outlines are given at. */
  readonly home: Quad;
  readonly referenceFrame: number;
  readonly frames: readonly { readonly frame: number; readonly quad: Quad }[];
  readonly lens: Lens | undefined;
}

/** Propose what tells where something stands before the screen. */
export interface FrontTask extends SurfaceTask {
  readonly kind: 'front';
}

/** Find the marks on a surface. */
export interface MarksTask extends SurfaceTask {
  readonly kind: 'marks';
}

/** Tell the lens by what is straight: the surface's borders on some frames, and lines that were drawn. */
export interface LensTask {
  readonly kind: 'lens';
  readonly plate: StoredMedia;
  readonly dataFolder: string;
  readonly frames: readonly { readonly frame: number; readonly quad: Quad }[];
  readonly drawn: readonly (readonly Point[])[];
  /** Its unit, px. */
  readonly focal: number;
}

/** Measure a look along the surface's corners. */
export interface LookTask {
  readonly kind: 'look';
  readonly plate: StoredMedia;
  /** What is shown, where that is one medium and at hand. */
  readonly content: StoredMedia | null;
  readonly dataFolder: string;
  readonly ratio: number;
  readonly referenceFrame: number;
  readonly frames: readonly { readonly frame: number; readonly quad: Quad }[];
}

export type DeskTask = SnapTask | MatchTask | FrontTask | MarksTask | LensTask | BoardsTask | LensMapTask | LookTask;

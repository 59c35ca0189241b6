import type { Lens } from '../../../core/motion/lens/lens.ts';
import type { CleanKind } from '../../../core/picture/measure/clean-needs.ts';
import type { Board } from '../../../core/base/schemas/types.ts';
import type { CardName } from '../../../core/picture/composite/test-card.ts';
import type { ResolvedLook } from '../../../core/picture/look/look.ts';
import type { PictureSource } from '../api/urls.ts';
import type { QuadMotion } from '../../../core/picture/pin/shutter-path.ts';
import type { Quad } from '../../../core/base/geometry/quad.ts';
import type { Quality } from '../../../core/picture/pin/render-insert.ts';

/** The finished picture, its matte, a map of what is wholly front, wholly screen and between, the plate with what is painted out, the front over something plain, or the plate as it was filmed. */
export const FRONT_VIEWS = ['finished', 'matte', 'parts', 'cleaned', 'checker', 'black', 'white', 'plate'] as const;
export type FrontView = (typeof FRONT_VIEWS)[number];
export const nextView = (view: FrontView): FrontView =>
  FRONT_VIEWS[(FRONT_VIEWS.indexOf(view) + 1) % FRONT_VIEWS.length]!;

/** A medium and how its frames are fetched. */
export interface ShownMedium {
  source: PictureSource;
  /** Of the medium itself; its light pictures may be smaller. */
  width: number;
  height: number;
  frames: number;
  rate: readonly [number, number];
  picture: 'jpg' | 'png';
}

/** What is shown on a surface. */
export type ShownRequest =
  | ({ kind: 'medium' } & ShownMedium)
  | { kind: 'test-card'; ratio: number; card: CardName }
  | { kind: 'board'; board: Board; media: Readonly<Record<number, ShownMedium>> };

/** One surface on a frame, in plate pixels. */
export interface SurfaceRequest {
  content: ShownRequest;
  motion: QuadMotion;
  /** The corners on the reference frame. */
  reference: Quad;
  referenceFrame: number;
  surfaceRatio: number;
  look: ResolvedLook;
  /** Of the plate's camera; usual for the picture's size when absent. */
  focal: number | undefined;
  /** The plate's lens. */
  lens: Lens | undefined;
  /** The device hides what is farther so far beyond its screen. */
  border: number;
  /** Frames that tell what the surface looks like without anything in front, where that is asked for. */
  clean: readonly { frame: number; quad: Quad }[];
  /** How it is measured from them; null where only what differs is. */
  cleanKind: CleanKind | null;
  /** Frames that tell what the surface usually shows, where something is painted out from them. */
  usual: readonly { frame: number; quad: Quad }[];
}

/** What the preview worker needs to know for one finished frame. */
export interface ComposeRequest {
  plate: PictureSource;
  /** Of the plate itself; its light pictures may be smaller. */
  plateWidth: number;
  plateRate: readonly [number, number];
  frame: number;
  /** Exact plate pixels, or the light proxy while playing. */
  plateKind: 'jpg' | 'png';
  /** The farthest first. */
  surfaces: readonly SurfaceRequest[];
  quality: Quality;
  /** Pixels of the screen that the plate's width takes: a picture in haste is no finer. */
  onScreen: number;
  view: FrontView;
}

/** A finished frame. */
export interface Composed {
  bitmap: ImageBitmap;
  /** Fixes, by their place in the look's list, around which nothing is seen on it, so that they were left as they are. */
  unfilled: number[];
}

/** What is needed for a board by itself. */
export interface BoardRequest {
  board: Board;
  media: Readonly<Record<number, ShownMedium>>;
  plateRate: readonly [number, number];
  frame: number;
  scale: number;
}

import type { CodedPicture } from '../image/picture.ts';
import type { PlateColour } from '../image/plate-colour.ts';
import type { PinnedSurface } from './pinned-surface.ts';
import type { Quality } from './render-insert.ts';

/** A surface that is laid into a picture. */
export interface Laying {
  readonly plate: CodedPicture;
  /** Shows the plate, or surfaces behind this one too. */
  readonly out: CodedPicture;
  readonly surface: PinnedSurface;
  readonly quality: Quality;
  readonly colour: PlateColour;
  /** Nothing was laid into `out` before. */
  readonly fresh: boolean;
}

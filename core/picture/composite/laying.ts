import type { CodedPicture } from '../../base/image/picture.ts';
import type { PlateColour } from '../../base/image/plate-colour.ts';
import type { PinnedSurface } from '../pin/pinned-surface.ts';
import type { Quality } from '../pin/render-insert.ts';

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

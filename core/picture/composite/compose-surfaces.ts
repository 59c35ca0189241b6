import { cleanPlate } from './clean-plate.ts';
import type { Point } from '../../base/geometry/homography.ts';
import { grownOutline } from '../../base/geometry/grow-outline.ts';
import type { CodedPicture } from '../../base/image/picture.ts';
import { DISPLAY_COLOUR, type PlateColour } from '../../base/image/plate-colour.ts';
import type { FrontShape } from '../../base/schemas/types.ts';
import { composeOnto, type Composed } from './compose-frame.ts';
import type { Quality } from '../pin/render-insert.ts';
import { outlineOf, type PinnedSurface } from '../pin/pinned-surface.ts';

/** One of several surfaces of a plate. */
export interface StackedSurface {
  readonly surface: PinnedSurface;
  /** Its device hides what is farther so far beyond its screen, px. */
  readonly border: number;
}

/**
 * Finishes several surfaces of one plate, the farthest first. What a nearer one covers, its device's border counted, is not drawn of those behind
 * it. Each takes what stands before it from the plate itself. With `matte`, how much of each pixel shows content of any.
 */
export function composeSurfaces(
  filmed: CodedPicture,
  surfaces: readonly StackedSurface[],
  quality: Quality,
  colour: PlateColour = DISPLAY_COLOUR,
  matte = false,
): Composed {
  const plate = surfaces.reduce((picture, { surface }) => cleanPlate(picture, surface, quality, colour), filmed);
  const picture: CodedPicture = { ...plate, data: plate.data.slice() };
  const shown = matte ? new Float32Array(plate.width * plate.height) : null;
  surfaces.forEach(({ surface }, i) => {
    const covers = surfaces.slice(i + 1).map((nearer) => coverShape(nearer, surface.frame));
    composeOnto(
      {
        plate,
        out: picture,
        surface: covers.length > 0 ? withShapes(surface, covers) : surface,
        quality,
        colour,
        fresh: i === 0,
      },
      shown,
    );
  });
  return { picture, matte: shown };
}

/** A device as a shape in the picture that moves as its surface does. */
function coverShape({ surface, border }: StackedSurface, frame: number): FrontShape {
  const { before, now, after } = surface.motion;
  const told = (outline: readonly Point[]) => grownOutline(outline, border).map(([x, y]): [number, number] => [x, y]);
  const keys = [
    [before, frame - 1],
    [after, frame + 1],
  ] as const;
  const points = told(outlineOf(surface, now));
  return {
    points,
    rides: 'plate',
    does: 'keep',
    blur: true,
    home: frame,
    keys: keys.flatMap(([quad, at]) => {
      const moved = quad && at >= 0 ? told(outlineOf(surface, quad)) : null;
      return moved?.length === points.length ? [{ frame: at, points: moved }] : [];
    }),
  };
}

function withShapes(surface: PinnedSurface, shapes: readonly FrontShape[]): PinnedSurface {
  const { look } = surface;
  return { ...surface, look: { ...look, front: { ...look.front, shapes: [...look.front.shapes, ...shapes] } } };
}

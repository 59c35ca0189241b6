import type { Quality } from '../../../core/picture/pin/render-insert.ts';
import { cleanPlate, leftUnfilled } from '../../../core/picture/composite/clean-plate.ts';
import { composeSurfaces, type StackedSurface } from '../../../core/picture/composite/compose-surfaces.ts';
import { buildContentPyramid, type ContentPyramid } from '../../../core/picture/pin/content-pyramid.ts';
import { NEUTRAL_LEVELS } from '../../../core/picture/look/look.ts';
import { DISPLAY_COLOUR } from '../../../core/base/image/plate-colour.ts';
import type { CodedPicture } from '../../../core/base/image/picture.ts';
import type { FrontView } from './compose-request.ts';

const made = new Map<string, ContentPyramid>();

/** Something plain in place of the content, to judge what stands before it. */
export function plainContent(view: 'checker' | 'black' | 'white'): ContentPyramid {
  let content = made.get(view);
  if (!content) {
    const size = 256;
    const value = (i: number) =>
      view === 'black' ? 0 : view === 'white' ? 255 : (((i % size) >> 4) + ((i / size) >> 4)) & 1 ? 200 : 96;
    content = buildContentPyramid(
      {
        width: size,
        height: size,
        data: Uint8Array.from({ length: size * size * 4 }, (_, k) => (k % 4 === 3 ? 255 : value(k >> 2))),
        peak: 255,
      },
      NEUTRAL_LEVELS,
    );
    made.set(view, content);
  }
  return content;
}

/** Shares up to here count as wholly front, or from one less this on as wholly screen. */
const WHOLLY = 1 / 510;
/** Front is dark, screen light, what is between amber: told apart without colour too. */
const FRONT = [34, 38, 42];
const SCREEN = [240, 240, 238];
const BETWEEN = [214, 130, 40];

/** Fixes of the first surface around which nothing is seen on a frame, by their place in its look's list. */
export function unfilledOf(plate: CodedPicture, [own]: readonly StackedSurface[], quality: Quality): number[] {
  // Where the front is another on every call, cleaning once more would be dear.
  return own?.surface.look.clean?.fixes.length && !own.surface.differs
    ? [...leftUnfilled(cleanPlate(plate, own.surface, quality, DISPLAY_COLOUR))]
    : [];
}

/** The picture that a view shows of a finished frame. */
export function viewOf(
  view: FrontView,
  plate: CodedPicture,
  surfaces: readonly StackedSurface[],
  quality: Quality,
): CodedPicture {
  if (view === 'plate') return plate;
  if (view === 'cleaned')
    return surfaces.reduce((picture, { surface }) => cleanPlate(picture, surface, quality, DISPLAY_COLOUR), plate);
  const asks = view === 'matte' || view === 'parts';
  const { picture, matte } = composeSurfaces(plate, surfaces, quality, DISPLAY_COLOUR, asks);
  if (!asks) return picture;
  const data = new Uint8Array(plate.width * plate.height * 3);
  for (let i = 0; i < matte!.length; i++) {
    const share = matte![i]!;
    const code = 255 * share + 0.5;
    const colour = view === 'matte' ? null : share <= WHOLLY ? FRONT : share >= 1 - WHOLLY ? SCREEN : BETWEEN;
    for (let c = 0; c < 3; c++) data[3 * i + c] = colour ? colour[c]! : code;
  }
  return { width: plate.width, height: plate.height, data, peak: 255 };
}

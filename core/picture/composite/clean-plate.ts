import { clamp } from '../../base/geometry/clamp.ts';
import { frontScene, hasFront } from './front-scene.ts';
import { KeptWithPicture, numberOf } from './kept-with-picture.ts';
import { lookNow } from '../look/look.ts';
import type { PinnedSurface } from '../pin/pinned-surface.ts';
import type { Quality } from '../pin/render-insert.ts';
import { quadAt } from '../pin/shutter-path.ts';
import { homographyBetweenQuads } from '../../base/geometry/estimate-homography.ts';
import { invert } from '../../base/geometry/homography.ts';
import { bounds, UNIT_SQUARE } from '../../base/geometry/quad.ts';
import type { CodedPicture } from '../../base/image/picture.ts';
import type { PlateColour } from '../../base/image/plate-colour.ts';
import { placesOnSurface, surfaceFromPlace } from '../../motion/lens/lens-surface.ts';
import { frontOfFrame } from '../matte/front-of-frame.ts';
import type { ScreenMarkers } from '../../base/schemas/types.ts';
import { cleanFrame } from '../clean/clean-frame.ts';
import { fixesOn } from '../look/clean-fix.ts';
import { fixOnFrame, type FixOnFrame } from '../clean/fix-on-frame.ts';

/** Half of the frame: what a plate is smeared by where no blur is given (common practice, no source). */
const USUAL_SHUTTER = 180;

/** Cleaned plates, kept while their picture is. */
const PICTURES = 4;
const SURFACES = 2;
const cleaned = new KeptWithPicture<CodedPicture>(PICTURES, SURFACES);

/** Of cleaned plates the fixes, by their place in the look's list, that were left as they are. */
const unfilled = new WeakMap<CodedPicture, readonly number[]>();

/** The fixes of a cleaned plate's frame (as `cleanPlate` gave it), by their place in the look's list, around which nothing is seen there, so that they were left as they are. */
export const leftUnfilled = (cleanedPlate: CodedPicture): readonly number[] => unfilled.get(cleanedPlate) ?? [];

/** A frame of the plate with what the look's fixes paint out; the plate itself where there are none on this frame. What stands before the surface stays. */
export function cleanPlate(
  plate: CodedPicture,
  surface: PinnedSurface,
  quality: Quality,
  colour: PlateColour,
): CodedPicture {
  const { look, motion, frame, lens } = surface;
  const fixes = fixesOn(look.clean?.fixes ?? [], frame);
  if (fixes.length === 0) return plate;
  const make = () => {
    const open = (lookNow(look, frame).motionBlur.shutter || USUAL_SHUTTER) / 360;
    const map = homographyBetweenQuads(UNIT_SQUARE, motion.now);
    const place = placesOnSurface(motion.now, lens);
    const back = map && invert(map);
    if (!back || !place) return plate;
    const quads = ((motion.before ?? motion.after) ? [-open / 2, 0, open / 2] : [0]).map((time) =>
      quadAt(motion, time),
    );
    const maps = quads.map((quad) => homographyBetweenQuads(UNIT_SQUARE, quad)).filter((h) => h !== null);
    const froms = quads.map((quad) => surfaceFromPlace(quad, lens)).filter((f) => f !== null);
    const { shutter, phase } = lookNow(look, frame).motionBlur;
    const shapes = {
      motion,
      frame,
      reference: surface.reference ?? null,
      referenceFrame: surface.referenceFrame ?? 0,
      shutter,
      phase,
      mostMoments: 1,
    };
    const there = fixes.map((fix) => fixOnFrame(fix, { shapes, place, back }));
    const { picture, left } = cleanFrame(plate, there, {
      maps,
      front: frontBeside(plate, surface, there, quality, colour),
      grain: look.clean!.grain !== false,
      usual: surface.usual,
      froms,
      colour,
    });
    if (left.length > 0)
      unfilled.set(
        picture,
        left.map((i) => look.clean!.fixes.indexOf(fixes[i]!)),
      );
    return picture;
  };
  // Where the front is another on every call nothing is kept.
  return surface.differs
    ? make()
    : cleaned.get(
        plate,
        JSON.stringify([
          fixes,
          look.clean!.grain,
          motion,
          frame,
          lens,
          look.motionBlur,
          look.exposure,
          look.front,
          surface.clean ? numberOf(surface.clean) : null,
          surface.usual ? numberOf(surface.usual) : null,
          surface.reference,
          surface.referenceFrame,
          colour,
        ]),
        make,
      );
}

/** What stands before the surface, the marks that are to be cleaned away not counted; null where nothing does. */
function frontBeside(
  plate: CodedPicture,
  surface: PinnedSurface,
  fixes: readonly FixOnFrame[],
  quality: Quality,
  colour: PlateColour,
): Float32Array | null {
  if (!hasFront(surface)) return null;
  const { front: settings } = surface.look;
  const found = frontOfFrame(
    plate,
    colour,
    {
      ...settings,
      markers: [...settings.markers, ...fixes.filter(({ outline }) => outline.length >= 3).map(asMarker)],
    },
    frontScene(surface, quality),
  );
  if (!found) return null;
  const out = new Float32Array(plate.width * plate.height);
  const { box, front, marked } = found;
  const width = box.right - box.left;
  for (let row = box.top; row < box.bottom; row++)
    for (let col = box.left; col < box.right; col++) {
      const from = (row - box.top) * width + col - box.left;
      out[row * plate.width + col] = marked && marked[from]! > 0 ? onMark(front[from]!) : front[from]!;
    }
  return out;
}

/** On a mark what stands in front is known roughly: a little is the mark itself, much of it all. */
const LITTLE = 0.3;
const MUCH = 0.7;
const onMark = (share: number) => {
  const t = clamp((share - LITTLE) / (MUCH - LITTLE), 0, 1);
  return t * t * (3 - 2 * t);
};

/** The box of a fix, as marks on a screen are given: its middle and half its size. */
function asMarker({ outline }: FixOnFrame): ScreenMarkers[number] {
  const { left, top, right, bottom } = bounds(outline);
  return [(left + right) / 2, (top + bottom) / 2, (right - left) / 2, (bottom - top) / 2];
}

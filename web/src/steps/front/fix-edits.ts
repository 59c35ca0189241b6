import { isDraft } from 'immer';
import { homographyBetweenQuads } from '../../../../core/base/geometry/estimate-homography.ts';
import { applyToPoint, type Point } from '../../../../core/base/geometry/homography.ts';
import { bounds, UNIT_SQUARE, type Quad } from '../../../../core/base/geometry/quad.ts';
import type { CleanFixFile, FrontShape, ShotDocument } from '../../../../core/base/schemas/types.ts';

/** Ways of filling a fix, and what each says. */
export const FILLS = ['smooth', 'patch', 'clone', 'frames', 'glass'] as const;
export const FILL_SAYS: Readonly<Record<CleanFixFile['method'], string>> = {
  smooth: 'From what surrounds it: for an even surface, lit or dark.',
  patch:
    'From another place of the surface, its light led over from around the fix. Drag the dashed outline to where it is taken from.',
  clone: 'From another place of the surface, as it is there. Drag the dashed outline to where it is taken from.',
  frames:
    'From frames on which nothing hides it, its light led over from around the fix: for what moves over the surface.',
  glass:
    'From the mark itself: what it takes from the light is given back, so that what is mirrored over it stays. For marks that the screen shows, on three frames or more.',
};

/** The fixes of a document; none where they are to be found on rendering. */
export function fixesOf({ look: { clean } }: ShotDocument): CleanFixFile[] {
  return clean && clean.fixes !== 'find' ? clean.fixes : [];
}

/** Outlines of the fixes. One told in shares of the surface becomes a shape on the reference frame as soon as it is edited. */
export function fixShapes(document: ShotDocument): FrontShape[] {
  return fixesOf(document).map((fix) => {
    const shape = fix.shape ?? shapeFromShares(fix.outline ?? [], document);
    if (isDraft(fix) && !fix.shape) {
      fix.shape = shape;
      delete fix.outline;
    }
    // A draft's own part, so that edits of it count.
    return fix.shape ?? shape;
  });
}

function shapeFromShares(outline: readonly Point[], { corners, referenceFrame }: ShotDocument): FrontShape {
  const map = corners && homographyBetweenQuads(UNIT_SQUARE, corners);
  return {
    points: outline.map((p) => {
      const [x, y] = map ? applyToPoint(map, p) : p;
      return [x, y];
    }),
    home: referenceFrame,
  };
}

/** Clear of a fix by so much of its size. */
const CLEAR = 1.35;

/** Where a patch for a fix is taken from at first: beside it, on the side where the surface has more room. Shares, relative. */
export function besideFix(outline: readonly Point[]): [number, number] {
  const { left, right, top, bottom } = bounds(outline);
  const wide = CLEAR * (right - left);
  const high = CLEAR * (bottom - top);
  const x = (left + right) / 2;
  const y = (top + bottom) / 2;
  const ways: [number, number][] = [
    [x < 0.5 ? wide : -wide, 0],
    [0, y < 0.5 ? high : -high],
  ];
  const room = ([dx, dy]: [number, number]) => Math.min(left + dx, 1 - right - dx, top + dy, 1 - bottom - dy);
  return room(ways[0]!) >= room(ways[1]!) ? ways[0]! : ways[1]!;
}

/** Sets how a fix is filled; one that is taken from elsewhere gets a place to be taken from. `outline`: where it lies, in shares. */
export function setFill(fix: CleanFixFile, method: CleanFixFile['method'], outline: readonly Point[]): void {
  fix.method = method;
  if ((method === 'patch' || method === 'clone') && !fix.from) fix.from = besideFix(outline);
}

/** Where an outline in plate px lies in shares of the surface; null where the surface is seen edge on. */
export function inShares(points: readonly Point[], quad: Quad): Point[] | null {
  const map = homographyBetweenQuads(quad, UNIT_SQUARE);
  return map && points.map((p) => applyToPoint(map, p));
}

/** Changes one fix, where it is still there; all fixes are then of the newer kind that has shapes. */
export function changeFix(document: ShotDocument, index: number, recipe: (fix: CleanFixFile) => void): void {
  const fix = fixesOf(document)[index];
  if (!fix) return;
  fixShapes(document);
  recipe(fix);
}

// @vitest-environment happy-dom
import { createPinia, setActivePinia } from 'pinia';
import { describe, expect, test } from 'vitest';
import { applyToPoints, type Homography } from '../../../../core/base/geometry/homography.ts';
import type { Quad } from '../../../../core/base/geometry/quad.ts';
import type { ShotDocument, TrackRow } from '../../../../core/base/schemas/types.ts';
import { MIRROR, QUARTER_TURN } from '../../../../core/surface/seat/turn-quad.ts';
import { useWorkspace } from '../../stores/workspace.ts';
import { useDocument } from '../../stores/document.ts';
import { usePlacedCorners } from '../../stores/placed-corners.ts';
import { useTrack } from '../../stores/track.ts';
import { DOCUMENT, row } from '../../test/shot-parts.ts';
import { cornerMotion } from './corner-motion.ts';
import { middleOf, movePart, turnQuad, WHOLE } from './move-part.ts';
import { addFix, changeFix, copyFix, fixesByFrame, moveFix, moveQuad, removeFix, turnContent } from './seat-edits.ts';

const SHIFT: Homography = [1, 0, 30, 0, 1, -5, 0, 0, 1];
const QUAD = DOCUMENT.corners as unknown as Quad;
const there = (quad: Quad) => applyToPoints(SHIFT, quad) as unknown as Quad;

/** The document and its corners, with a track that says `map` of frame 9. */
function begun(map: Homography | null, seatMode: 'everywhere' | 'here') {
  setActivePinia(createPinia());
  const doc = useDocument();
  doc.begin(DOCUMENT);
  useTrack().byFrame = new Map(map ? [[9, row(9, { homography: [...map] as TrackRow['homography'] })]] : []);
  useWorkspace().seatMode = seatMode;
  return { doc, placed: usePlacedCorners() };
}

describe('moving the quad of a frame', () => {
  test('for all frames it is carried back to the reference', () => {
    const { doc } = begun(SHIFT, 'everywhere');
    moveQuad(9, movePart(there(QUAD), 0, [2, 1]), 'edit');
    expect(doc.document!.corners).toEqual([
      [22, 21],
      [80, 20],
      [80, 60],
      [20, 60],
    ]);
    expect(doc.document!.corrections).toBeUndefined();
  });
  test('as a fix it is keyed on its frame, and moving on adds to that key', () => {
    const { doc, placed } = begun(SHIFT, 'here');
    moveQuad(9, movePart(there(QUAD), 0, [2, 1]), 'drag');
    moveQuad(9, movePart(there(QUAD), 0, [3, 1]), 'drag');
    expect(doc.document!.corners).toEqual(DOCUMENT.corners);
    expect(doc.document!.corrections).toEqual([{ frame: 9, corner: 0, dx: 3, dy: 1 }]);
    expect(placed.cornersAt(9)![0]).toEqual([53, 16]);
    moveQuad(9, movePart(placed.cornersAt(9)!, WHOLE, [0, 1]), 'edit');
    expect(doc.document!.corrections).toHaveLength(4);
    expect(placed.cornersAt(9)![2]).toEqual([110, 56]);
  });
  test('a move that crosses or dents the outline is not made, nor one where the track does not reach', () => {
    const { doc } = begun([1, 0, 0, 0, 1, 0, 0, 0, 1], 'everywhere');
    moveQuad(9, movePart(QUAD, 0, [70, 45]), 'drag');
    moveQuad(9, movePart(QUAD, 0, [59, 41]), 'drag');
    expect(doc.document).toBe(DOCUMENT);
    const lost = begun(null, 'everywhere');
    moveQuad(9, QUAD, 'edit');
    expect(lost.doc.document).toBe(DOCUMENT);
  });
});

describe('parts', () => {
  test('a side goes along its normal, whichever way the hand does', () => {
    expect(movePart(QUAD, 4, [7, -3])).toEqual([
      [20, 17],
      [80, 17],
      [80, 60],
      [20, 60],
    ]);
    expect(movePart(QUAD, 5, [7, -3])).toEqual([
      [20, 20],
      [87, 20],
      [87, 60],
      [20, 60],
    ]);
  });
  test('all of it is turned and scaled about its middle', () => {
    const turned = turnQuad(QUAD, Math.PI / 2, 2);
    expect(middleOf(turned)).toEqual(middleOf(QUAD));
    expect(turned[0][0]).toBeCloseTo(90, 9);
    expect(turned[0][1]).toBeCloseTo(-20, 9);
  });
});

describe('fixes', () => {
  const with4 = (): ShotDocument => ({
    ...structuredClone(DOCUMENT),
    corrections: [
      { frame: 5, corner: 1, dx: 1, dy: 0 },
      { frame: 5, corner: 2, dx: 0, dy: 1 },
      { frame: 8, corner: 1, dx: 4, dy: 0, ease: 'linear' },
    ],
  });
  test('are listed by frame, moved, copied, weakened, muted and removed', () => {
    const draft = with4();
    expect(fixesByFrame(draft.corrections!).map((f) => [f.frame, f.keys.length])).toEqual([
      [5, 2],
      [8, 1],
    ]);
    moveFix(draft, 5, 6);
    copyFix(draft, 6, 3);
    changeFix(draft, 6, (key) => {
      key.strength = 0.5;
      key.muted = true;
    });
    removeFix(draft, 8);
    expect(draft.corrections).toEqual([
      { frame: 3, corner: 1, dx: 1, dy: 0 },
      { frame: 3, corner: 2, dx: 0, dy: 1 },
      { frame: 6, corner: 1, dx: 1, dy: 0, strength: 0.5, muted: true },
      { frame: 6, corner: 2, dx: 0, dy: 1, strength: 0.5, muted: true },
    ]);
    removeFix(draft, 3);
    removeFix(draft, 6);
    expect('corrections' in draft).toBe(false);
  });
  test('a new key between others begins where they lead', () => {
    const draft = with4();
    draft.corrections = draft.corrections!.map((c) => ({ ...c, ease: 'linear' as const }));
    addFix(draft, 6, 1, [0.5, 0]);
    expect(draft.corrections.find((c) => c.frame === 6)).toMatchObject({ corner: 1, dx: 2.5, dy: 0 });
  });
  test('turning the content takes its corners, fixes and outset along', () => {
    const draft = with4();
    draft.outset = { unit: 'px', sides: [1, 2, 3, 4] };
    turnContent(draft, QUARTER_TURN);
    expect(draft.corners).toEqual([
      [80, 20],
      [80, 60],
      [20, 60],
      [20, 20],
    ]);
    expect(draft.corrections!.map((c) => c.corner)).toEqual([0, 1, 0]);
    expect(draft.outset.sides).toEqual([2, 3, 4, 1]);
    turnContent(draft, MIRROR);
    expect(draft.corners).toEqual([
      [80, 60],
      [80, 20],
      [20, 20],
      [20, 60],
    ]);
  });
});

test('speed, acceleration and jitter are those of the fastest corner', () => {
  const at = (frame: number): Quad =>
    QUAD.map(([x, y], i) => [x + (i === 2 ? 3 : 1) * frame + (frame === 6 ? 0.6 : 0), y]) as unknown as Quad;
  const motion = cornerMotion(
    Array.from({ length: 13 }, (_, f) => f),
    at,
  );
  expect(motion[2]!.speed).toBeCloseTo(3, 9);
  expect(motion[2]!.jitter).toBeCloseTo(0, 9);
  expect(motion[6]!.jitter).toBeCloseTo(0.6, 9);
  expect(motion[6]!.acceleration).toBeCloseTo(1.2, 9);
  expect(motion[0]).toMatchObject({ speed: null, acceleration: null, jitter: null });
});

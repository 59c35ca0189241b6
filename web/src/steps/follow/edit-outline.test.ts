import { describe, expect, test } from 'vitest';
import { outlineAt, polygonOf } from '../../../../core/base/geometry/outline.ts';
import { fillPolygon } from '../../../../core/base/geometry/polygon.ts';
import type { RegionOutline } from '../../../../core/base/schemas/types.ts';
import {
  addPoint,
  bendPoint,
  isCurved,
  keptPoint,
  keyFrames,
  moveHandle,
  moveKey,
  moveOutline,
  movePoint,
  removeKey,
  removePoint,
  shownOutline,
} from './edit-outline.ts';

const square = (): RegionOutline => ({
  points: [
    [0, 0],
    [40, 0],
    [40, 40],
    [0, 40],
  ],
});
const REFERENCE = { referenceFrame: 10, frame: 10 };
const LATER = { referenceFrame: 10, frame: 20 };
/** Pixels under the outline as it is on a frame. */
function area(outline: RegionOutline, frame = 10): number {
  const mask = new Uint8Array(100 * 100);
  fillPolygon(
    mask,
    100,
    100,
    polygonOf(outlineAt(outline, 10, frame)).map(([x, y]): [number, number] => [x + 30, y + 30]),
    1,
  );
  return mask.reduce((a, b) => a + b, 0);
}

describe('editing on a frame', () => {
  test('the reference changes the outline itself; another frame gets a key', () => {
    const outline = square();
    movePoint(outline, REFERENCE, 0, [5, 5]);
    expect(outline).toEqual({
      points: [
        [5, 5],
        [40, 0],
        [40, 40],
        [0, 40],
      ],
    });
    movePoint(outline, LATER, 1, [50, 0]);
    expect(outline.points[1]).toEqual([40, 0]);
    expect(keyFrames(outline, 10)).toEqual([10, 20]);
    expect(outlineAt(outline, 10, 15).points[1]).toEqual([45, 0]);
    moveOutline(outline, LATER, [10, 1]);
    expect(outline.keys).toHaveLength(1);
    expect(outlineAt(outline, 10, 20).points[1]).toEqual([60, 1]);
  });

  test('what rides is shown through its map, and a press is carried back', () => {
    const map = [1, 0, 7, 0, 1, -3, 0, 0, 1];
    expect(shownOutline(square(), LATER, map).points[2]).toEqual([47, 37]);
    expect(keptPoint(map, [47, 37])).toEqual([40, 40]);
    expect(keptPoint([0, 0, 0, 0, 0, 0, 0, 0, 0], [1, 1])).toBeNull();
  });

  test('keys move in time, but not onto each other', () => {
    const outline = square();
    movePoint(outline, LATER, 0, [1, 1]);
    movePoint(outline, { referenceFrame: 10, frame: 30 }, 0, [2, 2]);
    expect(moveKey(outline, 20, 30, 10)).toBe(false);
    expect(moveKey(outline, 20, 10, 10)).toBe(false);
    expect(moveKey(outline, 20, 40, 10)).toBe(true);
    expect(keyFrames(outline, 10)).toEqual([10, 30, 40]);
    removeKey(outline, 30);
    removeKey(outline, 40);
    expect(outline).toEqual(square());
  });
});

describe('points', () => {
  test('are added to every key without a change of form, and taken away again', () => {
    const outline = square();
    movePoint(outline, LATER, 2, [50, 50]);
    const [before, later] = [area(outline), area(outline, 20)];
    addPoint(outline, 1, 0.25);
    expect(outline.points[2]).toEqual([40, 10]);
    expect(outline.keys![0]!.points).toHaveLength(5);
    expect([area(outline), area(outline, 20)]).toEqual([before, later]);
    expect(removePoint(outline, 2)).toBe(true);
    expect(outline.points).toEqual(square().points);
    removePoint(outline, 0);
    expect(removePoint(outline, 0)).toBe(false);
  });

  test('bend to a curve and back; a point added on a curve leaves it as it was', () => {
    const outline = square();
    bendPoint(outline, 0);
    bendPoint(outline, 2);
    expect(isCurved({ points: [], handles: outline.handles }, 0)).toBe(true);
    const before = area(outline);
    expect(before).not.toBe(area(square()));
    addPoint(outline, 0, 0.4);
    expect(Math.abs(area(outline) - before)).toBeLessThanOrEqual(4);
    removePoint(outline, 1);
    bendPoint(outline, 0);
    bendPoint(outline, 2);
    expect(outline).toEqual(square());
  });

  test('handles keep in line unless one is moved alone', () => {
    const outline = square();
    bendPoint(outline, 0);
    const length = Math.hypot(outline.handles![0]![0], outline.handles![0]![1]);
    moveHandle(outline, REFERENCE, 0, 'out', [0, 9], false);
    expect(outline.handles![0]![1]).toBeCloseTo(-length, 9);
    moveHandle(outline, REFERENCE, 0, 'in', [3, 4], true);
    expect(outline.handles![0]).toEqual([3, 4, 0, 9]);
  });
});

import { applyToPoint, invert, type Point } from '../../../core/geometry/homography.ts';
import { quadFault, type Quad } from '../../../core/geometry/quad.ts';
import type { useShot } from '../stores/shot.ts';

/**
 * Moves a corner to a place on a frame: carried back to the reference, where corners are kept. A move
 * that would cross the corners or dent the outline is not made.
 */
export function moveCorner(shot: ReturnType<typeof useShot>, frame: number, index: number, to: Point, how: 'drag' | 'edit'): void {
  const h = shot.homographyAt(frame);
  const back = h && invert(h);
  const corners = shot.document?.corners;
  if (!back || !corners) return;
  const moved = corners.map((c, i) => (i === index ? applyToPoint(back, to) : c)) as unknown as Quad;
  if (quadFault(moved)) return;
  const change = (draft: { corners: unknown }) => {
    draft.corners = moved;
  };
  if (how === 'drag') shot.drag(change);
  else shot.edit(change);
}

/** The shift an arrow key asks for: 1 px, 10 with Shift, 0.1 with Alt. */
export function nudgeOf(event: { key: string; shiftKey: boolean; altKey: boolean }): [number, number] | null {
  const size = event.shiftKey ? 10 : event.altKey ? 0.1 : 1;
  switch (event.key) {
    case 'ArrowLeft': return [-size, 0];
    case 'ArrowRight': return [size, 0];
    case 'ArrowUp': return [0, -size];
    case 'ArrowDown': return [0, size];
    default: return null;
  }
}

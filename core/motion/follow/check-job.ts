import { quadFault, type Quad } from '../../base/geometry/quad.ts';
import { keyThatDoesNotFit, type KeyedOutline } from '../../base/geometry/outline.ts';
import { Problem } from '../../base/problem/problem.ts';

const CORNER_FAULTS = {
  crossed: 'cross each other',
  concave: 'make a dented or flat shape',
  'too-small': 'lie on top of each other',
} as const;

/** Refuses corners that no camera could see a rectangle as. */
export function checkCorners(corners: Quad, where: string): void {
  const fault = quadFault(corners);
  if (fault) throw new Problem('bad-corners', { where, why: CORNER_FAULTS[fault] });
}

/** Refuses outlines of fewer than three points, and keys that do not fit their outline. */
export function checkOutlines(name: string, outlines: readonly KeyedOutline[], where: string): void {
  outlines.forEach((outline, i) => {
    if (outline.points.length < 3)
      throw new Problem('bad-region', { where, field: `${name}[${i}].points`, count: outline.points.length });
    const odd = keyThatDoesNotFit(outline);
    if (odd)
      throw new Problem('bad-key', {
        where,
        field: odd.frame === null ? `${name}[${i}].handles` : `${name}[${i}].keys`,
        frame: odd.frame ?? 'of the reference',
      });
  });
}

/** Refuses a frame that the plate does not have. */
export function checkFrame(frame: number, frames: number, where: string): void {
  if (!Number.isInteger(frame) || frame < 0 || frame >= frames)
    throw new Problem('frame-outside', { where, frame, last: frames - 1 });
}

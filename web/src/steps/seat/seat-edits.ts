import { applyToPoint, invert, type Point } from '../../../../core/base/geometry/homography.ts';
import { quadFault, type Quad } from '../../../../core/base/geometry/quad.ts';
import type { CornerCorrection, ShotDocument } from '../../../../core/base/schemas/types.ts';
import { CornerMoves } from '../../../../core/surface/seat/corrections.ts';
import { reorder, reorderSides, type CornerOrder } from '../../../../core/surface/seat/turn-quad.ts';
import { useWorkspace } from '../../stores/workspace.ts';
import { useDocument } from '../../stores/document.ts';
import { useTrack } from '../../stores/track.ts';
import { usePlacedCorners } from '../../stores/placed-corners.ts';

/**
 * Puts the corners of a frame where the hand wants them: for all frames, carried back to the reference, or as a fix on this frame
 * alone. A move that would cross the corners or dent the outline is not made.
 */
export function moveQuad(frame: number, to: Quad, how: 'drag' | 'edit'): void {
  const doc = useDocument();
  const { seatMode } = useWorkspace();
  const now = usePlacedCorners().cornersAt(frame);
  const map = useTrack().homographyAt(frame);
  const back = map && invert(map);
  const { document } = doc;
  if (!now || !back || !document?.corners || quadFault(to)) return;
  // What the hand adds, in the reference's pixels.
  const moves = to.map((corner, c): Point => {
    const [x, y] = applyToPoint(back, corner);
    const [u, v] = applyToPoint(back, now[c]!);
    return [x - u, y - v];
  });
  if (moves.every(([x, y]) => x === 0 && y === 0)) return;
  const moved = document.corners.map(([x, y], c) => [x + moves[c]![0], y + moves[c]![1]]) as typeof document.corners;
  if (seatMode === 'everywhere' && quadFault(moved)) return;
  const change = (draft: ShotDocument) => {
    if (seatMode === 'everywhere') draft.corners = moved;
    else moves.forEach((move, corner) => move.some((v) => v !== 0) && addFix(draft, frame, corner, move));
  };
  if (how === 'drag') doc.drag(change);
  else doc.edit(change);
}

/** Adds to what a corner is moved by on a frame; a key is made where there is none. */
export function addFix(draft: ShotDocument, frame: number, corner: number, [dx, dy]: Point): void {
  const fixes = (draft.corrections ??= []);
  const key = fixes.find((c) => c.frame === frame && c.corner === corner && c.ease !== 'single');
  if (key) {
    const strength = key.strength || 1;
    key.dx = rounded(key.dx + dx / strength);
    key.dy = rounded(key.dy + dy / strength);
    return;
  }
  const [x, y] = new CornerMoves(
    fixes.filter((c) => c.ease !== 'single'),
    draft.referenceFrame,
  ).at(corner, frame);
  fixes.push({ frame, corner, dx: rounded(x + dx), dy: rounded(y + dy) });
  inOrder(fixes);
}

/** The frames that have keys, in order, each with its keys. */
export function fixesByFrame(corrections: readonly CornerCorrection[]): { frame: number; keys: CornerCorrection[] }[] {
  const by = new Map<number, CornerCorrection[]>();
  for (const c of corrections) by.set(c.frame, [...(by.get(c.frame) ?? []), c]);
  return [...by].map(([frame, keys]) => ({ frame, keys })).sort((a, b) => a.frame - b.frame);
}

export function removeFix(draft: ShotDocument, frame: number): void {
  keep(draft, (c) => c.frame !== frame);
}

/** Takes a fix to another frame; what was there gives way. */
export function moveFix(draft: ShotDocument, from: number, to: number): void {
  if (from === to) return;
  keep(draft, (c) => c.frame !== to);
  for (const c of draft.corrections ?? []) if (c.frame === from) c.frame = to;
  inOrder(draft.corrections ?? []);
}

/** The same fix on another frame as well. */
export function copyFix(draft: ShotDocument, from: number, to: number): void {
  if (from === to) return;
  const copies = (draft.corrections ?? []).filter((c) => c.frame === from).map((c) => ({ ...c, frame: to }));
  keep(draft, (c) => c.frame !== to);
  draft.corrections = [...(draft.corrections ?? []), ...copies];
  inOrder(draft.corrections);
}

/** Changes all keys of a frame. */
export function changeFix(draft: ShotDocument, frame: number, change: (key: CornerCorrection) => void): void {
  for (const c of draft.corrections ?? []) if (c.frame === frame) change(c);
}

/** Names the corners anew: what was one corner of the content becomes another. */
export function turnContent(draft: ShotDocument, order: CornerOrder): void {
  if (!draft.corners) return;
  draft.corners = reorder(draft.corners, order) as typeof draft.corners;
  if (draft.outset) draft.outset.sides = reorderSides(draft.outset.sides, order) as typeof draft.outset.sides;
  for (const c of draft.corrections ?? []) c.corner = order.indexOf(c.corner);
  inOrder(draft.corrections ?? []);
}

function keep(draft: ShotDocument, which: (c: CornerCorrection) => boolean): void {
  draft.corrections = (draft.corrections ?? []).filter(which);
  if (draft.corrections.length === 0) delete draft.corrections;
}

function inOrder(fixes: CornerCorrection[]): void {
  fixes.sort((a, b) => a.frame - b.frame || a.corner - b.corner);
}

const rounded = (v: number) => Number(v.toFixed(4));

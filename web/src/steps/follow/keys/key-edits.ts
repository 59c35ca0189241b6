import type { Quad } from '../../../../../core/base/geometry/quad.ts';
import type { QuadCorners, ShotDocument } from '../../../../../core/base/schemas/types.ts';

const copied = (corners: Quad): QuadCorners => corners.map(([x, y]) => [x, y]) as QuadCorners;

/** Keys the corners on a frame by hand; on the reference they are where the corners begin. */
export function putHandKey(draft: ShotDocument, frame: number, corners: Quad): void {
  const keys = (draft.handKeys ??= []);
  const key = keys.find((k) => k.frame === frame);
  if (key) key.corners = copied(corners);
  else keys.push({ frame, corners: copied(corners) });
  keys.sort((a, b) => a.frame - b.frame);
  draft.corners ??= copied(corners);
}

export function removeHandKey(draft: ShotDocument, frame: number): void {
  draft.handKeys = draft.handKeys?.filter((k) => k.frame !== frame) ?? [];
  if (draft.handKeys.length === 0) delete draft.handKeys;
}

export function moveHandKey(draft: ShotDocument, from: number, to: number): void {
  const key = draft.handKeys?.find((k) => k.frame === from);
  if (!key || draft.handKeys!.some((k) => k.frame === to)) return;
  key.frame = to;
  draft.handKeys!.sort((a, b) => a.frame - b.frame);
}

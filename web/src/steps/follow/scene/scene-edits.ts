import type { Point } from '../../../../../core/base/geometry/homography.ts';
import type { SceneSettings, ShotDocument } from '../../../../../core/base/schemas/types.ts';

/** Changes the settings of a shot's scene; they go when nothing is left of them. */
export function changeScene(draft: ShotDocument, recipe: (settings: SceneSettings) => void): void {
  const next: SceneSettings = { ...draft.scene };
  recipe(next);
  if (next.terms === 0) delete next.terms;
  if (next.rows === 0) delete next.rows;
  if (next.drawn?.length === 0) delete next.drawn;
  if (next.removed?.length === 0) delete next.removed;
  if (Object.keys(next).length > 0) draft.scene = next;
  else delete draft.scene;
}

/** A point put by hand, to be followed too. */
export function drawPoint(draft: ShotDocument, frame: number, at: Point): void {
  changeScene(draft, (s) => {
    s.drawn = [...(s.drawn ?? []), { frame, at: [at[0], at[1]] }];
  });
}

/** What is followed at a place is not to count; a point put by hand there goes. */
export function removePoint(draft: ShotDocument, frame: number, at: Point, within: number): void {
  changeScene(draft, (s) => {
    const kept = (s.drawn ?? []).filter(
      (p) => p.frame !== frame || Math.hypot(p.at[0] - at[0], p.at[1] - at[1]) > within,
    );
    if (kept.length < (s.drawn?.length ?? 0)) s.drawn = kept;
    else s.removed = [...(s.removed ?? []), { frame, at: [at[0], at[1]] }];
  });
}

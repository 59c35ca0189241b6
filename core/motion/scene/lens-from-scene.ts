import { upperMedian } from '../../base/image/statistics.ts';
import { distance } from '../../base/geometry/quad.ts';
import type { Scene } from './scene.ts';
import { lensOf } from './scene-plane.ts';
import { bend, isStraight, type Lens } from '../lens/lens.ts';

/** A lens that moves nothing in the picture by more than this is none, px. */
const NOTHING = 0.15;

/** The lens that a scene was solved with; null where it bends nothing that could be seen. Zooming lenses have one for every frame, and none for all. */
export function lensFromScene(scene: Scene, width: number, height: number): Lens | null {
  const lens = lensOf(scene, upperMedian(scene.frames.map((f) => f.camera.focal)) || 1);
  return scene.zooms || isStraight(lens) || reachOf(lens, width, height) < NOTHING ? null : lens;
}

/** The farthest that a lens moves a corner of the picture, px. */
export function reachOf(lens: Lens, width: number, height: number): number {
  return Math.max(
    ...(
      [
        [0, 0],
        [width, 0],
        [width, height],
        [0, height],
      ] as const
    ).map((p) => distance(bend(lens, p), p)),
  );
}

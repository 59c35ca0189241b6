import { packCertainty } from '../../core/motion/follow/certainty.ts';
import type { Quad } from '../../core/base/geometry/quad.ts';
import { planeSeenFrom, type ScenePlane } from '../../core/motion/scene/scene-plane.ts';
import { readScene as sceneOf } from '../../core/motion/scene/scene-file.ts';
import { motionOfPlane } from '../../core/motion/scene/scene-track.ts';
import type { NineNumbers, SceneFile, ShotDocument, TrackRow } from '../../core/base/schemas/types.ts';
import type { Vector3 } from '../../core/motion/pose/rotation.ts';
import type { Queryable } from './connection.ts';
import { readScene } from './scenes.ts';

/** Covariance of a plane that was put by hand: nothing is said of it. */
const NOTHING_SAID = Array<number>(9).fill(0);

/** A shot's solved room with the plane that its corners lie on, as it was placed or moved by hand; null where nothing is solved or placed. */
export async function placedRoom(
  db: Queryable,
  shotId: number,
  plateId: number | undefined,
  document: ShotDocument,
): Promise<{ file: SceneFile; plane: ScenePlane; corners: Quad } | null> {
  const stored = document.corners ? await readScene(db, shotId) : null;
  const byHand = document.scene?.normal;
  const corners = document.corners as Quad | null;
  if (!stored || stored.plateId !== plateId || !corners || !(byHand ?? stored.plane)) return null;
  const frame = document.referenceFrame;
  const plane = byHand
    ? { frame, normal: byHand as unknown as Vector3, covariance: NOTHING_SAID }
    : planeSeenFrom(
        sceneOf(stored.scene),
        {
          frame: stored.plane!.frame,
          normal: stored.plane!.normal as unknown as Vector3,
          covariance: stored.plane!.covariance,
        },
        frame,
      );
  return plane && { file: stored.scene, plane, corners };
}

/** The rows of a shot's corners as the plane in its solved scene moves them; none where nothing is solved or placed. */
export async function sceneRows(
  db: Queryable,
  shotId: number,
  plateId: number | undefined,
  document: ShotDocument,
  runKey: string,
): Promise<TrackRow[]> {
  const room = await placedRoom(db, shotId, plateId, document);
  if (!room) return [];
  const { plane, corners } = room;
  const scene = sceneOf(room.file);
  const [first, last] = [scene.frames[0]!.frame, scene.frames.at(-1)!.frame];
  return motionOfPlane(scene, plane, corners, [first, last]).map(
    ({ frame: at, homography, error, confidence, certainty, lost, note }): TrackRow => ({
      frame: at,
      runKey,
      homography: homography ? ([...homography] as NineNumbers) : null,
      error,
      confidence,
      blur: 0,
      certainty: certainty ? packCertainty(certainty) : null,
      lost: lost ?? null,
      note: note ?? null,
    }),
  );
}

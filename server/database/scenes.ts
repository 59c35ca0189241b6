import { createHash } from 'node:crypto';
import { inUse } from '../../core/base/geometry/outline.ts';
import { checked } from '../../core/base/schemas/check.ts';
import type { PlacedPlane, SceneFile, ShotDocument } from '../../core/base/schemas/types.ts';
import { run, select, type Queryable } from './connection.ts';

/** What is kept of a shot's scene. */
export interface StoredScene {
  readonly plateId: number;
  /** Names what it was solved from, but for the plate. */
  readonly question: string;
  readonly scene: SceneFile;
  readonly plane: PlacedPlane | null;
  readonly changed: number;
}

/** Names what a scene is solved from: with another it would come out otherwise. */
export function sceneQuestion(
  { keepOut, referenceFrame, focal, scene: { terms, drawn, removed, rows } = {} }: ShotDocument,
  frames: readonly [number, number],
): string {
  const outlines = inUse(keepOut);
  return createHash('sha256')
    .update(
      JSON.stringify([
        1,
        frames,
        outlines,
        outlines.length > 0 ? referenceFrame : 0,
        focal ?? null,
        terms ?? 0,
        drawn ?? [],
        removed ?? [],
        ...(rows ? [rows] : []),
      ]),
    )
    .digest('hex');
}

export async function readScene(db: Queryable, shotId: number): Promise<StoredScene | null> {
  const [row] = await select<{
    plate_id: number;
    question: string;
    scene: string;
    plane: string | null;
    changed: number;
  }>(db, 'SELECT plate_id, question, scene, plane, changed FROM scenes WHERE shot_id = ?', [shotId]);
  if (!row) return null;
  const where = `the scene of shot ${shotId} in the database`;
  return {
    plateId: row.plate_id,
    question: row.question,
    scene: checked('sceneFile', JSON.parse(row.scene) as unknown, where),
    plane: row.plane === null ? null : checked('placedPlane', JSON.parse(row.plane) as unknown, where),
    changed: Number(row.changed),
  };
}

/** Its change number alone; 0 where there is none. */
export async function sceneChanged(db: Queryable, shotId: number): Promise<number> {
  const [row] = await select<{ changed: number }>(db, 'SELECT changed FROM scenes WHERE shot_id = ?', [shotId]);
  return Number(row?.changed ?? 0);
}

export async function writeScene(
  db: Queryable,
  shotId: number,
  plateId: number,
  question: string,
  scene: SceneFile,
): Promise<void> {
  await run(
    db,
    `INSERT INTO scenes (shot_id, plate_id, question, scene, plane, changed) VALUES (?, ?, ?, ?, NULL, NEXT VALUE FOR change_number)
    ON DUPLICATE KEY UPDATE plate_id = VALUE(plate_id), question = VALUE(question), scene = VALUE(scene), plane = NULL, changed = VALUE(changed)`,
    [shotId, plateId, question, JSON.stringify(scene)],
  );
}

export async function writePlane(db: Queryable, shotId: number, plane: PlacedPlane): Promise<void> {
  await run(db, 'UPDATE scenes SET plane = ?, changed = NEXT VALUE FOR change_number WHERE shot_id = ?', [
    JSON.stringify(plane),
    shotId,
  ]);
}

import { checked } from '../../core/base/schemas/check.ts';
import type { RenderLayer } from '../../core/base/schemas/types.ts';
import { run, select, type Queryable } from './connection.ts';

/** Names the state of each thing that a frame depends on. */
export type PartStates = Readonly<Record<string, string>>;

/** A frame that was made. */
export interface FinishedFrame {
  frame: number;
  key: string;
}

export interface NamedFrame extends FinishedFrame {
  layer: RenderLayer;
  parts: PartStates;
}

/** Of a variant its number; 0: of the shot's own content. */
export async function noteFinished(
  db: Queryable,
  shotId: number,
  variantId: number,
  { layer, frame, key, parts }: NamedFrame,
): Promise<void> {
  // Made again, it is the newest: a later state is compared with it.
  await run(
    db,
    'INSERT INTO finished_frames (shot_id, variant_id, layer, frame, frame_key, parts) VALUES (?, ?, ?, ?, ?, ?) ON DUPLICATE KEY UPDATE made_at = CURRENT_TIMESTAMP(3)',
    [shotId, variantId, layer, frame, key, JSON.stringify(parts)],
  );
}

/** All that was made of a layer, the newest first. */
export async function finishedFrames(
  db: Queryable,
  shotId: number,
  variantId: number,
  layer: RenderLayer,
): Promise<FinishedFrame[]> {
  return select<FinishedFrame>(
    db,
    'SELECT frame, frame_key AS `key` FROM finished_frames WHERE shot_id = ? AND variant_id = ? AND layer = ? ORDER BY made_at DESC, frame_key',
    [shotId, variantId, layer],
  );
}

/** What those frames depended on when they were made. */
export async function partsOfFinished(
  db: Queryable,
  shotId: number,
  layer: RenderLayer,
  keys: readonly string[],
): Promise<Map<string, PartStates>> {
  const out = new Map<string, PartStates>();
  for (let at = 0; at < keys.length; at += 500) {
    const some = keys.slice(at, at + 500);
    const rows = await select<{ frame_key: string; parts: unknown }>(
      db,
      `SELECT frame_key, parts FROM finished_frames WHERE shot_id = ? AND layer = ? AND frame_key IN (${some.map(() => '?').join(', ')})`,
      [shotId, layer, ...some],
    );
    for (const row of rows)
      out.set(row.frame_key, checked('partStates', row.parts, `a frame of shot ${shotId} in the database`));
  }
  return out;
}

/** Forgets frames whose pictures are gone. */
export async function forgetFinished(
  db: Queryable,
  shotId: number,
  layer: RenderLayer,
  keys: readonly string[],
): Promise<void> {
  for (const key of keys)
    await run(db, 'DELETE FROM finished_frames WHERE shot_id = ? AND layer = ? AND frame_key = ?', [
      shotId,
      layer,
      key,
    ]);
}

/** Keys of every frame that was made, of any shot. */
export async function allFinishedKeys(db: Queryable): Promise<Set<string>> {
  return new Set(
    (await select<{ frame_key: string }>(db, 'SELECT DISTINCT frame_key FROM finished_frames')).map(
      (row) => row.frame_key,
    ),
  );
}

import { checked } from '../../core/base/schemas/check.ts';
import type { Media, MediaUse } from '../../core/base/schemas/types.ts';
import type { Corrections, MediaFacts } from '../media/facts.ts';
import { viewKey, type FrameView } from '../media/frame-store.ts';
import { plateFacts } from '../media/plate-facts.ts';
import { run, select, type Queryable } from './connection.ts';

export type MediaKind = 'clip' | 'still' | 'sequence';

/** A media row with everything the jobs need. */
export interface StoredMedia {
  id: number;
  projectId: number;
  name: string;
  hash: string;
  bytes: number;
  state: Media['state'];
  kind: MediaKind | null;
  facts: MediaFacts | null;
  /** As decoded; null until brought in. */
  frames: number | null;
  problem: string | null;
  problemCode: string | null;
  corrections: Corrections;
  lut: { name: string; hash: string } | null;
  /** Folder of the frame store, under the frames folder. */
  store: string | null;
  frameBytes: number;
  checked: boolean;
}

interface MediaRow {
  id: number;
  project_id: number;
  name: string;
  hash: string;
  bytes: number;
  state: Media['state'];
  kind: MediaKind | null;
  facts: unknown;
  frames: number | null;
  problem: string | null;
  problem_code: string | null;
  corrections: unknown;
  lut_name: string | null;
  lut_hash: string | null;
  store: string | null;
  frame_bytes: number;
  checked: number;
}

const SELECT_MEDIA = `SELECT id, project_id, name, hash, bytes, state, kind, facts, frames, problem, problem_code, corrections, lut_name, lut_hash, store, frame_bytes, checked
  FROM media`;

function fromRow(row: MediaRow): StoredMedia {
  const where = `medium ${row.id} in the database`;
  return {
    id: row.id,
    projectId: row.project_id,
    name: row.name,
    hash: row.hash,
    bytes: Number(row.bytes),
    state: row.state,
    kind: row.kind,
    frames: row.frames,
    problem: row.problem,
    problemCode: row.problem_code,
    store: row.store,
    frameBytes: Number(row.frame_bytes),
    checked: row.checked === 1,
    facts: row.facts === null ? null : checked('storedFacts', row.facts, where),
    corrections: row.corrections === null ? {} : checked('storedCorrections', row.corrections, where),
    lut: row.lut_hash === null ? null : { name: row.lut_name ?? '', hash: row.lut_hash },
  };
}

export async function findMedia(db: Queryable, id: number): Promise<StoredMedia | null> {
  const [row] = await select<MediaRow>(db, `${SELECT_MEDIA} WHERE id = ?`, [id]);
  return row ? fromRow(row) : null;
}

export async function findMediaByIds(db: Queryable, ids: readonly number[]): Promise<Map<number, StoredMedia>> {
  const wanted = [...new Set(ids)];
  if (wanted.length === 0) return new Map();
  const rows = await select<MediaRow>(db, `${SELECT_MEDIA} WHERE id IN (${wanted.map(() => '?').join(', ')})`, wanted);
  return new Map(rows.map((row) => [row.id, fromRow(row)]));
}

/** Where a light picture of a frame is fetched. */
export function pictureAddress(media: StoredMedia, frame: number): string | null {
  return media.facts && media.state === 'ready'
    ? `/api/v1/media/${media.id}/frames/${frame}.jpg?v=${viewKey(
        viewOf(media, (hash) => hash),
        media.facts.layout,
      )}`
    : null;
}

/** The media of a project that are there or on their way; failed ones only when a person can still decide about them. */
export async function listMedia(db: Queryable, projectId: number): Promise<StoredMedia[]> {
  return (
    await select<MediaRow>(
      db,
      `${SELECT_MEDIA} WHERE project_id = ? AND deleted_at IS NULL AND (state <> 'failed' OR problem_code = 'sequence-gap') ORDER BY id`,
      [projectId],
    )
  ).map(fromRow);
}

export async function listAllMedia(db: Queryable): Promise<StoredMedia[]> {
  return (await select<MediaRow>(db, `${SELECT_MEDIA} ORDER BY id`)).map(fromRow);
}

/** A file of this content that was brought in before. */
export async function findHeld(db: Queryable, hash: string): Promise<{ bytes: number } | null> {
  const [row] = await select<{ bytes: number }>(
    db,
    "SELECT bytes FROM media WHERE hash = ? AND state <> 'failed' LIMIT 1",
    [hash],
  );
  return row ? { bytes: Number(row.bytes) } : null;
}

export async function holdsSize(db: Queryable, bytes: number): Promise<boolean> {
  return (await select(db, "SELECT 1 FROM media WHERE bytes = ? AND state <> 'failed' LIMIT 1", [bytes])).length > 0;
}

export async function insertMedia(
  db: Queryable,
  media: { projectId: number; name: string; hash: string; bytes: number },
): Promise<number> {
  return (
    await run(db, 'INSERT INTO media (project_id, name, hash, bytes) VALUES (?, ?, ?, ?)', [
      media.projectId,
      media.name,
      media.hash,
      media.bytes,
    ])
  ).id;
}

export interface BroughtIn {
  kind: MediaKind;
  facts: MediaFacts;
  frames: number;
  store: string;
  frameBytes: number;
}

export async function setMediaReady(
  db: Queryable,
  id: number,
  { kind, facts, frames, store, frameBytes }: BroughtIn,
): Promise<void> {
  await run(
    db,
    "UPDATE media SET state = 'ready', kind = ?, facts = ?, frames = ?, store = ?, frame_bytes = ?, problem = NULL, problem_code = NULL WHERE id = ?",
    [kind, JSON.stringify(facts), frames, store, frameBytes, id],
  );
}

export async function setMediaFailed(db: Queryable, id: number, problem: string, code: string): Promise<void> {
  await run(db, "UPDATE media SET state = 'failed', problem = ?, problem_code = ? WHERE id = ?", [problem, code, id]);
}

/** Sets corrections; the medium waits until it has been read again. */
export async function setCorrections(db: Queryable, id: number, corrections: Corrections): Promise<void> {
  await run(
    db,
    "UPDATE media SET corrections = ?, state = 'waiting', problem = NULL, problem_code = NULL WHERE id = ?",
    [JSON.stringify(corrections), id],
  );
}

export async function setMediaWaiting(db: Queryable, id: number): Promise<void> {
  await run(db, "UPDATE media SET state = 'waiting' WHERE id = ?", [id]);
}

export async function setLut(db: Queryable, id: number, lut: { name: string; hash: string } | null): Promise<void> {
  await run(db, 'UPDATE media SET lut_name = ?, lut_hash = ? WHERE id = ?', [lut?.name ?? null, lut?.hash ?? null, id]);
}

/** Marks every medium that shows frames of a store as cleared. */
export async function setStoreCleared(db: Queryable, store: string): Promise<void> {
  await run(db, "UPDATE media SET state = 'cleared', frame_bytes = 0 WHERE store = ? AND state = 'ready'", [store]);
}

/** Deleted media stay, hidden, and can be brought back. */
export async function setMediaDeleted(db: Queryable, id: number, deleted: boolean): Promise<void> {
  await run(db, 'UPDATE media SET deleted_at = IF(?, CURRENT_TIMESTAMP(3), NULL) WHERE id = ?', [deleted ? 1 : 0, id]);
}

/** Where each medium of a project is used: as a plate by shots, as content by their newest documents. */
export async function mediaUses(db: Queryable, projectId: number): Promise<Map<number, MediaUse[]>> {
  const rows = await select<{ media_id: number; shot_id: number; name: string; as_what: 'plate' | 'content' }>(
    db,
    `
    SELECT plate_id AS media_id, id AS shot_id, name, 'plate' AS as_what FROM shots WHERE project_id = ? AND deleted_at IS NULL AND plate_id IS NOT NULL
    UNION ALL
    SELECT JSON_VALUE(r.document, '$.contentId'), s.id, s.name, 'content' FROM shots s
      JOIN shot_revisions r ON r.shot_id = s.id AND r.revision = s.revision
      WHERE s.project_id = ? AND s.deleted_at IS NULL AND JSON_VALUE(r.document, '$.contentId') IS NOT NULL
    UNION
    SELECT l.media, s.id, s.name, 'content' FROM shots s
      JOIN shot_revisions r ON r.shot_id = s.id AND r.revision = s.revision,
      JSON_TABLE(r.document, '$.look.board.layers[*]' COLUMNS (media INT PATH '$.media')) l
      WHERE s.project_id = ? AND s.deleted_at IS NULL AND l.media IS NOT NULL
    UNION
    SELECT v.media_id, s.id, s.name, 'content' FROM variants v JOIN shots s ON s.id = v.shot_id
      WHERE s.project_id = ? AND s.deleted_at IS NULL AND v.deleted_at IS NULL AND v.media_id IS NOT NULL
    UNION
    SELECT JSON_VALUE(r.document, '$.loop.second.mediaId'), s.id, s.name, 'plate' FROM shots s
      JOIN shot_revisions r ON r.shot_id = s.id AND r.revision = s.revision
      WHERE s.project_id = ? AND s.deleted_at IS NULL AND JSON_VALUE(r.document, '$.loop.second.mediaId') IS NOT NULL`,
    [projectId, projectId, projectId, projectId, projectId],
  );
  const uses = new Map<number, MediaUse[]>();
  for (const row of rows) {
    const id = Number(row.media_id);
    uses.set(id, [...(uses.get(id) ?? []), { shotId: row.shot_id, shot: row.name, as: row.as_what }]);
  }
  return uses;
}

/** How a medium's pictures are shown; tables lie in the media folder under their hash. */
export function viewOf(media: StoredMedia, lutFile: (hash: string) => string): FrameView {
  return { colour: media.facts!.colour, lut: media.lut && { hash: media.lut.hash, file: lutFile(media.lut.hash) } };
}

/** What the interface knows of a medium. */
export function mediaReply(media: StoredMedia, uses: ReadonlyMap<number, MediaUse[]> = new Map()): Media {
  const { facts } = media;
  return {
    id: media.id,
    projectId: media.projectId,
    name: media.name,
    bytes: media.bytes,
    state: media.state,
    kind: media.kind,
    facts: facts && plateFacts(facts, media.frames ?? facts.frames),
    problem: media.problem,
    problemCode: media.problemCode,
    corrections: media.corrections,
    lut: media.lut?.name ?? null,
    view: facts
      ? viewKey(
          viewOf(media, (hash) => hash),
          facts.layout,
        )
      : '',
    frameBytes: media.frameBytes,
    checked: media.checked,
    usedBy: uses.get(media.id) ?? [],
  };
}

import type { Media, PlateFacts } from '../../core/schemas/types.ts';
import type { MediaFacts } from '../media/probe.ts';
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
}

interface MediaRow {
  id: number;
  project_id: number;
  name: string;
  hash: string;
  bytes: number;
  state: Media['state'];
  kind: MediaKind | null;
  facts: MediaFacts | null;
  frames: number | null;
  problem: string | null;
}

const SELECT_MEDIA = 'SELECT id, project_id, name, hash, bytes, state, kind, facts, frames, problem FROM media';

const fromRow = ({ project_id, ...row }: MediaRow): StoredMedia => ({ ...row, bytes: Number(row.bytes), projectId: project_id });

export async function findMedia(db: Queryable, id: number): Promise<StoredMedia | null> {
  const [row] = await select<MediaRow>(db, `${SELECT_MEDIA} WHERE id = ?`, [id]);
  return row ? fromRow(row) : null;
}

export async function listMedia(db: Queryable, projectId: number): Promise<StoredMedia[]> {
  return (await select<MediaRow>(db, `${SELECT_MEDIA} WHERE project_id = ? AND state <> 'failed' ORDER BY id`, [projectId])).map(fromRow);
}

export async function insertMedia(db: Queryable, media: { projectId: number; name: string; hash: string; bytes: number }): Promise<number> {
  return (await run(db, 'INSERT INTO media (project_id, name, hash, bytes) VALUES (?, ?, ?, ?)', [media.projectId, media.name, media.hash, media.bytes])).id;
}

export async function setMediaReady(db: Queryable, id: number, kind: MediaKind, facts: MediaFacts, frames: number): Promise<void> {
  await run(db, "UPDATE media SET state = 'ready', kind = ?, facts = ?, frames = ?, problem = NULL WHERE id = ?", [kind, JSON.stringify(facts), frames, id]);
}

export async function setMediaFailed(db: Queryable, id: number, problem: string): Promise<void> {
  await run(db, "UPDATE media SET state = 'failed', problem = ? WHERE id = ?", [problem, id]);
}

/** What the interface is told of a medium. */
export function mediaReply(media: StoredMedia): Media {
  return {
    id: media.id, projectId: media.projectId, name: media.name, bytes: media.bytes, state: media.state, kind: media.kind,
    facts: media.facts && plateFacts(media.facts, media.frames ?? media.facts.frames), problem: media.problem,
  };
}

function plateFacts(facts: MediaFacts, frames: number): PlateFacts {
  const { layout } = facts;
  return {
    width: facts.width, height: facts.height, rate: facts.rate, frames, firstFrameNumber: facts.firstFrameNumber, codec: facts.codec,
    pixelFormat: facts.pixelFormat, transfer: facts.transfer, variableRate: facts.variableRate, assumed: facts.assumed,
    range: layout.kind === 'rgb' ? 'full' : layout.coding.range, matrix: layout.kind === 'rgb' ? 'rgb' : layout.coding.matrix,
    bits: layout.kind === 'rgb' ? layout.bits : layout.coding.bits,
  };
}

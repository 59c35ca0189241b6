import { importData, mapsOfImported } from '../../core/handoff/exchange/import-data.ts';
import { Problem } from '../../core/base/problem/problem.ts';
import type { ImportReply, ImportRequest, Shot, ShotDocument } from '../../core/base/schemas/types.ts';
import { transaction, type Database } from '../database/connection.ts';
import { readDocument, saveDocument } from '../database/documents.ts';
import { duplicateShot } from '../database/shot-cards.ts';
import { runKeyOf } from '../database/run-key.ts';
import { clearOthers, clearSpan, writeTrackFrame } from '../database/tracks.ts';

/** Rows that no job of ours has made. */
const NO_JOB = 0;

/**
 * Takes corners or homographies that somebody else has made as a shot's motion: its corners become those of the file on the reference frame, and what
 * was done to them here (lock, fixes, outset, smoothing, spans, riding) is left out, all in one new revision. Protected frames stay.
 * @throws Problem import-unreadable, import-empty, import-reference, stale-save
 */
export async function importTrack(
  db: Database,
  shot: Shot,
  { text, mapping, base, copy = false }: ImportRequest,
): Promise<ImportReply> {
  const document = await readDocument(db, shot.id, shot.revision);
  const facts = shot.plate?.facts;
  if (!facts) throw new Problem('no-plate');
  const read = importData(
    text,
    { width: facts.width, height: facts.height, corners: document.corners },
    mapping ?? null,
  );
  const beyond = read.frames.filter((one) => one.frame >= facts.frames);
  const used = read.frames.filter((one) => one.frame < facts.frames);
  const faults = [
    ...read.faults,
    ...(beyond.length > 0
      ? [{ line: 0, why: `${beyond.length} frames are beyond the plate's last, ${facts.frames - 1}` }]
      : []),
  ];
  if (used.length === 0)
    throw new Problem('import-empty', { why: faults[0] ? `Line ${faults[0].line}: ${faults[0].why}.` : '' });
  const maps = mapsOfImported(used, document.referenceFrame);
  const home = used.find((one) => one.frame === document.referenceFrame)?.corners;
  if (!maps || !home) throw new Problem('import-reference', { frame: document.referenceFrame });
  const {
    lock: _lock,
    corrections: _corrections,
    outset: _outset,
    smooth: _smooth,
    spans: _spans,
    rides: _rides,
    fade: _fade,
    ...kept
  } = document;
  const changed: ShotDocument = {
    ...kept,
    corners: home.map(([x, y]) => [x, y]) as NonNullable<ShotDocument['corners']>,
  };
  const shotId = copy
    ? await duplicateShot(
        db,
        { id: shot.id, projectId: shot.projectId, plateId: shot.plate!.id },
        changed,
        `${shot.name}, brought in`.slice(0, 200),
      )
    : shot.id;
  if (!copy) await saveDocument(db, shot.id, base ?? shot.revision, changed);
  const runKey = runKeyOf(changed, shot.plate!.id);
  const protect = document.protect ?? [];
  await transaction(db, async (connection) => {
    await clearOthers(connection, shotId, runKey);
    await clearSpan(connection, shotId, [0, facts.frames - 1], protect);
    for (const [frame, homography] of maps) {
      if (protect.some(([from, to]) => frame >= from && frame <= to)) continue;
      await writeTrackFrame(connection, shotId, NO_JOB, runKey, {
        frame,
        homography,
        error: 0,
        confidence: 1,
        blur: 0,
        note: 'brought in from a file',
      });
    }
  });
  return { frames: maps.size, faults: faults.slice(0, 200), shotId };
}

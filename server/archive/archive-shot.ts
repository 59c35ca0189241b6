import type { ArchivedShot, Shot, ShotDocument, TrackRow } from '../../core/base/schemas/types.ts';
import { unpackCertainty } from '../../core/motion/follow/certainty.ts';
import { run, type Queryable } from '../database/connection.ts';
import { insertFirstRevision, listRevisions, readDocument } from '../database/documents.ts';
import { readPoints, readPulled, writePoint, writePulled } from '../database/hand-motion.ts';
import { runKeyOf } from '../database/run-key.ts';
import { readScene, writePlane, writeScene } from '../database/scenes.ts';
import { mapKey, readSeatFrames, readSeatMeasure, writeSeat } from '../database/seats.ts';
import { insertShot, setShotPlate } from '../database/shots.ts';
import { insertVariant, listVariants } from '../database/variants.ts';
import { readTrack, writeTrackFrame } from '../database/tracks.ts';

/** Rows that no job of this service has made. */
const NO_JOB = 0;

/** All of a shot: every revision of its document, and what was found for the newest one. */
export async function archivedShot(db: Queryable, shot: Shot): Promise<ArchivedShot> {
  const plate = shot.plate?.id ?? null;
  const numbers = (await listRevisions(db, shot.id)).map((one) => one.revision).sort((a, b) => a - b);
  const revisions: ShotDocument[] = [];
  for (const revision of numbers) revisions.push(await readDocument(db, shot.id, revision));
  const runKey = runKeyOf(revisions.at(-1)!, plate);
  const track = (await readTrack(db, shot.id)).filter((row) => row.runKey === runKey);
  const measure = await readSeatMeasure(db, shot.id);
  const scene = await readScene(db, shot.id);
  return {
    key: shot.id,
    name: shot.name,
    plate,
    revisions,
    track,
    points: await readPoints(db, shot.id, runKey),
    pulled: await readPulled(db, shot.id, runKey),
    variants: (await listVariants(db, shot.id)).map(({ id, name, mediaId, framing }) => ({
      key: id,
      name,
      media: mediaId,
      framing,
    })),
    ...(scene && scene.plateId === plate
      ? { scene: { question: scene.question, scene: scene.scene, plane: scene.plane } }
      : {}),
    seat: measure && { ...measure, borders: [...measure.borders], frames: await readSeatFrames(db, shot.id, track) },
  };
}

/** The ids that shots and media of an archive have here. */
export interface NewIds {
  readonly media: ReadonlyMap<number, number>;
  readonly shots: ReadonlyMap<number, number>;
}

/** Makes a shot's row, so that others can name it. */
export async function beginShot(
  db: Queryable,
  projectId: number,
  { name, plate }: ArchivedShot,
  media: NewIds['media'],
): Promise<number> {
  const id = await insertShot(db, projectId, name);
  const plateId = plate === null ? undefined : media.get(plate);
  if (plateId !== undefined) await setShotPlate(db, id, plateId);
  return id;
}

/** Fills a shot that was begun with its revisions and what was found. Returns the ids that its variants have here, by their keys. */
export async function fillShot(
  db: Queryable,
  id: number,
  shot: ArchivedShot,
  ids: NewIds,
): Promise<Map<number, number>> {
  const revisions = shot.revisions.map((document) => renumbered(document, ids));
  const newest = revisions.at(-1)!;
  const runKey = runKeyOf(newest, shot.plate === null ? null : (ids.media.get(shot.plate) ?? null));
  await insertFirstRevision(db, id, revisions[0]!);
  for (const [i, document] of revisions.slice(1).entries())
    await run(db, 'INSERT INTO shot_revisions (shot_id, revision, document) VALUES (?, ?, ?)', [
      id,
      i + 2,
      JSON.stringify(document),
    ]);
  await run(db, 'UPDATE shots SET revision = ? WHERE id = ?', [revisions.length, id]);
  for (const row of shot.track) await writeTrackFrame(db, id, NO_JOB, runKey, entryOf(row));
  for (const row of shot.points) await writePoint(db, id, runKey, row);
  for (const row of shot.pulled) await writePulled(db, id, runKey, row);
  const variants = new Map<number, number>();
  for (const { key, name, media, framing } of shot.variants ?? []) {
    const variant = await insertVariant(db, {
      shotId: id,
      name,
      mediaId: media === null ? null : (ids.media.get(media) ?? null),
      framing,
    });
    if (key !== undefined) variants.set(key, variant);
  }
  const plateId = shot.plate === null ? undefined : ids.media.get(shot.plate);
  if (shot.scene && plateId !== undefined) {
    await writeScene(db, id, plateId, shot.scene.question, shot.scene.scene);
    if (shot.scene.plane) await writePlane(db, id, shot.scene.plane);
  }
  if (!shot.seat) return variants;
  const maps = new Map(shot.track.map((row) => [row.frame, row.homography]));
  const { frames, ...measure } = shot.seat;
  await writeSeat(
    db,
    id,
    measure,
    frames.map(({ holds, strips, ...row }) => ({
      ...row,
      mapKey: holds && maps.get(row.frame) ? mapKey(maps.get(row.frame)!) : '',
      strips: Buffer.from(strips, 'base64'),
    })),
  );
  return variants;
}

function entryOf({ frame, homography, error, confidence, blur, certainty: packed, lost, note }: TrackRow) {
  const certainty = packed && unpackCertainty(packed);
  return {
    frame,
    homography,
    error: error ?? NaN,
    confidence,
    blur,
    ...(certainty ? { certainty } : {}),
    ...(lost === null ? {} : { lost }),
    ...(note === null ? {} : { note }),
  };
}

/** The same document with the ids of here. What it names that is not here is left out. */
export function renumbered(document: ShotDocument, { media, shots }: NewIds): ShotDocument {
  const { rides, others, spans, steady, loop, look, contentId, ...kept } = document;
  const { board, ...plainLook } = look;
  const shotOf = (id: number | undefined) => (id === undefined ? undefined : shots.get(id));
  const ridden = shotOf(rides);
  const by = shotOf(steady?.by);
  const layers = board?.layers
    .filter(({ media: medium }) => typeof medium !== 'number' || media.has(medium))
    .map((layer) => (typeof layer.media === 'number' ? { ...layer, media: media.get(layer.media)! } : layer));
  return {
    ...kept,
    contentId: contentId === null ? null : (media.get(contentId) ?? null),
    look: { ...plainLook, ...(board ? { board: { ...board, layers: layers! } } : {}) },
    ...(loop ? { loop: loopHere(loop, media) } : {}),
    ...(ridden === undefined ? {} : { rides: ridden }),
    ...(others
      ? {
          others: others.flatMap((other) =>
            shots.has(other.shot) ? [{ ...other, shot: shots.get(other.shot)! }] : [],
          ),
        }
      : {}),
    ...(spans
      ? {
          spans: spans
            .filter((span) => span.shot === undefined || shots.has(span.shot))
            .map((span) => (span.shot === undefined ? span : { ...span, shot: shots.get(span.shot)! })),
        }
      : {}),
    ...(steady && (steady.by === undefined || by !== undefined)
      ? { steady: { ...steady, ...(by === undefined ? {} : { by }) } }
      : {}),
  };
}

/** Without the second take where that is not here: its split then divides nothing, and stays for another. */
function loopHere(
  { second, ...loop }: NonNullable<ShotDocument['loop']>,
  media: NewIds['media'],
): NonNullable<ShotDocument['loop']> {
  const there = second && media.get(second.mediaId);
  return there === undefined ? loop : { ...loop, second: { ...second, mediaId: there } };
}

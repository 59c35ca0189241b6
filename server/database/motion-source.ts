import {
  certaintyFromElsewhere,
  cornerBound,
  packCertainty,
  unpackCertainty,
  type Certainty,
} from '../../core/motion/follow/certainty.ts';
import { homographyBetweenQuads } from '../../core/base/geometry/estimate-homography.ts';
import { applyToPoints, compose, invert, keepsInFront, type Homography } from '../../core/base/geometry/homography.ts';
import { Problem } from '../../core/base/problem/problem.ts';
import type { NineNumbers, RowBounds, Shot, ShotDocument, TrackRow } from '../../core/base/schemas/types.ts';
import type { Queryable } from './connection.ts';
import { readDocument } from './documents.ts';
import { runKeyOf } from './run-key.ts';
import { findShot, listShots } from './shots.ts';
import { filmedChanges, readFilmedTrack } from './filmed-track.ts';
import { trackChanges } from './tracks.ts';
import { sceneRows } from './scene-motion.ts';
import { sceneChanged } from './scenes.ts';
import { newestHandChange, readPoints, readPulled } from './hand-motion.ts';
import { shotMotion, type ShotMotion } from '../../core/motion/splice/shot-motion.ts';

/** A shot's rows as they move its surface: as its spans make them, or its own, or those of the shot it rides on, led from its own reference frame. */
export async function readMotion(db: Queryable, shot: Shot, document: ShotDocument): Promise<TrackRow[]> {
  if (document.rides !== undefined) return riddenRows(db, shot, document, document.rides);
  return document.spans?.length
    ? (await splicedMotion(db, shot, document)).rows
    : readFilmedTrack(db, shot.id, document);
}

/** A shot's motion as its spans make it, with the joins. */
export async function splicedMotion(db: Queryable, shot: Shot, document: ShotDocument): Promise<ShotMotion> {
  const facts = shot.plate?.facts;
  const runKey = runKeyOf(document, shot.plate?.id ?? null);
  const others = new Set(
    (document.spans ?? []).flatMap((s) => (s.source === 'shot' && s.shot !== undefined ? [s.shot] : [])),
  );
  const [own, scene, points, pulled, shots] = await Promise.all([
    readFilmedTrack(db, shot.id, document),
    document.spans?.some((s) => s.source === 'scene') ? sceneRows(db, shot.id, shot.plate?.id, document, runKey) : [],
    readPoints(db, shot.id, runKey),
    readPulled(db, shot.id, runKey),
    Promise.all([...others].map(async (id) => [id, await spanRows(db, shot, document, id)] as const)),
  ]);
  return shotMotion(
    document,
    runKey,
    { plane: own.filter((r) => r.runKey === runKey), scene, points, pulled, shots: new Map(shots) },
    facts?.width ?? 1,
    facts?.height ?? 1,
  );
}

/** Likewise what changed after a number; of a ridden track all rows, since one of them may move all others. */
export async function motionChanges(
  db: Queryable,
  shot: Shot,
  document: ShotDocument,
  after: number,
): Promise<{ after: number; rows: TrackRow[] }> {
  if (document.rides === undefined && !document.spans?.length) return filmedChanges(db, shot.id, document, after);
  if (document.rides === undefined) {
    // One frame of a source may move all others.
    const others = (document.spans ?? []).flatMap((s) => (s.source === 'shot' && s.shot !== undefined ? [s.shot] : []));
    const newest = Math.max(
      await newestHandChange(db, shot.id),
      await sceneChanged(db, shot.id),
      ...(await Promise.all([shot.id, ...others].map(async (id) => (await trackChanges(db, id, after)).after))),
    );
    return newest <= after && after > 0
      ? { after, rows: [] }
      : { after: newest, rows: (await splicedMotion(db, shot, document)).rows };
  }
  const changes = await trackChanges(db, document.rides, after);
  return {
    after: changes.after,
    rows: changes.rows.length === 0 ? [] : await riddenRows(db, shot, document, document.rides),
  };
}

/** Shots that this one may ride on: of the same plate, and moved by regions of their own. */
export async function ridable(db: Queryable, shot: Shot): Promise<Shot[]> {
  const others = (await listShots(db, shot.projectId)).filter(
    (s) => s.id !== shot.id && s.plate !== null && s.plate.id === shot.plate?.id,
  );
  const documents = await Promise.all(others.map((s) => readDocument(db, s.id, s.revision)));
  return others.filter((_, i) => documents[i]!.rides === undefined);
}

/** Shots that ride on this one. */
export async function ridersOf(db: Queryable, shot: Shot): Promise<Shot[]> {
  const others = (await listShots(db, shot.projectId)).filter((s) => s.id !== shot.id);
  const documents = await Promise.all(others.map((s) => readDocument(db, s.id, s.revision)));
  return others.filter((_, i) => documents[i]!.rides === shot.id);
}

/** Refuses, as a Problem, to ride on a shot that cannot carry this one. */
export async function checkRide(db: Queryable, shot: Shot, rides: number): Promise<void> {
  const source = await findShot(db, rides);
  const refuse = (why: string) => new Problem('bad-ride', { name: source?.name ?? `shot ${rides}`, why });
  if (!source || source.projectId !== shot.projectId) throw refuse('it is not in this project');
  if (source.id === shot.id) throw refuse('it is this shot itself');
  if (!shot.plate || source.plate?.id !== shot.plate.id) throw refuse('it has another plate');
  if ((await readDocument(db, source.id, source.revision)).rides !== undefined) throw refuse('it rides on a third one');
  if ((await ridersOf(db, shot)).length > 0) throw refuse('others ride on this one');
}

/** Refuses, as a Problem, a surface that cannot be finished together with this one. One that is there no more is none, and left out. */
export async function checkOther(db: Queryable, shot: Shot, other: number): Promise<void> {
  const source = await findShot(db, other);
  const refuse = (why: string) =>
    new Problem('bad-field', {
      where: 'the document',
      field: 'others',
      why: `names ${source?.name ?? `shot ${other}`}: ${why}`,
    });
  if (source?.id === shot.id) throw refuse('that is this shot itself');
  if (source && source.projectId !== shot.projectId) throw refuse('it is not in this project');
  if (source && shot.plate && source.plate && source.plate.id !== shot.plate.id) throw refuse('it has another plate');
}

/** Refuses, as a Problem, a shot that a span cannot take its motion from. */
export async function checkSpanSource(db: Queryable, shot: Shot, other: number | undefined): Promise<void> {
  const source = other === undefined ? null : await findShot(db, other);
  if (
    !source ||
    source.id === shot.id ||
    source.projectId !== shot.projectId ||
    !shot.plate ||
    source.plate?.id !== shot.plate.id
  )
    throw new Problem('bad-span-source', { name: source?.name ?? `shot ${other ?? '(none)'}` });
}

/** Another shot's rows for a span of this one: where its own corners are there, this one's are. Its reference frame need not be known here. */
async function spanRows(db: Queryable, shot: Shot, document: ShotDocument, other: number): Promise<TrackRow[]> {
  const source = await findShot(db, other);
  if (!source?.plate || source.plate.id !== shot.plate?.id) return [];
  const theirs = await readDocument(db, source.id, source.revision);
  const key = runKeyOf(theirs, source.plate.id);
  const runKey = runKeyOf(document, shot.plate.id);
  const { corners } = theirs;
  const ours = document.corners;
  if (!corners || !ours) return [];
  return (await readFilmedTrack(db, source.id, theirs))
    .filter((row) => row.runKey === key)
    .map((row): TrackRow => {
      const certainty = row.certainty && unpackCertainty(row.certainty);
      const quad =
        row.homography && keepsInFront(row.homography, corners) ? applyToPoints(row.homography, corners) : null;
      const map = quad && homographyBetweenQuads(ours, quad);
      return {
        ...row,
        runKey,
        homography: map && ([...map] as NineNumbers),
        certainty: null,
        ...(certainty && row.homography
          ? { bounds: corners.map((c) => cornerBound(certainty, row.homography!, c)) as RowBounds }
          : {}),
        lost: row.lost ?? (map ? null : 'its corners would lie behind the camera'),
      };
    });
}

async function riddenRows(db: Queryable, shot: Shot, document: ShotDocument, rides: number): Promise<TrackRow[]> {
  const source = await findShot(db, rides);
  if (!source?.plate || source.plate.id !== shot.plate?.id) return [];
  const theirs = await readDocument(db, source.id, source.revision);
  const key = runKeyOf(theirs, source.plate.id);
  const runKey = runKeyOf(document, shot.plate.id);
  const rows = (await readFilmedTrack(db, source.id, theirs)).filter((row) => row.runKey === key);
  if (document.referenceFrame === theirs.referenceFrame) return rows.map((row) => ({ ...row, runKey }));
  const here = rows.find((row) => row.frame === document.referenceFrame);
  const back = here?.homography && invert(here.homography);
  const known = here?.certainty && unpackCertainty(here.certainty);
  if (!here || !back) return [];
  // On their reference frame nothing is open but the way there.
  const exact = known && { ...known, covariance: known.covariance.map(() => 0), timing: 0 };
  const off = offOf(here, theirs);
  return rows.map((row) =>
    row === here
      ? { ...row, runKey, homography: [1, 0, 0, 0, 1, 0, 0, 0, 1], certainty: null, error: 0, confidence: 1 }
      : fromElsewhere({ ...row, runKey }, back, exact, off),
  );
}

/** How far off the row's map may put the corners, px. */
function offOf({ homography, certainty: packed }: TrackRow, { corners, regions }: ShotDocument): number {
  const certainty = packed && unpackCertainty(packed);
  const at = corners ?? regions[0]?.points ?? [];
  return homography && certainty ? Math.max(0, ...at.map((corner) => cornerBound(certainty, homography, corner))) : 0;
}

/** A row led from another frame, whose pixels `back` maps to those of the frame it led from. */
function fromElsewhere(row: TrackRow, back: Homography, exact: Certainty | null | undefined, off: number): TrackRow {
  if (!row.homography) return row;
  const homography = compose(row.homography, back) as unknown as NineNumbers;
  const certainty = (row.certainty && unpackCertainty(row.certainty)) ?? exact;
  return {
    ...row,
    homography,
    certainty: certainty ? packCertainty(certaintyFromElsewhere(certainty, back, off)) : null,
  };
}

import { certaintyFromElsewhere, cornerBound, packCertainty, unpackCertainty, type Certainty } from '../../core/follow/certainty.ts';
import { compose, invert, type Homography } from '../../core/geometry/homography.ts';
import { Problem } from '../../core/problem/problem.ts';
import type { NineNumbers, Shot, ShotDocument, TrackRow } from '../../core/schemas/types.ts';
import type { Queryable } from './connection.ts';
import { readDocument } from './documents.ts';
import { runKeyOf } from './run-key.ts';
import { findShot, listShots } from './shots.ts';
import { readTrack, trackChanges } from './tracks.ts';

/** A shot's rows as they move its surface: its own, or those of the shot it rides on, led from its own reference frame. */
export async function readMotion(db: Queryable, shot: Shot, document: ShotDocument): Promise<TrackRow[]> {
  return document.rides === undefined ? readTrack(db, shot.id) : riddenRows(db, shot, document, document.rides);
}

/** Likewise what changed after a number; of a ridden track all rows, since one of them may move all others. */
export async function motionChanges(db: Queryable, shot: Shot, document: ShotDocument, after: number): Promise<{ after: number; rows: TrackRow[] }> {
  if (document.rides === undefined) return trackChanges(db, shot.id, after);
  const changes = await trackChanges(db, document.rides, after);
  return { after: changes.after, rows: changes.rows.length === 0 ? [] : await riddenRows(db, shot, document, document.rides) };
}

/** Shots that this one may ride on: of the same plate, and moved by regions of their own. */
export async function ridable(db: Queryable, shot: Shot): Promise<Shot[]> {
  const others = (await listShots(db, shot.projectId)).filter((s) => s.id !== shot.id && s.plate !== null && s.plate.id === shot.plate?.id);
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

async function riddenRows(db: Queryable, shot: Shot, document: ShotDocument, rides: number): Promise<TrackRow[]> {
  const source = await findShot(db, rides);
  if (!source?.plate || source.plate.id !== shot.plate?.id) return [];
  const theirs = await readDocument(db, source.id, source.revision), key = runKeyOf(theirs, source.plate.id), runKey = runKeyOf(document, shot.plate.id);
  const rows = (await readTrack(db, source.id)).filter((row) => row.runKey === key);
  if (document.referenceFrame === theirs.referenceFrame) return rows.map((row) => ({ ...row, runKey }));
  const here = rows.find((row) => row.frame === document.referenceFrame), back = here?.homography && invert(here.homography);
  const known = here?.certainty && unpackCertainty(here.certainty);
  if (!here || !back) return [];
  // On their reference frame nothing is open but the way there.
  const exact = known && { ...known, covariance: known.covariance.map(() => 0), timing: 0 }, off = offOf(here, theirs);
  return rows.map((row) => (row === here ? { ...row, runKey, homography: [1, 0, 0, 0, 1, 0, 0, 0, 1], certainty: null, error: 0, confidence: 1 } : fromElsewhere({ ...row, runKey }, back, exact, off)));
}

/** How far off the row's map may put the corners, px. */
function offOf({ homography, certainty: packed }: TrackRow, { corners, regions }: ShotDocument): number {
  const certainty = packed && unpackCertainty(packed), at = corners ?? regions[0]?.points ?? [];
  return homography && certainty ? Math.max(0, ...at.map((corner) => cornerBound(certainty, homography, corner))) : 0;
}

/** A row led from another frame, whose pixels `back` maps to those of the frame it led from. */
function fromElsewhere(row: TrackRow, back: Homography, exact: Certainty | null | undefined, off: number): TrackRow {
  if (!row.homography) return row;
  const homography = compose(row.homography, back) as unknown as NineNumbers, certainty = (row.certainty && unpackCertainty(row.certainty)) ?? exact;
  return { ...row, homography, certainty: certainty ? packCertainty(certaintyFromElsewhere(certainty, back, off)) : null };
}

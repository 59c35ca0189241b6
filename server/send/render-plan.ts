import { mapTuple } from '../../core/base/geometry/map-tuple.ts';
import { Problem } from '../../core/base/problem/problem.ts';
import type {
  PlannedMedium,
  PlannedSurface,
  RenderLayer,
  RenderPlan,
  Shot,
  ShotDocument,
  TrackRow,
} from '../../core/base/schemas/types.ts';
import { MAKING } from '../../core/handoff/send/frame-parts.ts';
import { SeatedCorners } from '../../core/surface/seat/seated-corners.ts';
import type { Queryable } from '../database/connection.ts';
import { readDocument } from '../database/documents.ts';
import { findMedia, findMediaByIds, type StoredMedia } from '../database/media.ts';
import { readMotion } from '../database/motion-source.ts';
import { findShot } from '../database/shots.ts';
import { mapsOf, rowBounds, seatingOf } from '../jobs/seating.ts';
import { boardIds, contentIds } from './shown-media.ts';

/** Layers that nothing has to be shown for. */
const WITHOUT_CONTENT: readonly RenderLayer[] = ['clean', 'flat', 'card'];

/** Everything that the frames of a shot depend on, as it stands now. Content is asked for unless none of the `layers` shows any. @throws Problem no-plate, no-corners, no-content, no-track, frames-cleared */
export async function planRender(
  db: Queryable,
  shot: Shot,
  document: ShotDocument,
  layers: readonly RenderLayer[] = ['full'],
): Promise<RenderPlan> {
  const plate = shot.plate && (await findMedia(db, shot.plate.id));
  if (!plate?.facts) throw new Problem('no-plate');
  if (plate.state === 'cleared') throw new Problem('frames-cleared', { name: plate.name });
  if (!document.corners) throw new Problem('no-corners');
  if (
    contentIds(document).length === 0 &&
    !document.look.board &&
    !layers.every((layer) => WITHOUT_CONTENT.includes(layer))
  )
    throw new Problem('no-content');
  const track = await readMotion(db, shot, document);
  if (track.length === 0) throw new Problem('no-track');
  const own: PlannedSurface = {
    own: true,
    border: ownBorder(document),
    document,
    corners: await cornersOf(db, shot.id, document, track),
  };
  const behind: PlannedSurface[] = [];
  const before: PlannedSurface[] = [];
  for (const { shot: id, nearer, border = 0 } of document.others ?? []) {
    const other = await findShot(db, id);
    // One that was put away, given another plate or emptied since is left out: this shot is finished without it.
    if (!other || other.plate?.id !== plate.id) continue;
    const theirs = await readDocument(db, other.id, other.revision);
    const rows = await readMotion(db, other, theirs);
    if (!theirs.corners || contentIds(theirs).length === 0 || rows.length === 0) continue;
    (nearer ? before : behind).push({
      own: false,
      border: nearer ? border : 0,
      document: theirs,
      corners: await cornersOf(db, other.id, theirs, rows),
    });
  }
  const surfaces = [...behind, own, ...before];
  return {
    format: 'yarlop-plan/1',
    making: MAKING,
    plate: planned(plate),
    media: await plannedMedia(
      db,
      surfaces.flatMap((surface) => contentIds(surface.document)),
    ),
    surfaces,
  };
}

/** What a board shows, for drawing it without a surface. */
export function plannedBoardMedia(
  db: Queryable,
  board: NonNullable<ShotDocument['look']['board']>,
): Promise<PlannedMedium[]> {
  return plannedMedia(db, boardIds(board));
}

async function plannedMedia(db: Queryable, ids: readonly number[]): Promise<PlannedMedium[]> {
  const wanted = [...new Set(ids)];
  const media = await findMediaByIds(db, wanted);
  return wanted.map((id) => {
    const medium = media.get(id);
    if (!medium?.facts) throw new Problem('no-content');
    if (medium.state === 'cleared') throw new Problem('frames-cleared', { name: medium.name });
    return planned(medium);
  });
}

export function planned({ id, name, hash, kind, frames, store, facts }: StoredMedia): PlannedMedium {
  return { id, name, hash, kind: kind!, frames: frames!, store: store!, facts: facts! };
}

/** Where a shot's surface is on each frame, as it is seated. */
export async function cornersOf(
  db: Queryable,
  shotId: number,
  document: ShotDocument,
  track: readonly TrackRow[],
): Promise<PlannedSurface['corners']> {
  const seating = await seatingOf(db, shotId, document, track);
  const rows = new Map(track.map((row) => [row.frame, row]));
  const corners = new SeatedCorners(seating).all(mapsOf(track), (frame) =>
    rowBounds(rows.get(frame)!, seating.corners),
  );
  return [...corners]
    .sort(([a], [b]) => a - b)
    .map(([frame, quad]) => ({ frame, corners: mapTuple(quad, ([x, y]): [number, number] => [x, y]) }));
}

/** How far this shot's own device hides what lies behind it: as far as the first one behind says. */
const ownBorder = ({ others = [] }: ShotDocument): number => others.find((other) => !other.nearer)?.border ?? 0;

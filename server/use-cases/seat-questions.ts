import { homographyBetweenQuads } from '../../core/base/geometry/estimate-homography.ts';
import { compose } from '../../core/base/geometry/homography.ts';
import type { Quad } from '../../core/base/geometry/quad.ts';
import { Problem } from '../../core/base/problem/problem.ts';
import type { MatchRequest, SnapRequest } from '../../core/base/schemas/types.ts';
import { framesToMeasure } from '../../core/picture/matte/frames-to-measure.ts';
import { surfaceRatio } from '../../core/picture/pin/surface-ratio.ts';
import { movementOf } from '../../core/surface/seat/match-reference.ts';
import { SeatedCorners } from '../../core/surface/seat/seated-corners.ts';
import type { Database } from '../database/connection.ts';
import { findMedia, type StoredMedia } from '../database/media.ts';
import type { LensTask, LookTask, MatchTask, SnapTask, SurfaceTask } from '../jobs/seat-tasks.ts';
import { seatingOf } from '../jobs/seating.ts';
import { openDocument, plateOf } from './open-shot.ts';
import { seatedSurface } from './seated-surface.ts';

// What a worker is asked about a shot's surface: each gathers what the answer needs, and refuses what cannot be answered.

/** A usual shutter, of the frame's time: how far a corner is smeared while it is open. */
const SHUTTER = 0.5;
/** A lens is estimated from the borders on so many frames; its unit is so many widths of the picture where no focal length is known. */
const LENS_FRAMES = 24;
const USUAL_FOCAL = 1.1;

type Question<T> = Omit<T, 'kind'>;

function checkFrame(frame: number, plate: StoredMedia): void {
  const last = plate.facts!.frames - 1;
  if (frame > last) throw new Problem('frame-outside', { where: 'the request', frame, last });
}

/** Where the borders near a rough quad are. */
export async function askSnap(
  db: Database,
  dataFolder: string,
  shotId: number,
  { frame, corners, border }: SnapRequest,
): Promise<Question<SnapTask>> {
  const { shot, document } = await openDocument(db, shotId);
  const plate = await plateOf(db, shot.plate?.id);
  checkFrame(frame, plate);
  return { plate, dataFolder, frame, corners, border, lens: document.lens };
}

/** Where corners of the reference are on another frame. */
export async function askMatch(
  db: Database,
  dataFolder: string,
  shotId: number,
  { frame, corners }: MatchRequest,
): Promise<Question<MatchTask>> {
  const { shot, document } = await openDocument(db, shotId);
  const plate = await plateOf(db, shot.plate?.id);
  checkFrame(frame, plate);
  const reference = document.corners;
  if (!reference) throw new Problem('no-corners');
  const { rows, maps } = await seatedSurface(db, shot, document);
  const seated = new SeatedCorners({
    ...(await seatingOf(db, shot.id, document, rows)),
    smooth: 0,
    outset: undefined,
  });
  const map = maps.get(frame);
  const seat = homographyBetweenQuads(reference, seated.onReference(frame));
  if (!map || !seat) throw new Problem('not-followed', { frame });
  const at = (f: number) => {
    const there = maps.get(f);
    return there ? seated.at(f, there) : null;
  };
  const ways = (f: number, corner: number) =>
    movementOf(at(f - 1)?.[corner] ?? null, at(f + 1)?.[corner] ?? null, SHUTTER);
  return {
    plate,
    dataFolder,
    referenceFrame: document.referenceFrame,
    frame,
    map: compose(map, seat),
    corners: corners.map((corner) => ({
      corner,
      place: reference[corner]!,
      onFrame: ways(frame, corner),
      onReference: ways(document.referenceFrame, corner),
    })),
  };
}

/** How the surface looks on all frames that are known. */
export async function askLook(db: Database, dataFolder: string, shotId: number): Promise<Question<LookTask>> {
  const { shot, document } = await openDocument(db, shotId);
  const plate = await plateOf(db, shot.plate?.id);
  if (!document.corners) throw new Problem('no-corners');
  const { all } = await seatedSurface(db, shot, document);
  const content = document.look.board || document.contentId === null ? null : await findMedia(db, document.contentId);
  return {
    plate,
    content: content?.state === 'ready' ? content : null,
    dataFolder,
    ratio: surfaceRatio(document),
    referenceFrame: document.referenceFrame,
    frames: orReference(all(), document),
  };
}

/** What stands before a surface, and what is on it. */
export async function askSurface(db: Database, dataFolder: string, shotId: number): Promise<SurfaceTask> {
  const { shot, document } = await openDocument(db, shotId);
  const plate = await plateOf(db, shot.plate?.id);
  if (!document.corners) throw new Problem('no-corners');
  const { maps, quadAt } = await seatedSurface(db, shot, document);
  const chosen = framesToMeasure(
    [...maps.keys()].sort((a, b) => a - b),
    quadAt,
  );
  return {
    plate,
    dataFolder,
    ratio: surfaceRatio(document),
    home: document.corners,
    referenceFrame: document.referenceFrame,
    frames: orReference(placed(chosen, quadAt), document),
    lens: document.lens,
  };
}

/** The plate's lens, by the surface's borders on some frames and by lines that were drawn. */
export async function askLens(db: Database, dataFolder: string, shotId: number): Promise<Question<LensTask>> {
  const { shot, document } = await openDocument(db, shotId);
  const plate = await plateOf(db, shot.plate?.id);
  const drawn = (document.straightLines ?? []).map((line) => line.points);
  if (!document.corners && drawn.length === 0) throw new Problem('no-corners');
  const surface = document.corners ? await seatedSurface(db, shot, document) : null;
  const known = [...(surface?.maps.keys() ?? [])].sort((a, b) => a - b);
  const n = Math.min(LENS_FRAMES, known.length);
  const chosen = Array.from({ length: n }, (_, k) => known[Math.floor(((k + 0.5) * known.length) / n)]!);
  return {
    plate,
    dataFolder,
    frames: surface ? orReference(placed(chosen, surface.quadAt), document) : [],
    drawn,
    focal: document.lens?.focal ?? document.focal ?? Math.round(USUAL_FOCAL * plate.facts!.width),
  };
}

type Placed = { readonly frame: number; readonly quad: Quad };

function placed(frames: readonly number[], quadAt: (frame: number) => Quad | null): Placed[] {
  return frames.flatMap((frame) => {
    const quad = quadAt(frame);
    return quad ? [{ frame, quad }] : [];
  });
}

/** A surface that was never followed is looked at on its reference frame. */
function orReference(
  frames: readonly Placed[],
  { referenceFrame, corners }: { referenceFrame: number; corners: unknown },
): readonly Placed[] {
  return frames.length > 0 ? frames : [{ frame: referenceFrame, quad: corners as Quad }];
}

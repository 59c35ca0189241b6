import { motionAbout } from '../../core/composite/shutter-path.ts';
import type { Quality } from '../../core/composite/render-insert.ts';
import { composeSurfaces, type StackedSurface } from '../../core/composite/compose-surfaces.ts';
import { resolveLook, withCornerRadius, type ResolvedLook } from '../../core/composite/look.ts';
import { surfaceFocal } from '../../core/composite/surface-camera.ts';
import { surfaceRatio } from '../../core/composite/surface-ratio.ts';
import type { Quad } from '../../core/geometry/quad.ts';
import type { CodedPicture } from '../../core/image/picture.ts';
import { pictureFromRaw } from '../../core/image/raw-frame.ts';
import { differenceOf, type Difference } from '../../core/matte/difference-matte.ts';
import { framesToMeasure } from '../../core/matte/frames-to-measure.ts';
import type { CleanSurface } from '../../core/blend/clean-surface.ts';
import { cleanFrames, cleanNeeds, cleanSurface, type CleanKind } from '../../core/measure/clean-needs.ts';
import { Problem } from '../../core/problem/problem.ts';
import type { Shot, ShotDocument, TrackRow } from '../../core/schemas/types.ts';
import { SeatedCorners, type Seating } from '../../core/seat/seated-corners.ts';
import type { Queryable } from '../database/connection.ts';
import { readDocument } from '../database/documents.ts';
import type { StoredMedia } from '../database/media.ts';
import { readMotion } from '../database/motion-source.ts';
import { findShot } from '../database/shots.ts';
import type { FrameStore } from '../media/frame-store.ts';
import { openFrames } from '../media/stored-frames.ts';
import { mapsOf, rowBounds, seatingOf } from './seating.ts';
import { contentIds, openShown, type ShownMedia } from './shown-media.ts';

interface SurfaceParts {
  readonly document: ShotDocument;
  readonly plate: StoredMedia;
  readonly track: readonly TrackRow[];
  readonly seating: Seating;
  readonly folders: { frames: string; media: string };
}

/** One surface of a plate: where it is on each frame, and what is shown on it. */
class ShotSurface {
  private difference: Difference | null = null;
  private clean: CleanSurface | null = null;

  private constructor(
    private readonly document: ShotDocument, private readonly shown: ShownMedia, private readonly look: ResolvedLook, private readonly corners: ReadonlyMap<number, Quad>,
    private readonly ratio: number, private readonly focal: number | undefined, readonly border: number, private readonly perSecond: number,
  ) {}

  static async open(db: Queryable, { document, plate, track, seating, folders }: SurfaceParts, plates: FrameStore, border: number): Promise<ShotSurface> {
    if (!document.corners) throw new Problem('no-corners');
    const look = resolveLook(withCornerRadius(document)), rows = new Map(track.map((row) => [row.frame, row])), ratio = surfaceRatio(document);
    const corners = new SeatedCorners(seating).all(mapsOf(track), (frame) => rowBounds(rows.get(frame)!, seating.corners));
    const deep = look.depth !== 0 || look.texture?.falloff || look.reflections?.rides === 'mirror' || document.look.board?.layers.some((layer) => layer.depth), focal = deep ? surfaceFocal([...corners.values()], plate.facts!, ratio, document.focal) : undefined;
    const surface = new ShotSurface(document, await openShown(db, document, look, plate.facts!.rate, folders), look, corners, ratio, focal, border, plate.facts!.rate[0] / plate.facts!.rate[1]), kind = cleanNeeds(look);
    if (kind) await surface.lookForClean(kind, plates, plate);
    else if (look.front.difference) await surface.lookForDifference(plates, plate);
    return surface;
  }

  /** The surface on a frame; null where it has no corners or nothing is shown. */
  async on(frame: number): Promise<StackedSurface | null> {
    const now = this.corners.get(frame), contents = now && (await this.shown(frame, now));
    if (!now || !contents) return null;
    const motion = motionAbout((f) => this.corners.get(f), frame)!, { look, ratio, focal, difference, border, clean, perSecond } = this;
    return { border, surface: { contents, motion, ratio, look, frame, reference: this.document.corners!, referenceFrame: this.document.referenceFrame, focal, perSecond, clean: clean ?? undefined, differs: difference?.on(now, look.front.difference!) } };
  }

  private async lookForClean(kind: CleanKind, plates: FrameStore, { facts }: StoredMedia): Promise<void> {
    const known = [...this.corners.keys()].sort((a, b) => a - b), { referenceFrame } = this.document, home = this.corners.has(referenceFrame) ? referenceFrame : known[0], frames = [];
    if (home === undefined) return;
    for (const frame of cleanFrames(kind, known, home)) frames.push({ frame, picture: pictureFromRaw(await plates.readRaw(frame), facts!.layout), quad: this.corners.get(frame)! });
    this.clean = cleanSurface(kind, frames, this.look, this.ratio, facts!.colour);
  }

  private async lookForDifference(plates: FrameStore, { facts }: StoredMedia): Promise<void> {
    const frames = [];
    for (const frame of framesToMeasure([...this.corners.keys()].sort((a, b) => a - b), (frame) => this.corners.get(frame))) frames.push({ picture: pictureFromRaw(await plates.readRaw(frame), facts!.layout), quad: this.corners.get(frame)! });
    this.difference = differenceOf(frames, this.ratio, facts!.colour);
  }
}

/** Composes finished frames of one shot, and of the other surfaces that it names, from the frame stores of plate and contents. */
export class ShotCompositor {
  private constructor(private readonly plate: StoredMedia, private readonly plates: FrameStore, private readonly surfaces: readonly ShotSurface[]) {}

  static async open(db: Queryable, shot: Shot, parts: Omit<SurfaceParts, 'seating'>): Promise<ShotCompositor> {
    const { document, plate, folders } = parts, plates = openFrames(folders, plate), own = await ShotSurface.open(db, { ...parts, seating: await seatingOf(db, shot.id, document, parts.track) }, plates, ownBorder(document));
    const behind: ShotSurface[] = [], before: ShotSurface[] = [];
    for (const { shot: id, nearer, border = 0 } of document.others ?? []) {
      const other = await findShot(db, id);
      // One that was put away, given another plate or emptied since is left out: this shot is finished without it.
      if (!other || other.plate?.id !== plate.id) continue;
      const theirs = await readDocument(db, other.id, other.revision), track = await readMotion(db, other, theirs);
      if (!theirs.corners || contentIds(theirs).length === 0 || track.length === 0) continue;
      (nearer ? before : behind).push(await ShotSurface.open(db, { document: theirs, plate, track, seating: await seatingOf(db, other.id, theirs, track), folders }, plates, nearer ? border : 0));
    }
    return new ShotCompositor(plate, plates, [...behind, own, ...before]);
  }

  /** The finished picture; the plate as it is where there are no corners or nothing is shown. */
  async compose(frame: number, quality: Quality): Promise<CodedPicture> {
    const plate = pictureFromRaw(await this.plates.readRaw(frame), this.plate.facts!.layout), stack: StackedSurface[] = [];
    for (const surface of this.surfaces) {
      const there = await surface.on(frame);
      if (there) stack.push(there);
    }
    return composeSurfaces(plate, stack, quality, this.plate.facts!.colour).picture;
  }
}

/** How far this shot's own device hides what lies behind it: as far as the first one behind is told. */
const ownBorder = ({ others = [] }: ShotDocument): number => others.find((other) => !other.nearer)?.border ?? 0;

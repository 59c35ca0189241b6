import { composeFrame, type Quality } from '../../core/composite/compose-frame.ts';
import { resolveLook, type ResolvedLook } from '../../core/composite/look.ts';
import { surfaceFocal } from '../../core/composite/surface-camera.ts';
import { surfaceRatio } from '../../core/composite/surface-ratio.ts';
import type { Quad } from '../../core/geometry/quad.ts';
import type { CodedPicture } from '../../core/image/picture.ts';
import { pictureFromRaw } from '../../core/image/raw-frame.ts';
import { differenceOf, type Difference } from '../../core/matte/difference-matte.ts';
import { framesToMeasure } from '../../core/matte/measure-front.ts';
import { Problem } from '../../core/problem/problem.ts';
import type { ShotDocument, TrackRow } from '../../core/schemas/types.ts';
import { SeatedCorners, type Seating } from '../../core/seat/seated-corners.ts';
import type { Queryable } from '../database/connection.ts';
import type { StoredMedia } from '../database/media.ts';
import type { FrameStore } from '../media/frame-store.ts';
import { openFrames } from '../media/stored-frames.ts';
import { mapsOf, rowBounds } from './seating.ts';
import { openShown, type ShownMedia } from './shown-media.ts';

interface CompositorParts {
  readonly document: ShotDocument;
  readonly plate: StoredMedia;
  readonly track: readonly TrackRow[];
  readonly seating: Seating;
  readonly folders: { frames: string; media: string };
}

/** Composes finished frames of one shot from the frame stores of its plate and content. */
export class ShotCompositor {
  private difference: Difference | null = null;

  private constructor(
    private readonly document: ShotDocument, private readonly plate: StoredMedia, private readonly plates: FrameStore, private readonly shown: ShownMedia,
    private readonly look: ResolvedLook, private readonly corners: ReadonlyMap<number, Quad>, private readonly ratio: number, private readonly focal: number | undefined,
  ) {}

  static async open(db: Queryable, { document, plate, track, seating, folders }: CompositorParts): Promise<ShotCompositor> {
    if (!document.corners) throw new Problem('no-corners');
    const look = resolveLook(document.look), rows = new Map(track.map((row) => [row.frame, row])), ratio = surfaceRatio(document);
    const corners = new SeatedCorners(seating).all(mapsOf(track), (frame) => rowBounds(rows.get(frame)!, seating.corners));
    const deep = look.depth !== 0 || document.look.board?.layers.some((layer) => layer.depth), focal = deep ? surfaceFocal([...corners.values()], plate.facts!, ratio, document.focal) : undefined;
    const compositor = new ShotCompositor(document, plate, openFrames(folders, plate), await openShown(db, document, look, plate.facts!.rate, folders), look, corners, ratio, focal);
    if (look.front.difference) await compositor.lookForDifference();
    return compositor;
  }

  /** The finished picture; the plate as it is where there are no corners or nothing is shown. */
  async compose(frame: number, quality: Quality): Promise<CodedPicture> {
    const plate = await this.picture(frame), now = this.corners.get(frame), contents = now && (await this.shown(frame, now));
    if (!now || !contents) return plate;
    const motion = { before: this.corners.get(frame - 1) ?? null, now, after: this.corners.get(frame + 1) ?? null }, { look, ratio, focal, difference } = this;
    return composeFrame(plate, {
      contents, motion, ratio, look, frame, reference: this.document.corners!, referenceFrame: this.document.referenceFrame, focal, differs: difference?.on(now, look.front.difference!),
    }, quality, this.plate.facts!.colour);
  }

  private async picture(frame: number): Promise<CodedPicture> {
    return pictureFromRaw(await this.plates.readRaw(frame), this.plate.facts!.layout);
  }

  private async lookForDifference(): Promise<void> {
    const frames = [];
    for (const frame of framesToMeasure([...this.corners.keys()].sort((a, b) => a - b))) frames.push({ picture: await this.picture(frame), quad: this.corners.get(frame)! });
    this.difference = differenceOf(frames, this.ratio, this.plate.facts!.colour);
  }
}

import { composeFrame, type Quality } from '../../core/composite/compose-frame.ts';
import { buildContentPyramid, type ContentPyramid } from '../../core/composite/content-pyramid.ts';
import { contentFrameAt } from '../../core/content/content-time.ts';
import { resolveLook } from '../../core/composite/look.ts';
import { sideRatio, type Quad } from '../../core/geometry/quad.ts';
import type { CodedPicture } from '../../core/image/picture.ts';
import { contentFromRaw, pictureFromRaw } from '../../core/image/raw-frame.ts';
import { Problem } from '../../core/problem/problem.ts';
import type { ShotDocument, TrackRow } from '../../core/schemas/types.ts';
import { SeatedCorners, type Seating } from '../../core/seat/seated-corners.ts';
import type { StoredMedia } from '../database/media.ts';
import type { FrameStore } from '../media/frame-store.ts';
import { openFrames } from '../media/stored-frames.ts';
import { mapsOf, rowBounds } from './seating.ts';

/** Composes finished frames of one shot from the frame stores of its plate and content. */
export class ShotCompositor {
  private readonly plates: FrameStore;
  private readonly contents: FrameStore;
  private readonly corners: ReadonlyMap<number, Quad>;
  private pyramid: { frame: number; levels: ContentPyramid } | null = null;

  constructor(
    private readonly document: ShotDocument, private readonly plate: StoredMedia, private readonly content: StoredMedia,
    track: readonly TrackRow[], seating: Seating, folders: { frames: string; media: string },
  ) {
    this.plates = openFrames(folders, plate);
    this.contents = openFrames(folders, content);
    if (!document.corners) throw new Problem('no-corners');
    const rows = new Map(track.map((row) => [row.frame, row]));
    this.corners = new SeatedCorners(seating).all(mapsOf(track), (frame) => rowBounds(rows.get(frame)!, seating.corners));
  }

  /** The finished picture; the plate as it is where there are no corners. */
  async compose(frame: number, quality: Quality): Promise<CodedPicture> {
    const plate = pictureFromRaw(await this.plates.readRaw(frame), this.plate.facts!.layout);
    const now = this.corners.get(frame);
    if (!now) return plate;
    const look = resolveLook(this.document.look);
    const motion = { before: this.corners.get(frame - 1) ?? null, now, after: this.corners.get(frame + 1) ?? null };
    return composeFrame(plate, await this.contentAt(frame), motion, sideRatio(this.document.corners!), look, quality, this.plate.facts!.colour);
  }

  private async contentAt(plateFrame: number): Promise<ContentPyramid> {
    const { facts, frames, kind } = this.content;
    const wanted = kind === 'clip' ? contentFrameAt(plateFrame, this.plate.facts!.rate, facts!.rate) : plateFrame;
    const frame = kind === 'still' ? 0 : Math.min(wanted, frames! - 1);
    if (this.pyramid?.frame !== frame) {
      const picture = contentFromRaw(await this.contents.readRaw(frame), facts!.layout);
      this.pyramid = { frame, levels: buildContentPyramid(picture, resolveLook(this.document.look).levels, facts!.colour) };
    }
    return this.pyramid.levels;
  }
}

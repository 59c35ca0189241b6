import { composeFrame, type Quality } from '../../core/composite/compose-frame.ts';
import { resolveLook, type ResolvedLook } from '../../core/composite/look.ts';
import { ShownContent, type ContentSource } from '../../core/composite/shown-content.ts';
import { surfaceRatio } from '../../core/composite/surface-ratio.ts';
import type { Quad } from '../../core/geometry/quad.ts';
import type { CodedPicture } from '../../core/image/picture.ts';
import { contentFromRaw, pictureFromRaw } from '../../core/image/raw-frame.ts';
import { Problem } from '../../core/problem/problem.ts';
import type { ShotDocument, TrackRow } from '../../core/schemas/types.ts';
import { SeatedCorners, type Seating } from '../../core/seat/seated-corners.ts';
import type { StoredMedia } from '../database/media.ts';
import type { FrameStore } from '../media/frame-store.ts';
import { openFrames } from '../media/stored-frames.ts';
import { mapsOf, rowBounds } from './seating.ts';

/** The frames of stored content. A clip runs at its own rate, numbered pictures with the plate. */
export function storedContent({ facts, kind, frames }: StoredMedia, store: FrameStore, plate: StoredMedia): ContentSource {
  return { frames: frames!, rate: kind === 'clip' ? facts!.rate : plate.facts!.rate, colour: facts!.colour, picture: async (index) => contentFromRaw(await store.readRaw(index), facts!.layout) };
}

/** Composes finished frames of one shot from the frame stores of its plate and content. */
export class ShotCompositor {
  private readonly plates: FrameStore;
  private readonly shown: ShownContent;
  private readonly look: ResolvedLook;
  private readonly corners: ReadonlyMap<number, Quad>;

  constructor(
    private readonly document: ShotDocument, private readonly plate: StoredMedia, content: StoredMedia,
    track: readonly TrackRow[], seating: Seating, folders: { frames: string; media: string },
  ) {
    this.plates = openFrames(folders, plate);
    this.shown = new ShownContent(storedContent(content, openFrames(folders, content), plate), plate.facts!.rate);
    this.look = resolveLook(document.look);
    if (!document.corners) throw new Problem('no-corners');
    const rows = new Map(track.map((row) => [row.frame, row]));
    this.corners = new SeatedCorners(seating).all(mapsOf(track), (frame) => rowBounds(rows.get(frame)!, seating.corners));
  }

  /** The finished picture; the plate as it is where there are no corners or nothing is shown. */
  async compose(frame: number, quality: Quality): Promise<CodedPicture> {
    const plate = pictureFromRaw(await this.plates.readRaw(frame), this.plate.facts!.layout);
    const now = this.corners.get(frame), pyramid = now && (await this.shown.at(frame, this.look));
    if (!now || !pyramid) return plate;
    const motion = { before: this.corners.get(frame - 1) ?? null, now, after: this.corners.get(frame + 1) ?? null };
    const reference = this.document.corners! as Quad;
    return composeFrame(plate, { contents: [{ pyramid }], motion, ratio: surfaceRatio(this.document), look: this.look, frame, reference, referenceFrame: this.document.referenceFrame }, quality, this.plate.facts!.colour);
  }
}

import { motionAbout } from '../../core/picture/pin/shutter-path.ts';
import { boardScale, FINE, QUICK } from '../../core/picture/board/board-scale.ts';
import type { FontFamily, FontSet, FontWeight } from '../../core/picture/board/fonts.ts';
import { renderBoard } from '../../core/picture/board/render-board.ts';
import { composeSurfaces } from '../../core/picture/composite/compose-surfaces.ts';
import type { Quality } from '../../core/picture/pin/render-insert.ts';
import { buildContentPyramid } from '../../core/picture/pin/content-pyramid.ts';
import { levelsNow, type ResolvedLook } from '../../core/picture/look/look.ts';
import type { PinnedSurface } from '../../core/picture/pin/pinned-surface.ts';
import { sideRatio, type Quad } from '../../core/base/geometry/quad.ts';
import type { CodedPicture, ContentPicture } from '../../core/base/image/picture.ts';
import { measureFront } from '../../core/picture/matte/measure-front.ts';
import { speedLook, sourcesOf, tenLayers, threeShapes } from './speed-scene.ts';

/** The shipped held phone at a size, as it is given to a thread that is to finish its frames. */
export interface SpeedShot {
  readonly width: number;
  readonly height: number;
  /** Codes of each frame, three a pixel. */
  readonly plates: readonly Uint8Array[];
  /** Corners of each frame at that size. */
  readonly corners: readonly Quad[];
  readonly referenceFrame: number;
  readonly levels: { black: number; white: number };
  readonly softness: number;
  readonly shutter: number;
  readonly page: ContentPicture;
  readonly font: (family: FontFamily, weight: FontWeight) => Promise<FontSet>;
}

/** Finishes frames of it with a board of ten layers, a measured key and spill, and three shapes. */
export class SpeedRun {
  readonly look: ResolvedLook;
  private readonly board = tenLayers();
  private readonly sources;

  constructor(readonly shot: SpeedShot) {
    const { plates, corners, referenceFrame, levels, softness, shutter, page, font } = shot;
    const measured = measureFront(
      [0, 4, 8, 12].map((frame) => ({ picture: this.plate(frame, plates), quad: corners[frame]! })),
      this.ratio,
      { transfer: 'srgb', primaries: 'bt709' },
    );
    this.look = speedLook(measured, levels, softness, shutter, threeShapes(corners[referenceFrame]!));
    this.sources = sourcesOf(buildContentPyramid(page, levelsNow(this.look.levels, 0)), font);
  }

  private get ratio(): number {
    return sideRatio(this.shot.corners[this.shot.referenceFrame]!);
  }

  plate(frame: number, plates = this.shot.plates): CodedPicture {
    return { width: this.shot.width, height: this.shot.height, data: plates[frame]!, peak: 255 };
  }

  /** A frame's surface with its board drawn. */
  async surface(frame: number, quality: Quality): Promise<PinnedSurface> {
    const { corners, referenceFrame } = this.shot;
    const now = corners[frame]!;
    const contents = await renderBoard(
      this.board,
      frame,
      this.sources,
      this.look.levels,
      boardScale(this.board, now, quality === 'quick' ? QUICK : FINE),
    );
    return {
      contents,
      motion: motionAbout((f) => corners[f], frame)!,
      ratio: this.ratio,
      look: this.look,
      frame,
      reference: corners[referenceFrame]!,
      referenceFrame,
    };
  }

  compose(frame: number, surface: PinnedSurface, quality: Quality): CodedPicture {
    return composeSurfaces(this.plate(frame), [{ surface, border: 0 }], quality).picture;
  }
}

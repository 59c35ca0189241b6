import { motionAbout } from '../../core/picture/pin/shutter-path.ts';
import type { Quality } from '../../core/picture/pin/render-insert.ts';
import { composeSurfaces, type StackedSurface } from '../../core/picture/composite/compose-surfaces.ts';
import { asksFrames } from '../../core/picture/look/clean-fix.ts';
import { usualSurface } from '../../core/picture/clean/usual-surface.ts';
import type { UsualSurface } from '../../core/picture/pin/surface-frames.ts';
import { cleanPlate } from '../../core/picture/composite/clean-plate.ts';
import { composeFrame, type Composed } from '../../core/picture/composite/compose-frame.ts';
import { buildContentPyramid, type ContentPyramid } from '../../core/picture/pin/content-pyramid.ts';
import {
  NEUTRAL_LEVELS,
  NEUTRAL_LOOK,
  resolveLook,
  withCornerRadius,
  type ResolvedLook,
} from '../../core/picture/look/look.ts';
import { surfaceFocal } from '../../core/picture/pin/surface-camera.ts';
import { surfaceRatio } from '../../core/picture/pin/surface-ratio.ts';
import { testCard } from '../../core/picture/composite/test-card.ts';
import type { Quad } from '../../core/base/geometry/quad.ts';
import type { CodedPicture } from '../../core/base/image/picture.ts';
import { pictureFromRaw } from '../../core/base/image/raw-frame.ts';
import { differenceOf, type Difference } from '../../core/picture/matte/difference-matte.ts';
import type { FrontFrame } from '../../core/picture/matte/measure-front.ts';
import { framesToMeasure } from '../../core/picture/matte/frames-to-measure.ts';
import type { CleanSurface } from '../../core/picture/pin/clean-surface.ts';
import { cleanNeeds, cleanSurface, type CleanKind } from '../../core/picture/measure/clean-needs.ts';
import type { PlannedMedium, PlannedSurface, RenderPlan } from '../../core/base/schemas/types.ts';
import { cleanOn, isDeep } from '../../core/handoff/send/frame-parts.ts';
import type { FrameStore } from '../media/frame-store.ts';
import { openFrames } from '../media/stored-frames.ts';
import { openShown, type MediaFrames, type ShownMedia } from './shown-media.ts';

/** Pixels along the longer side of a test card. */
const CARD_SIDE = 1920;

/** One surface of a plate: where it is on each frame, and what is shown on it. */
class PlanSurface {
  readonly corners: ReadonlyMap<number, Quad>;
  private readonly look: ResolvedLook;
  private readonly ratio: number;
  private readonly focal: number | undefined;
  private readonly perSecond: number;
  private readonly shown: ShownMedia;
  private difference: Difference | null = null;
  private clean: CleanSurface | null = null;
  /** The surface over the shot, where something is painted out from other frames, or lies under glass. */
  private usual: UsualSurface | undefined;
  /** The surface as it was filmed, for its layer; undefined until asked for. */
  private filmed: CleanSurface | null | undefined;
  private card: ContentPyramid | null = null;

  constructor(
    private readonly planned: PlannedSurface,
    private readonly plate: PlannedMedium,
    private readonly plates: FrameStore,
    media: MediaFrames,
  ) {
    const { document } = planned;
    const { rate } = plate.facts;
    this.look = resolveLook(withCornerRadius(document));
    this.ratio = surfaceRatio(document);
    this.corners = new Map(planned.corners.map((row) => [row.frame, row.corners]));
    this.perSecond = rate[0] / rate[1];
    this.focal = isDeep(document.look)
      ? surfaceFocal([...this.corners.values()], plate.facts, this.ratio, document.focal)
      : undefined;
    this.shown = openShown(document, this.look, media);
  }

  /** Measures on the plate what the look asks for. */
  async prepare(): Promise<void> {
    const kind = cleanNeeds(this.look);
    if (kind) this.clean = await this.lookForClean(kind);
    else if (this.look.front.difference)
      this.difference = differenceOf(await this.spreadFrames(), this.ratio, this.plate.facts.colour);
    if (asksFrames(this.look.clean?.fixes ?? []))
      this.usual = usualSurface(await this.spreadFrames(), this.ratio) ?? undefined;
  }

  /** The surface on a frame; null where it has no corners or nothing is shown. */
  async on(frame: number, card: boolean): Promise<StackedSurface | null> {
    const now = this.corners.get(frame);
    const contents = now && (card ? [{ pyramid: this.cardPyramid() }] : await this.shown(frame, now));
    if (!now || !contents) return null;
    const motion = motionAbout((f) => this.corners.get(f), frame)!;
    const {
      look,
      ratio,
      focal,
      difference,
      clean,
      usual,
      perSecond,
      planned: { border, document },
    } = this;
    const { lens } = document;
    return {
      border,
      surface: {
        contents,
        motion,
        ratio,
        look: card ? { ...look, place: {}, fit: 'stretch' } : look,
        frame,
        lens,
        reference: document.corners!,
        referenceFrame: document.referenceFrame,
        focal,
        perSecond,
        usual,
        clean: clean ?? undefined,
        differs: difference?.on(now, look.front.difference!),
      },
    };
  }

  /** The plate with what the surface showed when nothing stood before it or was mirrored in it; what stands before it stays. */
  async cleaned(plate: CodedPicture, frame: number): Promise<CodedPicture> {
    const motion = motionAbout((f) => this.corners.get(f), frame);
    const {
      look,
      ratio,
      planned: { document },
    } = this;
    // Where things are painted out by hand, that is the clean plate.
    if (motion && look.clean && look.clean.fixes.length > 0)
      return cleanPlate(
        plate,
        {
          contents: [],
          motion,
          ratio,
          frame,
          lens: document.lens,
          reference: document.corners!,
          referenceFrame: document.referenceFrame,
          look,
          usual: this.usual,
        },
        'final',
        this.plate.facts.colour,
      );
    this.filmed ??= await this.lookForClean('lit');
    const { filmed } = this;
    if (!motion || !filmed) return plate;
    const { exposure, motionBlur, feather, radius, mesh, front } = look;
    const { markers: _markers, ...kept } = front;
    return composeFrame(
      plate,
      {
        contents: [{ pyramid: filmed.pyramid }],
        motion,
        ratio,
        frame,
        lens: document.lens,
        reference: document.corners!,
        referenceFrame: document.referenceFrame,
        look: {
          ...NEUTRAL_LOOK,
          exposure,
          motionBlur,
          feather,
          radius,
          mesh,
          front: { ...kept, markers: [], keys: [], spill: null },
        },
      },
      'final',
      this.plate.facts.colour,
    );
  }

  private cardPyramid(): ContentPyramid {
    const { card } = this.planned.document;
    const wide = this.ratio >= 1 ? CARD_SIDE : Math.round(CARD_SIDE * this.ratio);
    const high = this.ratio >= 1 ? Math.round(CARD_SIDE / this.ratio) : CARD_SIDE;
    return (this.card ??= buildContentPyramid(testCard(wide, high, card), NEUTRAL_LEVELS));
  }

  private async lookForClean(kind: CleanKind): Promise<CleanSurface | null> {
    if (this.corners.size === 0) return null;
    const frames = [];
    for (const frame of cleanOn(kind, this.corners, this.planned.document.referenceFrame))
      frames.push({
        frame,
        picture: await this.picture(frame),
        quad: this.corners.get(frame)!,
        lens: this.planned.document.lens,
      });
    return cleanSurface(kind, frames, this.look, this.ratio, this.plate.facts.colour);
  }

  /** Some frames spread over those where the surface is known. */
  private async spreadFrames(): Promise<FrontFrame[]> {
    const frames: FrontFrame[] = [];
    for (const frame of framesToMeasure(
      [...this.corners.keys()].sort((a, b) => a - b),
      (f) => this.corners.get(f),
    ))
      frames.push({
        picture: await this.picture(frame),
        quad: this.corners.get(frame)!,
        lens: this.planned.document.lens,
      });
    return frames;
  }

  private async picture(frame: number): Promise<CodedPicture> {
    return pictureFromRaw(await this.plates.readRaw(frame), this.plate.facts.layout);
  }
}

/** Composes frames of a plan from the frame stores of plate and contents. */
export class PlanCompositor {
  private constructor(
    readonly plan: RenderPlan,
    private readonly plates: FrameStore,
    private readonly surfaces: readonly PlanSurface[],
    private readonly own: PlanSurface,
  ) {}

  static async open(plan: RenderPlan, folders: Parameters<typeof openFrames>[0]): Promise<PlanCompositor> {
    const store = (medium: PlannedMedium) => openFrames(folders, { ...medium, lut: null });
    const plates = store(plan.plate);
    const media: MediaFrames = {
      media: new Map(plan.media.map((medium) => [medium.id, medium])),
      store,
      plateRate: plan.plate.facts.rate,
    };
    const surfaces = plan.surfaces.map((surface) => new PlanSurface(surface, plan.plate, plates, media));
    for (const surface of surfaces) await surface.prepare();
    return new PlanCompositor(plan, plates, surfaces, surfaces[plan.surfaces.findIndex((surface) => surface.own)]!);
  }

  async plate(frame: number): Promise<CodedPicture> {
    return pictureFromRaw(await this.plates.readRaw(frame), this.plan.plate.facts.layout);
  }

  /** The finished picture; the plate as it is where there are no corners or nothing is shown. With `card`, a test card in place of the shot's own content. */
  async compose(
    plate: CodedPicture,
    frame: number,
    quality: Quality,
    { matte = false, card = false } = {},
  ): Promise<Composed> {
    const stack: StackedSurface[] = [];
    for (const surface of this.surfaces) {
      const there = await surface.on(frame, card && surface === this.own);
      if (there) stack.push(there);
    }
    return composeSurfaces(plate, stack, quality, this.plan.plate.facts.colour, matte);
  }

  cleaned(plate: CodedPicture, frame: number): Promise<CodedPicture> {
    return this.own.cleaned(plate, frame);
  }

  /** Where the shot's own surface is. */
  cornersOn(frame: number): Quad | null {
    return this.own.corners.get(frame) ?? null;
  }
}

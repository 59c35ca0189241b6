import { applyToPoints, compose, IDENTITY, invert, keepsInFront, type Homography } from '../geometry/homography.ts';
import { stiffer, type Motion } from '../geometry/motion-model.ts';
import { signedArea } from '../geometry/quad.ts';
import { buildPyramid } from '../image/pyramid.ts';
import type { Plane } from '../image/plane.ts';
import { kernels } from '../kernels/index.ts';
import { alignLevel, computeResiduals, createScratch, type LevelScratch, type Light, type PictureLevel } from './align-level.ts';
import { blurLength, blurTemplate, NO_MOTION, type FrameMotion } from './blurred-template.ts';
import { confidenceOf, measureFit, type FitQuality } from './fit-quality.ts';
import { fixedMask, regionMask, type KeepOut, type Region } from './region.ts';
import { residualScale } from './robust-weights.ts';
import { ShutterEstimate } from './shutter-estimate.ts';
import { buildTemplate, homographyAtLevel, homographyFromLevel, type Template, type TemplateFault, type TemplateLevel, type TemplateOptions } from './template.ts';
import { correlationAt, searchTranslation } from './translation-search.ts';

export interface FollowSettings {
  readonly motion: Motion;
  readonly regions: readonly Region[];
  readonly keepOut: readonly KeepOut[];
}

/** What became of one frame. */
export interface FrameFit {
  readonly frame: number;
  /** Reference pixels to this frame's; null when the frame could not be followed. */
  readonly homography: Homography | null;
  /** Misfit in px; see `FitQuality.error`. */
  readonly error: number;
  readonly confidence: number;
  /** Longest smear in the region over the shutter, px. */
  readonly blur: number;
  /** Why the frame is lost, as a sentence for a person. */
  readonly lost?: string;
}

/** Under this confidence a frame counts as lost. */
export const LOST_BELOW = 0.12;
/** Under this one the starting points are doubted and the wider neighbourhood is searched. */
const DOUBT_BELOW = 0.55;
/** Reach of the search around the prediction, px; grows with the number of frames lost. */
const SEARCH_REACH = 96;
const SEARCH_REACH_MAX = 320;
/** Smear worth a second pass with the velocity from both neighbours, px. */
const REFINE_FROM_BLUR = 1;

interface Attempt {
  homography: Homography;
  light: Light;
  quality: FitQuality;
  confidence: number;
  noise: number;
}

/** A picture prepared for registration. */
export interface PreparedPicture {
  readonly frame: number;
  readonly levels: readonly PictureLevel[];
}

/**
 * Registers frames to one reference frame, each starting from its neighbour, so that errors do not
 * add up. Holds the template and what has been found so far.
 */
export class PlanarFollower {
  readonly history = new Map<number, Homography>();
  private readonly template: Template;
  private readonly scratch: readonly LevelScratch[];
  private readonly fixed: { mask: Uint8Array; width: number } | null;
  private readonly shutter = new ShutterEstimate();
  private readonly lights = new Map<number, Light>();
  /** Residual spread of frames that fitted well; what normal noise looks like. */
  private noise = 0.012;

  private constructor(readonly referenceFrame: number, template: Template, private readonly settings: FollowSettings) {
    this.template = template;
    this.scratch = template.levels.map((level) => createScratch(level.count));
    const mask = fixedMask(template.width, template.height, settings.keepOut);
    this.fixed = mask && { mask, width: template.width };
    this.history.set(referenceFrame, IDENTITY);
  }

  /** Prepares a reference; a fault when the regions hold nothing to look at. */
  static create(referenceFrame: number, signal: Plane, settings: FollowSettings, options?: TemplateOptions): PlanarFollower | { fault: TemplateFault } {
    const mask = regionMask(signal.width, signal.height, settings.regions, settings.keepOut);
    const template = buildTemplate(signal, mask, options);
    return 'fault' in template ? template : new PlanarFollower(referenceFrame, template, settings);
  }

  /** How many points are looked at on the finest level. */
  get pointCount(): number {
    return this.template.levels[0]!.count;
  }

  prepare(frame: number, signal: Plane): PreparedPicture {
    const planes = buildPyramid(signal, this.template.levels.at(-1)!.level + 1);
    const levels = this.template.levels.map((level) => ({ plane: kernels().gradients(planes[level.level]!), allowed: this.fixed }));
    return { frame, levels };
  }

  /** The reference frame's own entry: the identity, with the fit it has with itself. */
  referenceFit(): FrameFit {
    return { frame: this.referenceFrame, homography: IDENTITY, error: 0, confidence: 1, blur: 0 };
  }

  /**
   * Follows into a frame from the side where frames are known already (`from` = −1: the earlier
   * neighbour, 1: the later one).
   */
  follow(picture: PreparedPicture, from: -1 | 1): FrameFit {
    const starts = this.startingPoints(picture.frame, from);
    const motionAt = this.motionFrom(picture.frame, from);
    const ranked = this.rank(starts.maps, picture, motionAt);
    let best = this.register(picture, ranked[0]!, motionAt, starts.light);
    if (best.confidence < DOUBT_BELOW || this.jumps(best.homography, starts.nearest)) {
      const reach = Math.min(SEARCH_REACH_MAX, SEARCH_REACH * starts.gap);
      const others = [...ranked.slice(1), ...ranked.slice(0, 2).map((start) => this.searchAround(picture, start, reach, motionAt))];
      for (const start of others) {
        if (best.confidence > 0.8 && !this.jumps(best.homography, starts.nearest)) break;
        const attempt = this.register(picture, start, motionAt, starts.light);
        if (attempt.confidence > best.confidence) best = attempt;
      }
    }
    if (best.confidence < LOST_BELOW || !keepsInFront(best.homography, this.finest.box)) {
      return { frame: picture.frame, homography: null, error: best.quality.error, confidence: best.confidence, blur: 0, lost: reasonFor(best.quality) };
    }
    this.accept(picture.frame, best);
    return this.fitOf(picture.frame, best, motionAt);
  }

  /**
   * Registers a frame once more, on the finest levels only, when both neighbours are known: the smear
   * then follows the true velocity through the frame's time, and the shutter's length is learnt.
   * Returns null when there is nothing to gain.
   */
  refine(picture: PreparedPicture, before: FrameFit): FrameFit | null {
    const h = this.history.get(picture.frame);
    const motionAt = this.motionBetween(picture.frame);
    if (!h || !motionAt || picture.frame === this.referenceFrame) return null;
    const fullFrameBlur = this.blurAt(h, motionAt, 1);
    if (fullFrameBlur < 2 * REFINE_FROM_BLUR) return null;
    if (fullFrameBlur > 4) this.learnShutter(picture, h, motionAt);
    const again = this.register(picture, h, motionAt, this.lights.get(picture.frame) ?? { gain: 1, offset: 0 }, 2);
    if (again.confidence < 0.9 * before.confidence) return null;
    this.accept(picture.frame, again);
    return this.fitOf(picture.frame, again, motionAt);
  }

  private get finest(): TemplateLevel {
    return this.template.levels[0]!;
  }

  private accept(frame: number, attempt: Attempt): void {
    this.history.set(frame, attempt.homography);
    this.lights.set(frame, attempt.light);
    if (attempt.confidence > 0.8) this.noise += 0.2 * (Math.min(0.05, attempt.noise) - this.noise);
  }

  private fitOf(frame: number, attempt: Attempt, motionAt: MotionAt): FrameFit {
    return {
      frame, homography: attempt.homography, error: attempt.quality.error, confidence: attempt.confidence,
      blur: this.blurAt(attempt.homography, motionAt, this.shutter.value),
    };
  }

  private blurAt(h: Homography, motionAt: MotionAt, shutter: number): number {
    const level = this.finest;
    return blurLength(level, motionAt(homographyAtLevel(h, level.level), level.level), shutter) * 2 ** level.level;
  }

  private startingPoints(frame: number, from: -1 | 1) {
    let gap = 1;
    while (!this.history.has(frame + from * gap)) {
      gap++;
      if (gap > 10_000) throw new Error(`no known frame on side ${from} of frame ${frame}`);
    }
    const nearestFrame = frame + from * gap;
    const nearest = this.history.get(nearestFrame)!;
    const further = this.history.get(nearestFrame + from);
    const maps = [nearest];
    const back = further && invert(further);
    // After a gap the old velocity is trusted for half a frame only.
    if (back && gap === 1) maps.unshift(compose(nearest, back, nearest));
    return { maps, nearest, gap, light: this.lights.get(nearestFrame) ?? { gain: 1, offset: 0 } };
  }

  private motionFrom(frame: number, from: -1 | 1): MotionAt {
    const neighbour = this.history.get(frame + from);
    const inverse = neighbour && invert(neighbour);
    if (!inverse) return () => NO_MOTION;
    return (h, level) => {
      const map = compose(homographyAtLevel(inverse, level), h);
      return from === -1 ? { back: map, ahead: null } : { back: null, ahead: map };
    };
  }

  private motionBetween(frame: number): MotionAt | null {
    const before = this.history.get(frame - 1);
    const after = this.history.get(frame + 1);
    const inverseBefore = before && invert(before);
    const inverseAfter = after && invert(after);
    if (!inverseBefore || !inverseAfter) return null;
    return (h, level) => ({
      back: compose(homographyAtLevel(inverseBefore, level), h),
      ahead: compose(homographyAtLevel(inverseAfter, level), h),
    });
  }

  /** Starting points by their correlation on a middle level, the best first. */
  private rank(maps: readonly Homography[], picture: PreparedPicture, motionAt: MotionAt): Homography[] {
    const index = Math.min(2, this.template.levels.length - 1);
    const level = this.template.levels[index]!;
    const s = this.scratch[index]!;
    const scored = maps.map((map) => {
      const h = homographyAtLevel(map, level.level);
      blurTemplate(level, motionAt(h, level.level), this.shutter.value, s.blurred);
      return { map, correlation: correlationAt(level, picture.levels[index]!, h, s) };
    });
    return scored.sort((a, b) => b.correlation - a.correlation).map((entry) => entry.map);
  }

  private searchAround(picture: PreparedPicture, start: Homography, reach: number, motionAt: MotionAt): Homography {
    const index = Math.min(3, this.template.levels.length - 1);
    const level = this.template.levels[index]!;
    const s = this.scratch[index]!;
    const h = homographyAtLevel(start, level.level);
    blurTemplate(level, motionAt(h, level.level), this.shutter.value, s.blurred);
    const found = searchTranslation(level, picture.levels[index]!, h, Math.ceil(reach / 2 ** level.level), s);
    return homographyFromLevel(found.homography, level.level);
  }

  /** Coarse to fine: stiff motion on coarse levels, the wanted one on the last three. */
  private register(picture: PreparedPicture, start: Homography, motionAt: MotionAt, startLight: Light, levelsUsed = Infinity): Attempt {
    let h = start;
    let light = startLight;
    const count = this.template.levels.length;
    for (let index = Math.min(count, levelsUsed) - 1; index >= 0; index--) {
      const level = this.template.levels[index]!;
      for (const motion of this.scheduleFor(index, levelsUsed)) {
        const result = alignLevel(level, picture.levels[index]!, homographyAtLevel(h, level.level), light, {
          motion, iterations: index === 0 ? 10 : 12, tolerance: index === 0 ? 0.008 : 0.03, stepLimit: 6,
          motionAt: (map) => motionAt(map, level.level), shutter: this.shutter.value,
        }, this.scratch[index]!);
        h = homographyFromLevel(result.homography, level.level);
        light = result.light;
      }
    }
    return this.assess(picture, h, light, motionAt);
  }

  private scheduleFor(index: number, levelsUsed: number): Motion[] {
    const wanted = this.settings.motion;
    if (index >= 4) return [stiffer(wanted, 'translation')];
    if (index === 3) return [stiffer(wanted, 'similarity')];
    const coarsest = index === this.template.levels.length - 1 && levelsUsed === Infinity;
    return coarsest ? [stiffer(wanted, 'translation'), stiffer(wanted, 'similarity'), wanted] : [wanted];
  }

  private assess(picture: PreparedPicture, h: Homography, light: Light, motionAt: MotionAt): Attempt {
    const level = this.finest;
    const s = this.scratch[0]!;
    const atLevel = homographyAtLevel(h, level.level);
    blurTemplate(level, motionAt(atLevel, level.level), this.shutter.value, s.blurred);
    const visible = computeResiduals(level, picture.levels[0]!, atLevel, light, s);
    const noise = residualScale(s.compact, visible);
    const quality = measureFit(level, atLevel, light.gain, noise, this.noise, s);
    return { homography: h, light, quality, noise, confidence: Number.isFinite(quality.error) ? confidenceOf(quality) : 0 };
  }

  /** True when the region would change its area or place more than a device in a hand does in a frame. */
  private jumps(h: Homography, nearest: Homography): boolean {
    const box = this.finest.box;
    if (!keepsInFront(h, box)) return true;
    const now = signedArea(applyToPoints(h, box)), before = signedArea(applyToPoints(nearest, box));
    const ratio = now / before;
    return !(ratio > 0.6 && ratio < 1.7);
  }

  private learnShutter(picture: PreparedPicture, h: Homography, motionAt: MotionAt): void {
    this.shutter.add(this.misfits(picture, h, motionAt, ShutterEstimate.TRIALS));
  }

  /** Mean squared residual of a frame with the template smeared over each of some shutter lengths (fractions of a frame). */
  private misfits(picture: PreparedPicture, h: Homography, motionAt: MotionAt, shutters: readonly number[]): number[] {
    const level = this.finest;
    const s = this.scratch[0]!;
    const atLevel = homographyAtLevel(h, level.level);
    const light = this.lights.get(picture.frame) ?? { gain: 1, offset: 0 };
    const limit = 4 * this.noise;
    return shutters.map((shutter) => {
      blurTemplate(level, motionAt(atLevel, level.level), shutter, s.blurred);
      const visible = computeResiduals(level, picture.levels[0]!, atLevel, light, s);
      let sum = 0;
      for (let i = 0; i < visible; i++) sum += Math.min(limit * limit, s.compact[i]! ** 2);
      return sum / Math.max(1, visible);
    });
  }

  /** How far the fastest corner of the regions moves during a followed frame, px; null where a neighbour is not known. */
  wayOf(frame: number): number | null {
    const h = this.history.get(frame);
    const motionAt = this.motionBetween(frame);
    return h && motionAt ? this.blurAt(h, motionAt, 1) : null;
  }

  /** How a frame with followed neighbours fits at each of some shutter lengths (fractions of a frame): mean squared residuals. */
  smearMisfits(picture: PreparedPicture, shutters: readonly number[]): number[] {
    const h = this.history.get(picture.frame);
    const motionAt = this.motionBetween(picture.frame);
    if (!h || !motionAt) throw new RangeError(`frame ${picture.frame} and its neighbours have not all been followed`);
    return this.misfits(picture, h, motionAt, shutters);
  }
}

type MotionAt = (h: Homography, level: number) => FrameMotion;

function reasonFor(quality: FitQuality): string {
  if (quality.visibility < 0.1) return 'almost all of the region is outside the picture';
  if (quality.agreement < 0.3) return `${Math.round(100 * (1 - quality.agreement))} % of the region disagrees with the reference: covered, or lit differently`;
  if (quality.correlation < 0.5) return 'the region no longer resembles the reference: too blurred, too dark or too small';
  return 'parts of the region pull in different directions';
}

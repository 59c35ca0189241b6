import { applyToPoints, compose, IDENTITY, keepsInFront, type Homography, type Point } from '../geometry/homography.ts';
import { stiffer, type Motion } from '../geometry/motion-model.ts';
import { signedArea } from '../geometry/quad.ts';
import { accumulatePieces, alignLevel, MEAN_MIX, computeResiduals, createScratch, type LevelScratch, type Light } from './align-level.ts';
import { blurLength, blurTemplate } from './blurred-template.ts';
import { certaintyFrom, cornerBound, cornerSpread, type Certainty } from './certainty.ts';
import { confidenceOf, trustOf } from './confidence.ts';
import { measureFit, type FitQuality } from './fit-quality.ts';
import { MotionHistory, type MotionAt } from './motion-history.ts';
import type { PictureLevels } from './picture-levels.ts';
import { regionMask, type KeepOut, type Region } from './region.ts';
import { correlationAt, searchRegion, type SearchRange } from './region-search.ts';
import { scaleFromHistogram, toleranceFromHistogram } from './robust-weights.ts';
import { addShapePrior, ShapeMemory, shapeBetween, sizeOfChange, type Neighbours, type ShapePrior } from './shape-prior.ts';
import { ShutterEstimate } from './shutter-estimate.ts';
import { TrustMap } from './trust-map.ts';
import { buildTemplate, homographyAtLevel, GROUP, homographyFromLevel, toLevel, type Template, type TemplateFault, type TemplateLevel, type TemplateOptions } from './template.ts';

export interface FollowSettings {
  readonly motion: Motion;
  readonly regions: readonly Region[];
  readonly keepOut: readonly KeepOut[];
  /** Corners of the screen on the reference frame: what lies inside may change or mirror something, and is watched apart. */
  readonly screen?: readonly Point[];
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
  /** What was listened to; absent on the reference and where the frame is lost. */
  readonly evidence?: Evidence;
  /** How sure the map is; absent on the reference itself and where the frame is lost. */
  readonly certainty?: Certainty;
  /** Why the frame is lost, as a sentence for a person. */
  readonly lost?: string;
}

/** Under this confidence a frame counts as lost. */
export const LOST_BELOW = 0.2;
/** Under this one the starting points are doubted and the wider neighbourhood is searched. */
const DOUBT_BELOW = 0.55;
/** Above this one nothing better is looked for. */
const SURE = 0.8;
/** What a place needs to be taken for the surface after a gap. */
const FOUND_AGAIN = 0.6;
/** The ring and the rest disagree from this on, px. */
const CONFLICT = 0.25;
/** A ring with less agreeing detail than this objects to the common motion. */
const RING_OBJECTS = 0.6;
/** On its own it must fit so much better than with the rest: where it can slide along its edges it does not. */
const RING_GAINS = 0.8;
/** Longest smear with which a ring that does not object is asked, px. */
const RING_UP_TO_BLUR = 5;
/** Longest smear with which a frame teaches what keeps to the motion, px. */
const TEACHES_UP_TO_BLUR = 3;
/** With less agreeing detail than this share of the usual, another place is looked for. */
const USUAL_SHARE = 0.75;
/** Residuals that spread so many times as wide as usual make one look elsewhere, too. */
const UNUSUAL_NOISE = 2;
/** So many frames must the inside agree before it is listened to again. */
const AGREES_AGAIN = 6;
/** Levels, the finest first, on which a frame is looked for where it is expected. */
const EXPECTED_LEVELS = 3;
/** Residual spread of an ordinary plate, signal. */
const USUAL_NOISE = 0.012;
/** Reach of the search around the prediction, px; grows with the number of frames lost. */
const SEARCH_REACH = 96;
const SEARCH_REACH_MAX = 320;
/** Smear, px, and residuals, times the usual, from which on the smear's length is chosen anew; the lengths tried. */
const REBLUR_FROM = 4, REBLUR_FROM_NOISE = 1.3, SMEARS = [0.2, 0.4, 0.6, 0.8, 1, 1.25, 1.5];
/** Smear worth a second pass with the velocity from both neighbours, px. */
const REFINE_FROM_BLUR = 1;

/** What is listened to: all points of the region, or only those of the ring around the screen. */
export type Evidence = 'all' | 'ring';

interface Attempt {
  homography: Homography;
  light: Light;
  /** The smear's length as a share of what the shutter and the neighbours say. */
  smear: number;
  evidence: Evidence;
  quality: FitQuality;
  /** Whether it is the surface at all, 0…1. */
  trust: number;
  /** Greatest bound at the region's corners, px. */
  bound: number;
  confidence: number;
  noise: number;
  certainty: Certainty | null;
}

/** A frame in work: its picture, how the reference moves under it, and what is known of its neighbours. */
interface Task extends Neighbours {
  readonly picture: PreparedPicture;
  readonly motionAt: MotionAt;
}

/** A picture prepared for registration. */
export interface PreparedPicture {
  readonly frame: number;
  readonly levels: PictureLevels;
}

/**
 * Registers frames to one reference frame, each starting from its neighbour, so that errors do not
 * add up. Holds the template and what has been found so far.
 */
export class PlanarFollower {
  readonly history: MotionHistory;
  private readonly trust: TrustMap;
  private readonly shape: ShapeMemory;
  private readonly scratch: readonly LevelScratch[];
  private readonly shutter = new ShutterEstimate();
  /** Residual spread of frames that fitted well; what normal noise looks like. */
  private noise = USUAL_NOISE;
  /** The share of detail that agreed on the last frames. */
  private usualDetail = 1;
  private evidence: Evidence = 'all';
  /** Frames in a row on which the inside agreed with the ring again. */
  private agreeing = 0;
  /** How often the inside has been found to go its own way. */
  private conflicts = 0;

  private constructor(readonly referenceFrame: number, private readonly template: Template, reference: PictureLevels, private readonly settings: FollowSettings) {
    this.scratch = template.levels.map((level) => createScratch(reference.set, level));
    this.history = new MotionHistory(referenceFrame);
    this.trust = new TrustMap(template);
    this.shape = new ShapeMemory(this.toUnit);
  }

  /** Prepares a reference; a fault when the regions hold nothing to look at. */
  static create(referenceFrame: number, reference: PictureLevels, settings: FollowSettings, options?: TemplateOptions): PlanarFollower | { fault: TemplateFault } {
    const mask = regionMask(reference.width, reference.height, settings.regions, settings.keepOut, settings.screen);
    const template = buildTemplate(reference, mask, options);
    return 'fault' in template ? template : new PlanarFollower(referenceFrame, template, reference, settings);
  }

  /** How many points are looked at on the finest level. */
  get pointCount(): number {
    return this.finest.chosen;
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
    const { maps, nearest, nearestFrame, gap } = this.history.expect(picture.frame, from);
    const motionAt = this.history.motionFrom(picture.frame, from), light = this.history.lightOf(nearestFrame);
    const task: Task = { picture, motionAt, earlier: this.history.run(nearestFrame, from, 5), gap };
    const known = this.history.maps.get(picture.frame);
    if (known) maps.push(known);
    const good = (attempt: Attempt, limit: number) =>
      attempt.confidence * this.quietness(attempt) >= limit && attempt.quality.detail >= USUAL_SHARE * this.usualDetail && !this.jumps(attempt.homography, nearest, gap);
    const ranked = this.rank(maps, picture, motionAt);
    // Where it goes on as expected, coarse levels could only be led astray by what else is in their wide samples.
    const attemptFrom = (start: Homography, levels?: number) => this.believed(this.register(task, start, light, levels), maps, gap);
    let best = attemptFrom(ranked[0]!, EXPECTED_LEVELS);
    const take = (start: Homography) => {
      const attempt = attemptFrom(start);
      if (this.jumps(attempt.homography, nearest, gap)) return;
      if (this.scoreOf(attempt) > this.scoreOf(best) || this.jumps(best.homography, nearest, gap)) best = attempt;
    };
    if (!good(best, SURE)) for (const start of ranked) take(start);
    if (!good(best, DOUBT_BELOW)) {
      const reach = Math.min(SEARCH_REACH_MAX, SEARCH_REACH * gap);
      const near = { reach, turns: [0], scales: [1] }, turned = { reach: 1.5 * reach, turns: TURNS, scales: [0.85, 1, 1.18] };
      // Long lost, it may be anywhere, but hardly upside down.
      const anywhere = { reach: Infinity, turns: gap > 1 ? TURNS.slice(0, 3).concat(TURNS.slice(-2)) : TURNS, scales: [0.8, 1, 1.25] };
      for (const start of this.search(picture, ranked[0]!, near, 2, motionAt)) if (!good(best, SURE)) take(start);
      if (!good(best, DOUBT_BELOW) && gap <= 2) for (const start of this.search(picture, nearest, turned, 3, motionAt)) if (!good(best, SURE)) take(start);
      if (!(best.confidence >= 0.3) || this.jumps(best.homography, nearest, gap)) for (const start of this.search(picture, nearest, anywhere, 4, motionAt)) if (!good(best, SURE)) take(start);
    }
    best = this.believed(this.listenToRing(task, best, ranked), maps, gap);
    // Among many places looked at after a gap some resemble the region by chance.
    const needed = gap > 1 ? FOUND_AGAIN : LOST_BELOW;
    if (!(best.confidence >= needed) || this.jumps(best.homography, nearest, gap)) {
      return { frame: picture.frame, homography: null, error: best.quality.error, confidence: Math.min(best.confidence, LOST_BELOW), blur: 0, lost: reasonFor(best.quality) };
    }
    if (gap > 1) this.shape.forget();
    else if (best.confidence >= SURE) this.shape.learn(best.homography, task.earlier);
    this.accept(picture.frame, best);
    const fit = this.fitOf(picture.frame, best, motionAt);
    this.remember(picture, best, motionAt, fit.blur);
    return fit;
  }

  /** Below 1 where the residuals are much wilder than they have been: another place may fit better. */
  private quietness(attempt: Attempt): number {
    return Math.min(1, (UNUSUAL_NOISE * this.noise) / attempt.noise);
  }

  /** Which of two attempts is believed. */
  private scoreOf(attempt: Attempt): number {
    return attempt.confidence * attempt.quality.detail * this.quietness(attempt);
  }

  /** An attempt, doubted where the surface's shape would change more than surfaces do in so many frames. */
  private believed(attempt: Attempt, expected: readonly Homography[], frames: number): Attempt {
    const surprise = Math.min(...expected.map((map) => {
      const change = shapeBetween(map, attempt.homography, this.toUnit);
      return change ? sizeOfChange(change, ORDINARY) : Infinity;
    })) / Math.min(4, frames);
    const share = Math.min(1, Math.max(0, (1 / surprise - 1 / AMAZING) / (1 / SURPRISING - 1 / AMAZING)));
    return { ...attempt, confidence: confidenceOf(attempt.trust * share, attempt.bound) };
  }

  /**
   * Where the inside of the screen pulls the common motion away from the ring around it (a reflection, a picture that
   * scrolls), the ring is followed alone, until the inside moves with it again.
   */
  private listenToRing(task: Task, attempt: Attempt, starts: readonly Homography[]): Attempt {
    if (!this.template.hasInside) return attempt;
    if (this.evidence === 'all') {
      // Smeared rings say little; they are asked only when they object.
      if (!(attempt.quality.ringDetail < RING_OBJECTS) && this.blurAt(attempt.homography, task.motionAt, this.shutter.value) > RING_UP_TO_BLUR) return attempt;
      this.listenTo('ring');
      const alone = [this.register(task, attempt.homography, attempt.light, attempt.quality.ringDetail < RING_OBJECTS ? 3 : 1)];
      if (attempt.quality.ringDetail < RING_OBJECTS) alone.push(...starts.map((start) => this.register(task, start, attempt.light)));
      const best = alone.reduce((a, b) => (b.confidence > a.confidence ? b : a));
      if (best.confidence >= SURE && best.quality.ringMisfit < RING_GAINS * attempt.quality.ringMisfit && this.apart(best, attempt) > 1) {
        this.agreeing = 0;
        this.conflicts++;
        return best;
      }
      this.listenTo('all');
      return attempt;
    }
    if (attempt.confidence < LOST_BELOW) {
      // The ring alone has nothing to hold on to here; the inside may.
      this.listenTo('all');
      const all = [attempt.homography, ...starts].map((start) => this.register(task, start, attempt.light)).reduce((a, b) => (b.confidence > a.confidence ? b : a));
      if (all.confidence >= DOUBT_BELOW) return all;
      this.listenTo('ring');
      return attempt;
    }
    this.agreeing = attempt.confidence >= SURE && this.insideAgrees(task, attempt) ? this.agreeing + 1 : 0;
    if (this.agreeing >= AGREES_AGAIN * 2 ** this.conflicts) this.listenTo('all');
    return attempt;
  }

  private listenTo(evidence: Evidence): void {
    this.evidence = evidence;
    for (const { prior, chosenPrior, pieceStarts } of this.template.levels) {
      prior.set(chosenPrior);
      if (evidence === 'ring') prior.fill(0, pieceStarts[GROUP]);
    }
    this.trust.weigh((level) => level.prior);
  }

  /** Whether all points, solved together from where the ring is, stay there. */
  private insideAgrees(task: Task, ring: Attempt): boolean {
    this.listenTo('all');
    const all = this.register(task, ring.homography, ring.light, 1);
    this.listenTo('ring');
    return all.trust > 0.8 && all.quality.detail > RING_OBJECTS && all.quality.ringDetail > RING_OBJECTS && this.apart(ring, all) < 0.6;
  }

  /**
   * Registers a frame once more, on the finest levels only, when the neighbour on the side `after` is known, too: the
   * smear then follows the true way through the frame's time, and the shutter's length is learnt.
   * Returns null when there is nothing to gain.
   */
  refine(picture: PreparedPicture, before: FrameFit, after: -1 | 1): FrameFit | null {
    const h = this.history.maps.get(picture.frame);
    const between = this.history.motionBetween(picture.frame);
    const motionAt = between ?? this.history.motionFrom(picture.frame, after);
    if (!h || picture.frame === this.referenceFrame) return null;
    const earlier = this.history.run(picture.frame - after, -after as -1 | 1, 5);
    const task: Task = { picture, motionAt, earlier, gap: 1, later: this.history.maps.get(picture.frame + after) };
    const fullFrameBlur = this.blurAt(h, motionAt, 1);
    if (fullFrameBlur < 2 * REFINE_FROM_BLUR) return null;
    if (between && fullFrameBlur > 4) this.learnShutter(picture, h, motionAt);
    const again = this.register(task, h, this.history.lightOf(picture.frame), between ? 2 : 3);
    if (again.confidence < 0.9 * before.confidence || this.jumps(again.homography, h, 1)) return null;
    this.accept(picture.frame, again);
    return this.fitOf(picture.frame, again, motionAt);
  }

  private get finest(): TemplateLevel {
    return this.template.levels[0]!;
  }

  /** Corners of the region's bounding box in full reference pixels. */
  private get cornersOfRegion() {
    return applyToPoints(fromLevel(this.finest.level), this.finest.box);
  }

  private accept(frame: number, attempt: Attempt): void {
    this.history.maps.set(frame, attempt.homography);
    this.history.lights.set(frame, attempt.light);
    if (attempt.confidence > LOST_BELOW) this.usualDetail += 0.2 * (attempt.quality.detail - this.usualDetail);
    if (attempt.confidence > 0.8) this.noise += 0.2 * (Math.min(0.05, attempt.noise) - this.noise);
  }

  /** Learns which squares keep to the motion, from frames that are sure and not much smeared. */
  private remember(picture: PreparedPicture, attempt: Attempt, motionAt: MotionAt, blur: number): void {
    if (attempt.confidence < SURE || blur > TEACHES_UP_TO_BLUR) return;
    this.assess(picture, attempt.homography, attempt.light, motionAt, null, attempt.smear);
    this.trust.learn(this.finest, this.scratch[0]!, attempt.light.gain, Math.max(attempt.noise, 0.5 * this.noise));
    this.listenTo(this.evidence);
  }

  private fitOf(frame: number, attempt: Attempt, motionAt: MotionAt): FrameFit {
    return {
      frame, homography: attempt.homography, error: attempt.quality.error, confidence: attempt.confidence, evidence: attempt.evidence,
      blur: this.blurAt(attempt.homography, motionAt, attempt.smear * this.shutter.value), ...(attempt.certainty ? { certainty: attempt.certainty } : {}),
    };
  }

  private blurAt(h: Homography, motionAt: MotionAt, shutter: number): number {
    const level = this.finest;
    return blurLength(level, motionAt(homographyAtLevel(h, level.level), level.level), shutter) * 2 ** level.level;
  }

  /** Starting points by their correlation on a middle level, the best first. */
  private rank(maps: readonly Homography[], picture: PreparedPicture, motionAt: MotionAt): Homography[] {
    const index = Math.min(2, this.template.levels.length - 1);
    const level = this.template.levels[index]!, s = this.scratch[index]!;
    const scored = maps.map((map) => {
      const h = homographyAtLevel(map, level.level);
      blurTemplate(picture.levels.set, level, h, motionAt(h, level.level), this.shutter.value, s.blurred);
      return { map, correlation: correlationAt(level, picture.levels, h, s) };
    });
    return scored.sort((a, b) => b.correlation - a.correlation).map((entry) => entry.map);
  }

  /** Places in the neighbourhood of `start` (reach in px) that resemble the region, the best first. */
  private search(picture: PreparedPicture, start: Homography, range: SearchRange, most: number, motionAt: MotionAt): Homography[] {
    const wide = range.turns.length > 1;
    const index = Math.min(wide ? 4 : 3, this.template.levels.length - 1);
    const level = this.template.levels[index]!, s = this.scratch[index]!;
    const h = homographyAtLevel(start, level.level);
    blurTemplate(picture.levels.set, level, h, motionAt(h, level.level), this.shutter.value, s.blurred);
    const found = searchRegion(level, picture.levels, h, { ...range, reach: Math.ceil(range.reach / 2 ** level.level) }, most, s);
    return found.map((candidate) => homographyFromLevel(candidate.homography, level.level));
  }

  /**
   * Coarse to fine: stiff motion on coarse levels, the wanted one on the last three. From one side only, the speed at the
   * frame itself is a guess: where the residuals stay wild, the smear's length is chosen anew.
   */
  private register(task: Task, start: Homography, startLight: Light, levelsUsed = Infinity): Attempt {
    const prior = this.shape.expect(start, task);
    const first = this.align(task, start, startLight, prior, levelsUsed, 1);
    if (first.noise < REBLUR_FROM_NOISE * this.noise || this.blurAt(first.homography, task.motionAt, this.shutter.value) < REBLUR_FROM) return first;
    const misfits = this.misfits(task.picture, first.homography, task.motionAt, SMEARS.map((smear) => smear * this.shutter.value), first.light);
    const smear = SMEARS[misfits.indexOf(Math.min(...misfits))]!;
    if (smear === 1) return first;
    const again = this.align(task, first.homography, first.light, prior, task.later ? 2 : 3, smear);
    return again.noise < first.noise ? again : first;
  }

  private align(task: Task, start: Homography, startLight: Light, prior: ShapePrior, levelsUsed: number, smear: number): Attempt {
    const { picture, motionAt } = task, shutter = smear * this.shutter.value;
    let h = start;
    let light = startLight;
    const gains = [Math.max(LEAST_GAIN, startLight.gain / GAIN_CHANGE), Math.min(MOST_GAIN, startLight.gain * GAIN_CHANGE)] as const;
    const count = this.template.levels.length;
    for (let index = Math.min(count, levelsUsed) - 1; index >= 0; index--) {
      const level = this.template.levels[index]!;
      for (const motion of this.scheduleFor(index, levelsUsed)) {
        const result = alignLevel(level, picture.levels, homographyAtLevel(h, level.level), light, {
          motion, iterations: index === 0 ? 14 : 12, tolerance: index === 0 ? 0.003 : 0.03, stepLimit: 6, gains,
          motionAt: (map) => motionAt(map, level.level), shutter, expected: priorAtLevel(prior, level.level),
        }, this.scratch[index]!);
        h = homographyFromLevel(result.homography, level.level);
        light = result.light;
      }
    }
    return this.assess(picture, h, light, motionAt, prior, smear);
  }

  private scheduleFor(index: number, levelsUsed: number): Motion[] {
    const wanted = this.settings.motion;
    if (index >= 4) return [stiffer(wanted, 'translation')];
    if (index === 3) return [stiffer(wanted, 'similarity')];
    const coarsest = index === this.template.levels.length - 1 && levelsUsed === Infinity;
    return coarsest ? [stiffer(wanted, 'translation'), stiffer(wanted, 'similarity'), wanted] : [wanted];
  }

  private assess(picture: PreparedPicture, h: Homography, light: Light, motionAt: MotionAt, prior: ShapePrior | null, smear: number): Attempt {
    const level = this.finest, s = this.scratch[0]!, { motion } = this.settings;
    const atLevel = homographyAtLevel(h, level.level);
    blurTemplate(picture.levels.set, level, atLevel, motionAt(atLevel, level.level), smear * this.shutter.value, s.blurred);
    const visible = computeResiduals(level, picture.levels, atLevel, light, s);
    const noise = scaleFromHistogram(s.histogram, visible), scale = Math.max(noise, this.noise);
    accumulatePieces(picture.levels.set, level, light.gain, scale, toleranceFromHistogram(s.histogram), MEAN_MIX, true, s);
    const quality = measureFit(level, atLevel, light.gain, noise, this.noise, s);
    const solved = certaintyFrom(motion, s.pieces, scale, this.toUnit, (total) => addShapePrior(total, prior && priorAtLevel(prior, level.level), atLevel, level, scale));
    const corners = this.cornersOfRegion, inFront = keepsInFront(h, corners);
    const bound = solved && inFront ? Math.max(...corners.map((c) => cornerBound(solved.certainty, h, c))) : Infinity;
    const trust = trustOf(quality, noise / Math.max(this.noise, USUAL_NOISE));
    return {
      homography: h, light, smear, evidence: this.evidence, quality, noise, trust, bound, certainty: solved?.certainty ?? null, confidence: confidenceOf(trust, bound),
    };
  }

  /** How far two maps put the region's corners apart, in units of what counts as a conflict. */
  private apart(a: Attempt, b: Attempt): number {
    const corners = this.cornersOfRegion, at = applyToPoints(a.homography, corners), bt = applyToPoints(b.homography, corners);
    return Math.max(...corners.map((c, i) => Math.hypot(at[i]![0] - bt[i]![0], at[i]![1] - bt[i]![1]) / Math.max(CONFLICT, 1.5 * cornerSpread(a.certainty!, a.homography, c))));
  }

  /** Continuous reference pixels to the region's unit coordinates. */
  private get toUnit(): Homography {
    return compose(this.finest.toUnit, toLevel(this.finest.level));
  }

  /** True when the region would change its area, or shrink to nothing, more than a device in a hand does in so many frames. */
  private jumps(h: Homography, nearest: Homography, frames: number): boolean {
    const box = this.cornersOfRegion;
    if (!keepsInFront(h, box) || h.some((v) => !Number.isFinite(v))) return true;
    const mapped = applyToPoints(h, box), now = signedArea(mapped), ratio = now / signedArea(applyToPoints(nearest, box));
    const limit = Math.min(6, 1.7 ** Math.min(frames, 4)), whole = signedArea(box);
    const turns = mapped.map((p, i) => turnAt(p, mapped[(i + 1) % 4]!, mapped[(i + 2) % 4]!));
    return !(ratio > 1 / limit && ratio < limit && now / whole > 0.01 && now / whole < 100) || !turns.every((t) => t > 0);
  }

  private learnShutter(picture: PreparedPicture, h: Homography, motionAt: MotionAt): void {
    this.shutter.add(this.misfits(picture, h, motionAt, ShutterEstimate.TRIALS));
  }

  /** Mean squared residual of a frame with the template smeared over each of some shutter lengths (fractions of a frame). */
  private misfits(picture: PreparedPicture, h: Homography, motionAt: MotionAt, shutters: readonly number[], light = this.history.lightOf(picture.frame)): number[] {
    const level = this.finest, s = this.scratch[0]!, { count } = level;
    const atLevel = homographyAtLevel(h, level.level);
    const limit = (4 * this.noise) ** 2;
    return shutters.map((shutter) => {
      blurTemplate(picture.levels.set, level, atLevel, motionAt(atLevel, level.level), shutter, s.blurred);
      const visible = computeResiduals(level, picture.levels, atLevel, light, s);
      let sum = 0;
      for (let i = 0; i < count; i++) sum += Math.min(limit, s.sampled[i]! ** 2);
      return sum / Math.max(1, visible);
    });
  }

  /** How far the fastest corner of the regions moves during a followed frame, px; null where a neighbour is not known. */
  wayOf(frame: number): number | null {
    const h = this.history.maps.get(frame);
    const motionAt = this.history.motionBetween(frame);
    return h && motionAt ? this.blurAt(h, motionAt, 1) : null;
  }

  /** How a frame with followed neighbours fits at each of some shutter lengths (fractions of a frame): mean squared residuals. */
  smearMisfits(picture: PreparedPicture, shutters: readonly number[]): number[] {
    const h = this.history.maps.get(picture.frame);
    const motionAt = this.history.motionBetween(picture.frame);
    if (!h || !motionAt) throw new RangeError(`frame ${picture.frame} and its neighbours have not all been followed`);
    return this.misfits(picture, h, motionAt, shutters);
  }
}

/** Light between reference and picture: not less or more than this, and not another by more than this factor from one frame to the next. */
const LEAST_GAIN = 0.1, MOST_GAIN = 8, GAIN_CHANGE = 1.5;

/** How much a surface's shape changes beyond expectation in a frame, even when it is thrown. */
const ORDINARY = { shape: 0.04, perspective: 0.02 };
/** Changes of shape, in units of that, that begin to be doubted, and that are not believed. */
const SURPRISING = 1.2, AMAZING = 3;

/** Twice the area of a triangle, positive when it runs clockwise on the picture. */
function turnAt(a: Point, b: Point, c: Point): number {
  return (b[0] - a[0]) * (c[1] - b[1]) - (b[1] - a[1]) * (c[0] - b[0]);
}

/** Turns that a wide search tries, radians: all round by 15°. */
const TURNS = Array.from({ length: 24 }, (_, i) => ((i <= 12 ? i : i - 24) * Math.PI) / 12);

function priorAtLevel({ expected, tolerance }: ShapePrior, level: number): ShapePrior {
  return { expected: homographyAtLevel(expected, level), tolerance };
}

function fromLevel(level: number): Homography {
  const s = 2 ** level;
  return [s, 0, 0.5, 0, s, 0.5, 0, 0, 1];
}

function reasonFor(quality: FitQuality): string {
  if (quality.visibility < 0.1) return 'almost all of the region is outside the picture';
  if (quality.detail < 0.4) return `${Math.round(100 * (1 - quality.detail))} % of the region disagrees with the reference: covered, or lit differently`;
  if (quality.correlation < 0.5) return 'the region no longer resembles the reference: too blurred, too dark or too small';
  return 'parts of the region pull in different directions';
}

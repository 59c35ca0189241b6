import { applyToPoints, compose, keepsInFront, type Homography, type Point } from '../../base/geometry/homography.ts';
import { stiffer, warpFromParameters, type Motion } from '../../base/geometry/motion-model.ts';
import {
  accumulatePieces,
  alignLevel,
  computeResiduals,
  createScratch,
  MEAN_MIX,
  type LevelScratch,
  type Light,
} from './align-level.ts';
import { blurLength, blurTemplate } from './motion-blurred-template.ts';
import { certaintyFrom, cornerBound, cornerSpread, widened, type Certainty } from './certainty.ts';
import { confidenceOf, trustOf } from './confidence.ts';
import { betterLight } from './frame-light.ts';
import { measureFit, type FitQuality } from './fit-quality.ts';
import type { MotionAt } from './motion-history.ts';
import type { PictureLevels } from './image-pyramid.ts';
import { correlationAt, searchRegion, type SearchRange } from './region-search.ts';
import { scaleFromHistogram, toleranceFromHistogram } from './robust-weights.ts';
import { addPosePrior, PoseMemory, possible, stretchDerivatives, surpriseOf } from './pose-memory.ts';
import { addShapePrior, ShapeMemory, type Neighbours, type ShapePrior } from './shape-prior.ts';
import { ShutterEstimate } from './shutter-estimate.ts';
import {
  GROUP,
  homographyAtLevel,
  homographyFromLevel,
  toLevel,
  type Template,
  type TemplateLevel,
} from './template.ts';
import type { KernelSet } from '../../base/kernels/index.ts';

/** A frame in work: its picture, how the reference moves under it, and what is known of its neighbours. */
export interface Task extends Neighbours {
  readonly picture: PreparedPicture;
  readonly motionAt: MotionAt;
}

/** A picture prepared for registration. */
export interface PreparedPicture {
  readonly frame: number;
  readonly levels: PictureLevels;
}

/** A map that a frame was registered by, and what speaks for it. */
export interface Attempt {
  homography: Homography;
  light: Light;
  /** The smear's length as a share of what the shutter and the neighbours say. */
  smear: number;
  quality: FitQuality;
  /** How far it is from what one plane seen by one camera can do, standard deviations. */
  surprise: number;
  /** Whether it is the surface at all, 0…1. */
  trust: number;
  /** Greatest bound at the region's corners, px. */
  bound: number;
  confidence: number;
  noise: number;
  certainty: Certainty | null;
}

/**
 * How the shape is dealt with: as the picture says (within what is expected); only once place, turn and size are found
 * on the finest level, so that coarse levels don't lead it astray; or never against what one camera sees of one plane.
 */
export type Way = 'free' | 'shape-last' | 'rigid';

/** Residual spread of an ordinary plate, signal. */
const USUAL_NOISE = 0.012;
/** Smear, px, and residuals, times the usual, from which on the smear's length is chosen anew; the lengths tried. */
const REBLUR_FROM = 4;
const REBLUR_FROM_NOISE = 1.3;
const SMEARS = [0.2, 0.4, 0.6, 0.8, 1, 1.25, 1.5];
/** Light between reference and picture: not less or more than this, and not another by more than this factor from one frame to the next. */
const LEAST_GAIN = 0.1;
const MOST_GAIN = 8;
const GAIN_CHANGE = 1.5;

/** The level on which a search gives places up. */
const HOPELESS_AT = 2;

/** Rounds in which the light of a frame settles. */
const LIGHT_ROUNDS = 5;

/** On a level where the smear is longer than so many samples, twice it, the next coarser one tells as much. */
const SMEAR_WORTH = 7;
/** By how much of itself a bound widens where nothing agrees along a border of the region: what does agree there may be something else. */
const SIDE_MISSING = 1;
/** Two maps are in conflict from this on, px. */
const CONFLICT = 0.25;

/**
 * Registers pictures to the template of a reference: coarse to fine, with the smear that the motion makes, and tells how
 * well it went. Holds what normal looks like so far: noise, the shutter, changes of shape.
 */
export class Registration {
  readonly shape: ShapeMemory;
  /** Null for motions that are not a camera's view of a plane. */
  readonly pose: PoseMemory | null;
  readonly shutter = new ShutterEstimate();
  /** Residual spread of frames that fitted well; what normal noise looks like. */
  noise = USUAL_NOISE;
  readonly scratch: readonly LevelScratch[];
  /** The map whose residuals are left in `scratch[0]`. */
  assessed: Homography | null = null;

  constructor(
    set: KernelSet,
    private readonly template: Template,
    private readonly motion: Motion,
    rectangle?: readonly Point[],
  ) {
    this.scratch = template.levels.map((level) => createScratch(set, level));
    this.shape = new ShapeMemory(this.toUnit);
    this.pose = motion === 'perspective' ? new PoseMemory(template.width, template.height, rectangle) : null;
  }

  get finest(): TemplateLevel {
    return this.template.levels[0]!;
  }

  /** Corners of the region's bounding box in full reference pixels. */
  get cornersOfRegion(): [number, number][] {
    return applyToPoints(fromLevel(this.finest.level), this.finest.box);
  }

  /** Continuous reference pixels to the region's unit coordinates. */
  get toUnit(): Homography {
    return compose(this.finest.toUnit, toLevel(this.finest.level));
  }

  /**
   * Coarse to fine: stiff motion on coarse levels, the wanted one on the last three. From one side only, the speed at the
   * frame itself is a guess: where the residuals stay wild, the smear's length is chosen anew.
   */
  register(task: Task, start: Homography, startLight: Light, levelsUsed = Infinity, way: Way = 'free'): Attempt {
    const prior = this.shape.expect(start, task);
    const first = this.align(task, start, startLight, prior, levelsUsed, 1, way);
    if (
      first.noise < REBLUR_FROM_NOISE * this.noise ||
      this.blurAt(first.homography, task.motionAt, this.shutter.value) < REBLUR_FROM
    )
      return first;
    const misfits = this.misfits(
      task.picture,
      first.homography,
      task.motionAt,
      SMEARS.map((smear) => smear * this.shutter.value),
      first.light,
      this.finestUseful(first.homography, task.motionAt, this.shutter.value),
    );
    const smear = SMEARS[misfits.indexOf(Math.min(...misfits))]!;
    if (smear === 1) return first;
    const again = this.align(
      task,
      first.homography,
      first.light,
      prior,
      task.later ? 2 : 3,
      smear,
      way === 'rigid' ? way : 'free',
    );
    return again.noise < first.noise ? again : first;
  }

  /** How well a map fits as it is, under the light in which it fits best. */
  asItIs(task: Task, h: Homography): Attempt {
    const { picture, motionAt } = task;
    const level = this.finest;
    const s = this.scratch[0]!;
    const atLevel = homographyAtLevel(h, level.level);
    let light: Light = { gain: 1, offset: 0 };
    blurTemplate(picture.levels.set, level, atLevel, motionAt(atLevel, level.level), this.shutter.value, s.blurred);
    for (let round = 0; round < LIGHT_ROUNDS; round++)
      light = betterLight(level, s, light, computeResiduals(level, picture.levels, atLevel, light, s));
    return this.assess(picture, h, light, motionAt, this.shape.expect(h, task), 1);
  }

  private align(
    task: Task,
    start: Homography,
    startLight: Light,
    prior: ShapePrior,
    levelsUsed: number,
    smear: number,
    way: Way = 'free',
  ): Attempt {
    const { picture, motionAt } = task;
    const shutter = smear * this.shutter.value;
    const pose = (way === 'rigid' ? this.pose?.rigid(start) : this.pose?.expect(start)) ?? null;
    let h = start;
    let light = startLight;
    const gains = [
      Math.max(LEAST_GAIN, startLight.gain / GAIN_CHANGE),
      Math.min(MOST_GAIN, startLight.gain * GAIN_CHANGE),
    ] as const;
    const count = this.template.levels.length;
    let left: number | undefined;
    const finest = this.finestUseful(start, motionAt, shutter);
    const coarsest = Math.max(finest, Math.min(count, levelsUsed) - 1);
    for (let index = coarsest; index >= finest; index--) {
      const level = this.template.levels[index]!;
      for (const motion of way === 'shape-last'
        ? this.shapeLastSchedule(index, finest)
        : this.scheduleFor(index, levelsUsed)) {
        const result = alignLevel(
          level,
          picture.levels,
          homographyAtLevel(h, level.level),
          light,
          {
            motion,
            iterations: index === 0 ? 14 : 12,
            tolerance: index === 0 ? 0.006 : 0.05,
            stepLimit: 6,
            gains,
            motionAt: (map) => motionAt(map, level.level),
            shutter,
            expected: priorAtLevel(prior, level.level),
            pose,
            redescendFrom: index < coarsest || levelsUsed === 1 ? 1 : 2,
          },
          this.scratch[index]!,
        );
        h = homographyFromLevel(result.homography, level.level);
        light = result.light;
        left = index === 0 && result.settled ? result.visible : undefined;
      }
      // Of the many places that a search tries most are seen to be wrong before the levels that cost.
      if (index === HOPELESS_AT && levelsUsed === Infinity) {
        const hopeless = this.hopelessAt(index, picture, h, light, smear);
        if (hopeless) return hopeless;
      }
    }
    return this.assess(picture, h, light, motionAt, prior, smear, left);
  }

  /** An attempt that is given up on a middle level, because nothing there resembles the region; null where something does. */
  private hopelessAt(
    index: number,
    { levels }: PreparedPicture,
    h: Homography,
    light: Light,
    smear: number,
  ): Attempt | null {
    const level = this.template.levels[index]!;
    const s = this.scratch[index]!;
    const atLevel = homographyAtLevel(h, level.level);
    const visible = computeResiduals(level, levels, atLevel, light, s);
    const noise = scaleFromHistogram(s.histogram, visible);
    const quality = measureFit(level, atLevel, light.gain, noise, this.noise, s);
    const trust = trustOf(quality, noise / Math.max(this.noise, USUAL_NOISE));
    return trust > 0
      ? null
      : {
          homography: h,
          light,
          smear,
          quality,
          noise,
          trust,
          surprise: 0,
          bound: Infinity,
          certainty: null,
          confidence: 0,
        };
  }

  /** The finest level whose samples are not smeared over more than is worth looking at singly. */
  private finestUseful(h: Homography, motionAt: MotionAt, shutter: number): number {
    const blur = this.blurAt(h, motionAt, shutter);
    const last = this.template.levels.length - 1;
    return Math.min(last, 2, Math.max(0, Math.floor(Math.log2(blur / SMEAR_WORTH))));
  }

  private scheduleFor(index: number, levelsUsed: number): Motion[] {
    const wanted = this.motion;
    if (index >= 4) return [stiffer(wanted, 'translation')];
    if (index === 3) return [stiffer(wanted, 'similarity')];
    const coarsest = index === this.template.levels.length - 1 && levelsUsed === Infinity;
    return coarsest ? [stiffer(wanted, 'translation'), stiffer(wanted, 'similarity'), wanted] : [wanted];
  }

  /** Nothing changes the shape before place, turn and size are found on the finest level. */
  private shapeLastSchedule(index: number, finest: number): Motion[] {
    const similar = stiffer(this.motion, 'similarity');
    return index === finest ? [similar, this.motion] : [similar];
  }

  /** How well a map fits a picture; leaves residuals and pieces in `scratch`, where `left` says that the residuals (of so many points) are there already. */
  assess(
    picture: PreparedPicture,
    h: Homography,
    light: Light,
    motionAt: MotionAt,
    prior: ShapePrior | null,
    smear: number,
    left?: number,
  ): Attempt {
    const level = this.finest;
    const s = this.scratch[0]!;
    this.assessed = h;
    const atLevel = homographyAtLevel(h, level.level);
    if (left === undefined)
      blurTemplate(
        picture.levels.set,
        level,
        atLevel,
        motionAt(atLevel, level.level),
        smear * this.shutter.value,
        s.blurred,
      );
    const visible = left ?? computeResiduals(level, picture.levels, atLevel, light, s);
    const noise = scaleFromHistogram(s.histogram, visible);
    const scale = Math.max(noise, this.noise);
    accumulatePieces(
      picture.levels.set,
      level,
      light.gain,
      scale,
      toleranceFromHistogram(s.histogram),
      MEAN_MIX,
      true,
      s,
    );
    const quality = measureFit(level, atLevel, light.gain, noise, this.noise, s);
    const pose = this.pose?.expect(h);
    const surprise = pose ? surpriseOf(pose, h) : 0;
    const solved = certaintyFrom(this.motion, s.pieces, scale, this.toUnit, (total) => {
      addShapePrior(
        total,
        prior && { ...priorAtLevel(prior, level.level), tolerance: prior.unsure },
        atLevel,
        level,
        scale,
      );
      if (pose) addPosePrior(total, pose, h, this.toUnit, scale);
    });
    const certainty =
      solved &&
      widened(
        solved.certainty,
        1 + SIDE_MISSING * (1 - Math.min(...quality.sides.map((share) => (Number.isNaN(share) ? 1 : share)))),
      );
    const corners = this.cornersOfRegion;
    const inFront = keepsInFront(h, corners);
    const bound = certainty && inFront ? Math.max(...corners.map((c) => cornerBound(certainty, h, c))) : Infinity;
    const trust = trustOf(quality, noise / Math.max(this.noise, USUAL_NOISE)) * possible(surprise);
    return {
      homography: h,
      light,
      smear,
      quality,
      noise,
      trust,
      surprise,
      bound,
      certainty,
      confidence: confidenceOf(trust, bound),
    };
  }

  /** Learns of camera and plane from a map that is sure. */
  learnPose(h: Homography, { covariance }: Certainty): void {
    if (!this.pose) return;
    const rows = stretchDerivatives(this.pose.expect(h).view, h, this.toUnit);
    const product = (a: Float64Array, b: Float64Array) =>
      a.reduce((sum, v, i) => sum + v * b.reduce((s, w, k) => s + covariance[8 * i + k]! * w, 0), 0);
    this.pose.learn(h, [product(rows[0], rows[0]), product(rows[0], rows[1]), product(rows[1], rows[1])]);
  }

  /**
   * How far the ring alone, by its own equations about an attempt just assessed, would move the region's corners, in the
   * units of `apart`: what a registration of the ring alone would find, to first order.
   */
  ringPull(a: Attempt, gap: number): number {
    if (this.assessed !== a.homography || !a.certainty) return Infinity;
    const prior = this.pose?.expect(a.homography);
    const {
      scratch: [s],
      finest,
    } = this;
    const alone = certaintyFrom(
      this.motion,
      s!.pieces.slice(0, GROUP),
      Math.max(a.noise, this.noise),
      finest.toUnit,
      (total) => {
        if (prior) addPosePrior(total, prior, a.homography, this.toUnit, a.noise);
      },
    );
    if (!alone || gap > 1) return Infinity;
    const moved = compose(
      a.homography,
      fromLevel(finest.level),
      finest.fromUnit,
      warpFromParameters(this.motion, alone.step),
      finest.toUnit,
      toLevel(finest.level),
    );
    return this.apart(a, { ...a, homography: moved });
  }

  /** How far two maps put the region's corners apart, in units of what counts as a conflict. */
  apart(a: Attempt, b: Attempt): number {
    const corners = this.cornersOfRegion;
    const at = applyToPoints(a.homography, corners);
    const bt = applyToPoints(b.homography, corners);
    return Math.max(
      ...corners.map(
        (c, i) =>
          Math.hypot(at[i]![0] - bt[i]![0], at[i]![1] - bt[i]![1]) /
          Math.max(CONFLICT, 1.5 * cornerSpread(a.certainty!, a.homography, c)),
      ),
    );
  }

  /** The longest smear in the region over a shutter (fraction of a frame), px. */
  blurAt(h: Homography, motionAt: MotionAt, shutter: number): number {
    const level = this.finest;
    return blurLength(level, motionAt(homographyAtLevel(h, level.level), level.level), shutter) * 2 ** level.level;
  }

  /** Starting points by their correlation on a middle level, the best first. */
  rank(maps: readonly Homography[], picture: PreparedPicture, motionAt: MotionAt): Homography[] {
    if (maps.length === 1) return [...maps];
    this.assessed = null;
    const index = Math.min(2, this.template.levels.length - 1);
    const level = this.template.levels[index]!;
    const s = this.scratch[index]!;
    const scored = maps.map((map) => {
      const h = homographyAtLevel(map, level.level);
      blurTemplate(picture.levels.set, level, h, motionAt(h, level.level), this.shutter.value, s.blurred);
      return { map, correlation: correlationAt(level, picture.levels, h, s) };
    });
    return scored.sort((a, b) => b.correlation - a.correlation).map((entry) => entry.map);
  }

  /** Places in the neighbourhood of `start` (reach in px) that resemble the region, the best first. */
  search(
    picture: PreparedPicture,
    start: Homography,
    range: SearchRange,
    most: number,
    motionAt: MotionAt,
  ): Homography[] {
    this.assessed = null;
    const wide = range.turns.length > 1;
    const index = Math.min(wide ? 4 : 3, this.template.levels.length - 1);
    const level = this.template.levels[index]!;
    const s = this.scratch[index]!;
    const h = homographyAtLevel(start, level.level);
    blurTemplate(picture.levels.set, level, h, motionAt(h, level.level), this.shutter.value, s.blurred);
    const found = searchRegion(
      level,
      picture.levels,
      h,
      { ...range, reach: Math.ceil(range.reach / 2 ** level.level) },
      most,
      s,
    );
    return found.map((candidate) => homographyFromLevel(candidate.homography, level.level));
  }

  /** Mean squared residual of a frame with the template smeared over each of some shutter lengths (fractions of a frame). */
  misfits(
    picture: PreparedPicture,
    h: Homography,
    motionAt: MotionAt,
    shutters: readonly number[],
    light: Light,
    index = 0,
  ): number[] {
    this.assessed = null;
    const level = this.template.levels[index]!;
    const s = this.scratch[index]!;
    const { count } = level;
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
}

function priorAtLevel(prior: ShapePrior, level: number): ShapePrior {
  return { ...prior, expected: homographyAtLevel(prior.expected, level) };
}

function fromLevel(level: number): Homography {
  const s = 2 ** level;
  return [s, 0, 0.5, 0, s, 0.5, 0, 0, 1];
}

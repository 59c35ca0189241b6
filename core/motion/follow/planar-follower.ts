import { IDENTITY, keepsInFront, type Homography, type Point } from '../../base/geometry/homography.ts';
import type { Motion } from '../../base/geometry/motion-model.ts';
import { cornerBound, shapeSpread, timingOf } from './certainty.ts';
import { confidenceOf, DOUBT_BELOW, LOST_BELOW, SURE } from './confidence.ts';
import { DisagreementReader } from './disagreement.ts';
import type { FollowerState } from './follower-state.ts';
import { noteOf, reasonFor } from './frame-notes.ts';
import { MotionHistory, type MotionAt } from './motion-history.ts';
import type { FrameFit } from './frame-fit.ts';
import type { PictureLevels } from './image-pyramid.ts';
import { believable, jumps } from './plausibility.ts';
import { regionMask, type KeepOut, type Region } from './region.ts';
import { RegionOverTime } from './region-over-time.ts';
import { Registration, type Attempt, type PreparedPicture, type Task, type Way } from './registration.ts';
import { RingEvidence, type Evidence } from './ring-evidence.ts';
import { ShutterEstimate } from './shutter-estimate.ts';
import { TrustMap } from './trust-map.ts';
import { UsualFit } from './usual-fit.ts';
import { buildTemplate, GROUP, type Template, type TemplateFault, type TemplateOptions } from './template.ts';

export interface FollowSettings {
  readonly motion: Motion;
  readonly regions: readonly Region[];
  readonly keepOut: readonly KeepOut[];
  /** How many points are looked at on the full picture; chosen by itself unless given. */
  readonly points?: number | undefined;
  /** Corners of the screen on the reference frame: what lies inside may change or mirror something, and is watched apart. */
  readonly screen?: readonly Point[];
  /** By how much a region that was lost may have turned from frame to frame, radians; any way unless given. */
  readonly turnsWithin?: number | undefined;
}

/** What a place needs to be taken for the surface after a gap. */
const FOUND_AGAIN = 0.6;
/** Longest smear with which a frame teaches what keeps to the motion, px. */
const TEACHES_UP_TO_BLUR = 3;
/** What a plane and a camera would do so seldom (standard deviations) makes one look again. */
const SURPRISED = 3;
/** Levels, the finest first, on which a frame is looked for where it is expected. */
const EXPECTED_LEVELS = 3;
/** What was off by so many px is found on the finest level alone. */
const FINEST_REACH = 0.8;
/** Reach of the search around the prediction, px; grows with the number of frames lost. */
const SEARCH_REACH = 96;
const SEARCH_REACH_MAX = 320;
/** Smear worth a second pass with the velocity from both neighbours, px. */
const REFINE_FROM_BLUR = 3;

/** Turns that a wide search tries, radians: all round by 15°. */
const TURNS = Array.from({ length: 24 }, (_, i) => ((i <= 12 ? i : i - 24) * Math.PI) / 12);

/**
 * Registers frames to one reference frame, each starting from its neighbour, so that errors do not
 * add up. Holds the template and what has been found so far.
 */
export class PlanarFollower {
  readonly history: MotionHistory;
  private readonly registration: Registration;
  private readonly trust: TrustMap;
  private readonly ring: RingEvidence;
  private readonly region: RegionOverTime;
  private readonly disagreement: DisagreementReader;
  private readonly usual: UsualFit;
  private frame: number;
  private readonly turns: readonly number[];

  private constructor(
    readonly referenceFrame: number,
    private readonly template: Template,
    reference: PictureLevels,
    settings: FollowSettings,
  ) {
    this.frame = referenceFrame;
    this.turns = TURNS.filter((turn) => Math.abs(turn) <= (settings.turnsWithin ?? Math.PI) + 1e-9);
    this.history = new MotionHistory(referenceFrame);
    this.registration = new Registration(reference.set, template, settings.motion, settings.screen);
    this.usual = new UsualFit(this.registration);
    this.trust = new TrustMap(template);
    this.disagreement = new DisagreementReader(template.levels[0]!);
    this.region = new RegionOverTime({ ...settings, referenceFrame }, reference.width, reference.height);
    this.ring = new RingEvidence(this.registration, template.hasInside, () => this.weigh());
  }

  /** Prepares a reference; a fault when the regions hold nothing to look at. */
  static create(
    referenceFrame: number,
    reference: PictureLevels,
    settings: FollowSettings,
    options?: TemplateOptions,
  ): PlanarFollower | TemplateFault {
    const mask = regionMask(
      reference.width,
      reference.height,
      settings.regions,
      settings.keepOut,
      settings.screen,
      referenceFrame,
    );
    const template = buildTemplate(reference, mask, options);
    return 'fault' in template ? template : new PlanarFollower(referenceFrame, template, reference, settings);
  }

  /** How many points are looked at on the finest level. */
  get pointCount(): number {
    return this.registration.finest.chosen;
  }

  /** The middle of the region, reference pixels. */
  get middle(): Point {
    const [a, , b] = this.registration.cornersOfRegion;
    return [(a![0] + b![0]) / 2, (a![1] + b![1]) / 2];
  }

  /** How far off the worst corner of the region may be on a followed frame (95 %), px; infinite where that is not known. */
  boundOf({ homography, certainty }: FrameFit): number {
    return homography && certainty
      ? Math.max(...this.registration.cornersOfRegion.map((corner) => cornerBound(certainty, homography, corner)))
      : Infinity;
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
    this.lookAt(picture.frame);
    const { maps, nearest, nearestFrame, gap } = this.history.expect(picture.frame, from);
    const motionAt = this.history.motionFrom(picture.frame, from);
    const light = this.history.lightOf(nearestFrame);
    const task = this.taskFrom(picture, motionAt, nearestFrame, from, gap);
    const known = this.history.maps.get(picture.frame);
    if (known) maps.push(known);
    const box = this.registration.cornersOfRegion;
    const leaps = (h: Homography) => jumps(h, nearest, gap, box);
    const good = (attempt: Attempt, limit: number) =>
      attempt.confidence * this.usual.quietness(attempt) >= limit &&
      !this.usual.lacksDetail(attempt) &&
      !leaps(attempt.homography);
    const ranked = this.registration.rank(maps, picture, motionAt);
    // Where it goes on as expected, coarse levels could only be led astray by what else is in their wide samples.
    const attemptFrom = (start: Homography, levels?: number, way?: Way) =>
      this.believed(this.registration.register(task, start, light, levels, way), maps, gap);
    let best = attemptFrom(ranked[0]!, this.levelsFor(nearestFrame, from));
    const take = (start: Homography, levels?: number, way?: Way) => {
      const attempt = attemptFrom(start, levels, way);
      if (leaps(attempt.homography)) return;
      if (this.usual.scoreOf(attempt) > this.usual.scoreOf(best) || leaps(best.homography)) best = attempt;
    };
    if (this.usual.leavesSide(best) || best.surprise > SURPRISED) {
      for (const way of ['shape-last', 'rigid'] as const) take(ranked[0]!, EXPECTED_LEVELS, way);
      take(best.homography, 1);
    }
    if (!good(best, SURE)) for (const start of ranked) take(start);
    // A wide bound alone is no reason to look elsewhere: with little to see it is wide everywhere.
    const mayBeElsewhere = () => !good({ ...best, confidence: best.trust }, DOUBT_BELOW);
    if (mayBeElsewhere()) {
      const reach = Math.min(SEARCH_REACH_MAX, SEARCH_REACH * gap);
      const near = { reach, turns: [0], scales: [1] };
      const turned = { reach: 1.5 * reach, turns: this.turns, scales: [0.85, 1, 1.18] };
      // Long lost, it may be anywhere, but hardly upside down.
      const anywhere = {
        reach: Infinity,
        turns: gap > 1 ? TURNS.slice(0, 3).concat(TURNS.slice(-2)) : this.turns,
        scales: [0.8, 1, 1.25],
      };
      for (const start of this.registration.search(picture, ranked[0]!, near, 2, motionAt))
        if (!good(best, SURE)) take(start);
      if (mayBeElsewhere() && gap <= 2)
        for (const start of this.registration.search(picture, nearest, turned, 3, motionAt))
          if (!good(best, SURE)) take(start);
      if (!(best.confidence >= 0.3) || leaps(best.homography))
        for (const start of this.registration.search(picture, nearest, anywhere, 4, motionAt))
          if (!good(best, SURE)) take(start);
    }
    best = this.believed(this.ring.choose(task, best, ranked), maps, gap);
    // Among many places looked at after a gap some resemble the region by chance.
    const needed = gap > 1 ? FOUND_AGAIN : LOST_BELOW;
    if (!(best.confidence >= needed) || leaps(best.homography)) {
      const there = this.registration.assess(
        picture,
        this.history.extrapolate(nearestFrame, from, gap),
        light,
        motionAt,
        null,
        1,
      );
      return {
        frame: picture.frame,
        homography: null,
        error: best.quality.error,
        confidence: Math.min(best.confidence, LOST_BELOW),
        blur: 0,
        lost: reasonFor(there.quality, gap),
      };
    }
    if (gap > 1) this.registration.shape.forget();
    else if (best.confidence >= SURE) this.registration.shape.learn(best.homography, task.earlier);
    this.accept(picture.frame, best);
    const fit = this.fitOf(picture, best, motionAt);
    // After a gap the smear is not known.
    if (gap === 1) this.remember(picture, best, motionAt, fit.blur);
    return fit;
  }

  /** Follows into a frame that was found another way, near `start` only; null where it is not surely held. `take` goes on from there. */
  recheck(picture: PreparedPicture, from: -1 | 1, start: Homography): { fit: FrameFit; take: () => void } | null {
    this.lookAt(picture.frame);
    const { maps, nearestFrame, gap } = this.history.expect(picture.frame, from);
    const motionAt = this.history.motionFrom(picture.frame, from);
    const task = this.taskFrom(picture, motionAt, nearestFrame, from, gap);
    const attempt = this.believed(
      this.registration.register(task, start, this.history.lightOf(nearestFrame), EXPECTED_LEVELS),
      [...maps, start],
      gap,
    );
    return attempt.confidence >= SURE
      ? { fit: this.fitOf(picture, attempt, motionAt), take: () => this.accept(picture.frame, attempt) }
      : null;
  }

  /**
   * Registers a frame near places where it is expected from elsewhere; its neighbours' maps must be in the history, for its smear. `reach` is how far off
   * (px) it may be looked for, `gap` how many frames away the neighbour is whose shape is known. The best that is found there, whether it convinces or not.
   */
  pull(
    picture: PreparedPicture,
    starts: readonly Homography[],
    reach: number,
    gap: number,
  ): { fit: FrameFit; take: () => void } | null {
    this.lookAt(picture.frame);
    const { frame } = picture;
    const motionAt =
      this.history.motionBetween(frame) ?? this.history.motionFrom(frame, this.history.maps.has(frame - 1) ? -1 : 1);
    const side = this.history.maps.has(frame - 1) ? -1 : 1;
    const task: Task = { picture, motionAt, earlier: this.history.run(frame + side, side, 5), gap };
    const box = this.registration.cornersOfRegion;
    const light = this.history.lightOf(frame + side);
    const seen = starts.filter((start) => keepsInFront(start, box));
    let best: Attempt | null = null;
    const take = (start: Homography, levels?: number, way?: Way) => {
      const attempt = this.registration.register(task, start, light, levels, way);
      if (jumps(attempt.homography, start, 2, box)) return;
      if (!best || this.usual.scoreOf(attempt) > this.usual.scoreOf(best)) best = attempt;
    };
    const convinces = () => best !== null && best.confidence * this.usual.quietness(best) >= SURE;
    for (const start of seen) take(start, EXPECTED_LEVELS);
    for (const start of seen) take(start, EXPECTED_LEVELS, 'rigid');
    for (const start of seen) if (!convinces()) take(start);
    if (!convinces() && reach > 0 && seen[0]) {
      const near = { reach, turns: [0, -0.2, 0.2], scales: [1] };
      for (const start of this.registration.search(picture, seen[0], near, 3, motionAt)) if (!convinces()) take(start);
    }
    const found = best as Attempt | null;
    if (!found) return null;
    const fit = this.fitOf(picture, found, motionAt);
    return {
      fit,
      take: () => {
        this.accept(frame, found);
        this.remember(picture, found, motionAt, fit.blur);
        const between = this.history.motionBetween(frame);
        if (
          between &&
          found.confidence > FOUND_AGAIN &&
          this.registration.blurAt(found.homography, between, 1) > 6 &&
          !this.registration.shutter.settled
        )
          this.learnShutter(picture, found.homography, between);
      },
    };
  }

  /** On how many levels a frame is looked for where it is expected: where the last one came as expected, few. */
  private levelsFor(last: number, from: -1 | 1): number {
    const off = this.history.offExpected(last, from, this.registration.cornersOfRegion);
    return off < FINEST_REACH ? 1 : off < 2 * FINEST_REACH ? 2 : EXPECTED_LEVELS;
  }

  /** An attempt, doubted where the surface's shape would change more than surfaces do in so many frames. */
  private believed(attempt: Attempt, expected: readonly Homography[], frames: number): Attempt {
    const trust = attempt.trust * believable(attempt.homography, expected, frames, this.registration.toUnit);
    return { ...attempt, trust, confidence: confidenceOf(trust, attempt.bound) };
  }

  /** Gives every point its say on the frame in work: whether the region holds it there, what is listened to, and how far it has been seen to keep to the motion. */
  private weigh(): void {
    for (const level of this.template.levels) {
      level.prior.set(level.chosenPrior);
      if (this.ring.evidence === 'ring') level.prior.fill(0, level.pieceStarts[GROUP]);
      this.region.weigh(this.frame, level, level.prior);
    }
    this.trust.weigh((level) => level.prior);
  }

  private lookAt(frame: number): void {
    if (this.frame === frame) return;
    this.frame = frame;
    if (this.region.changes) this.weigh();
  }

  /**
   * Registers a frame once more, on the finest levels only, when the neighbour on the side `after` is known, too: the
   * smear then follows the true way through the frame's time, and the shutter's length is learnt.
   * Returns null when there is nothing to gain.
   */
  refine(picture: PreparedPicture, before: FrameFit, after: -1 | 1): FrameFit | null {
    this.lookAt(picture.frame);
    const h = this.history.maps.get(picture.frame);
    const between = this.history.motionBetween(picture.frame);
    const motionAt = between ?? this.history.motionFrom(picture.frame, after);
    if (!h || picture.frame === this.referenceFrame) return null;
    const task = this.taskFrom(
      picture,
      motionAt,
      picture.frame - after,
      -after as -1 | 1,
      1,
      this.history.maps.get(picture.frame + after),
    );
    const fullFrameBlur = this.registration.blurAt(h, motionAt, 1);
    if (fullFrameBlur < 2 * REFINE_FROM_BLUR) return null;
    if (between && fullFrameBlur > 4 && !this.registration.shutter.settled) this.learnShutter(picture, h, motionAt);
    const light = this.history.lightOf(picture.frame);
    let again = this.registration.register(task, h, light, between ? 2 : 3);
    if (again.confidence < SURE || again.surprise > SURPRISED || this.usual.leavesSide(again)) {
      for (const start of [h, ...this.history.middle(picture.frame)]) {
        const rigid = this.registration.register(task, start, light, EXPECTED_LEVELS, 'rigid');
        if (this.usual.scoreOf(rigid) > this.usual.scoreOf(again)) again = rigid;
      }
    }
    if (again.confidence < 0.9 * before.confidence || jumps(again.homography, h, 1, this.registration.cornersOfRegion))
      return null;
    this.accept(picture.frame, again);
    return this.fitOf(picture, again, motionAt);
  }

  /** Registers a followed frame once more when all others have been: between both neighbours, by all that was learnt meanwhile. Null where that makes it no surer; what is known stays as it is. */
  polish(picture: PreparedPicture, evidence: Evidence): FrameFit | null {
    this.ring.listenAgain(evidence);
    this.lookAt(picture.frame);
    const { frame } = picture;
    const h = this.history.maps.get(frame);
    const motionAt = this.history.motionBetween(frame);
    if (!h || !motionAt || frame === this.referenceFrame) return null;
    const task = this.taskFrom(picture, motionAt, frame - 1, -1, 1, this.history.maps.get(frame + 1));
    const before = this.registration.asItIs(task, h);
    const attempts = [h, ...this.history.middle(frame)].map((start) =>
      this.registration.register(task, start, before.light, 2),
    );
    const best = attempts.reduce((a, b) => (this.usual.scoreOf(b) > this.usual.scoreOf(a) ? b : a));
    if (
      this.usual.scoreOf(best) < this.usual.scoreOf(before) ||
      jumps(best.homography, h, 1, this.registration.cornersOfRegion)
    )
      return null;
    return this.fitOf(picture, best, motionAt);
  }

  /** A frame in work, with what is known from the nearest known frame on a side, and the map of its neighbour on the other. */
  private taskFrom(
    picture: PreparedPicture,
    motionAt: MotionAt,
    nearest: number,
    side: -1 | 1,
    gap: number,
    later?: Homography,
  ): Task {
    return {
      picture,
      motionAt,
      earlier: this.history.run(nearest, side, 5),
      gap,
      later,
      known: this.history.shapes.get(nearest),
    };
  }

  private accept(frame: number, attempt: Attempt): void {
    this.history.maps.set(frame, attempt.homography);
    this.history.lights.set(frame, attempt.light);
    if (attempt.certainty) this.history.shapes.set(frame, shapeSpread(attempt.certainty));
    this.usual.learn(attempt);
  }

  /** Learns which squares keep to the motion, from frames that are sure and not much smeared. */
  private remember(picture: PreparedPicture, attempt: Attempt, motionAt: MotionAt, blur: number): void {
    if (attempt.confidence < SURE || blur > TEACHES_UP_TO_BLUR) return;
    if (attempt.certainty && !this.usual.leavesSide(attempt))
      this.registration.learnPose(attempt.homography, attempt.certainty);
    // Every other frame tells enough.
    if (picture.frame % 2 !== 0) return;
    this.leaveResiduals(picture, attempt, motionAt);
    this.trust.learn(
      this.registration.finest,
      this.registration.scratch[0]!,
      attempt.light.gain,
      Math.max(attempt.noise, 0.5 * this.registration.noise),
    );
    this.weigh();
  }

  private fitOf(picture: PreparedPicture, attempt: Attempt, motionAt: MotionAt): FrameFit {
    const { homography, certainty, smear, confidence, quality } = attempt;
    const expected = this.registration.blurAt(homography, motionAt, this.registration.shutter.value);
    const blur = smear * expected;
    this.leaveResiduals(picture, attempt, motionAt);
    return {
      frame: picture.frame,
      homography,
      error: quality.error,
      confidence,
      evidence: this.ring.evidence,
      blur,
      ...(certainty ? { certainty: { ...certainty, timing: timingOf(blur, expected, quality.visibility) } } : {}),
      ...noteOf(quality, blur),
      disagreement: this.disagreement.read(
        this.registration.finest,
        attempt.light.gain,
        this.registration.noise,
        this.registration.scratch[0]!,
      ),
    };
  }

  /** Sees to it that an attempt's residuals are those in the scratch. */
  private leaveResiduals(picture: PreparedPicture, attempt: Attempt, motionAt: MotionAt): void {
    if (this.registration.assessed !== attempt.homography)
      this.registration.assess(picture, attempt.homography, attempt.light, motionAt, null, attempt.smear);
  }

  private learnShutter(picture: PreparedPicture, h: Homography, motionAt: MotionAt): void {
    this.registration.shutter.add(
      this.registration.misfits(picture, h, motionAt, ShutterEstimate.TRIALS, this.history.lightOf(picture.frame)),
    );
  }

  /** How far the fastest corner of the regions moves during a followed frame, px; null where a neighbour is not known. */
  wayOf(frame: number): number | null {
    const h = this.history.maps.get(frame);
    const motionAt = this.history.motionBetween(frame);
    return h && motionAt ? this.registration.blurAt(h, motionAt, 1) : null;
  }

  /** How a frame with followed neighbours fits at each of some shutter lengths (fractions of a frame): mean squared residuals. */
  smearMisfits(picture: PreparedPicture, shutters: readonly number[]): number[] {
    const h = this.history.maps.get(picture.frame);
    const motionAt = this.history.motionBetween(picture.frame);
    if (!h || !motionAt) throw new RangeError(`frame ${picture.frame} and its neighbours have not all been followed`);
    return this.registration.misfits(picture, h, motionAt, shutters, this.history.lightOf(picture.frame));
  }

  /** All that has been learnt, so that a follow that was broken off goes on as if it had not been; maps of frames are kept elsewhere. */
  state(): FollowerState {
    const { registration, ring, history } = this;
    return {
      ...this.usual.state(),
      evidence: ring.evidence,
      agreeing: ring.agreeing,
      conflicts: ring.conflicts,
      shutter: registration.shutter.state(),
      shape: registration.shape.state(),
      pose: registration.pose?.state() ?? null,
      trust: this.trust.state(),
      lights: [...history.lights].map(([frame, { gain, offset }]) => [frame, gain, offset]),
      shapes: [...history.shapes].map(([frame, { shape, perspective }]) => [frame, shape, perspective]),
    };
  }

  /** Takes up where a follower with the same reference and regions left off. */
  restore(state: FollowerState): void {
    const { registration, ring, history } = this;
    this.usual.restore(state);
    ring.evidence = state.evidence;
    ring.agreeing = state.agreeing;
    ring.conflicts = state.conflicts;
    registration.shutter.restore(state.shutter);
    registration.shape.restore(state.shape);
    if (state.pose) registration.pose?.restore(state.pose);
    this.trust.restore(state.trust);
    for (const [frame, gain, offset] of state.lights) history.lights.set(frame, { gain, offset });
    for (const [frame, shape, perspective] of state.shapes) history.shapes.set(frame, { shape, perspective });
    this.weigh();
  }
}

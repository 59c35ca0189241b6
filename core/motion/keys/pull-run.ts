import { cornerBound } from '../follow/certainty.ts';
import { NothingToFollow } from '../follow/follow-plan.ts';
import type { LumaFrame } from '../../base/image/luma-frame.ts';
import { sentenceOf } from '../follow/follow-run.ts';
import { openMemory, PictureLevels } from '../follow/image-pyramid.ts';
import { PlanarFollower, type FollowSettings } from '../follow/planar-follower.ts';
import { FixedKeepOuts } from '../follow/region-over-time.ts';
import { mostPoints, optionsFor } from '../follow/template.ts';
import { homographyBetweenQuads } from '../../base/geometry/estimate-homography.ts';
import { applyToPoints } from '../../base/geometry/homography.ts';
import { distance, type Quad } from '../../base/geometry/quad.ts';
import { kernels } from '../../base/kernels/index.ts';
import type { KnownOfCamera } from '../pose/fit-camera.ts';
import { blendQuads } from '../pose/blend-quads.ts';
import { INTERPOLATED, keyedBound, KeyedMotion, type Between, type HandKey } from './hand-keys.ts';

/** What is to be pulled onto the picture. */
export interface PullPlan extends Omit<FollowSettings, 'screen'> {
  readonly referenceFrame: number;
  /** The surface's corners on the reference frame. */
  readonly corners: Quad;
  readonly keys: readonly HandKey[];
  /** First and last frame that is wanted. */
  readonly frames: readonly [number, number];
  /** Frames whose corners are known from elsewhere, or were pulled before: they are not looked at again. */
  readonly known: readonly HandKey[];
  readonly camera?: KnownOfCamera | undefined;
}

/** A frame between hand keys: what it came to, and how. */
export interface PulledFrame {
  readonly frame: number;
  readonly corners: Quad;
  /** True where the picture was found to hold it. */
  readonly pulled: boolean;
  readonly how: Between;
  readonly confidence: number;
  /** How far off the corners may be (95 %), px. */
  readonly bounds: readonly number[];
  /** How far the picture moved the worst corner from where it was interpolated, px. */
  readonly moved: number;
  readonly blur: number;
}

/** So many known frames beside the span are looked at first. */
const WARM_UP_ON = 12;
/** Confidence from which on the picture is believed; from the lesser one on where it agrees with the interpolation. */
const HOLDS = 0.5;
const HOLDS_AGREEING = 0.2;
/** How far off an interpolated corner may be looked for: px at least, of what is guessed, and at most. */
const LEAST_REACH = 24;
const GUESS_REACH = 1.5;
const MOST_REACH = 160;
/** A place further from the interpolation than so many of its bounds must convince more. */
const SURPRISING = 1.3;
const HOLDS_ELSEWHERE = 0.85;

/**
 * Pulls the frames between hand keys onto the picture: each is registered to the reference frame, starting from the interpolated pose, the reference smeared
 * as that pose moves. It is done from the known frames inward, and every frame that holds becomes one that the rest is interpolated through.
 */
export class PullRun {
  private readonly settled = new Map<number, PulledFrame>();
  private motion: KeyedMotion;
  private readonly order: number[];
  private next = 0;

  private constructor(
    private readonly plan: PullPlan,
    private readonly read: (frame: number) => Promise<LumaFrame>,
    private readonly follower: PlanarFollower,
    private readonly picture: PictureLevels,
    private readonly fixed: FixedKeepOuts,
    private readonly size: readonly [number, number],
  ) {
    this.motion = this.interpolated([]);
    const known = new Set(plan.known.map((k) => k.frame));
    this.order = inwardOrder(
      plan.frames,
      [...plan.keys, ...plan.known].map((k) => k.frame),
    ).filter((frame) => !known.has(frame));
  }

  /** Prepares the reference. Throws NothingToFollow where the region has nothing to hold. */
  static async begin(plan: PullPlan, read: (frame: number) => Promise<LumaFrame>): Promise<PullRun> {
    const { width, height, codes, peak } = await read(plan.referenceFrame);
    const options = optionsFor(plan.points);
    const memory = openMemory(width, height, 2, mostPoints(options), kernels(), true);
    const reference = new PictureLevels(memory, width, height).fill(codes, peak);
    const follower = PlanarFollower.create(plan.referenceFrame, reference, { ...plan, screen: plan.corners }, options);
    if (!(follower instanceof PlanarFollower)) throw new NothingToFollow(sentenceOf(follower));
    const run = new PullRun(
      plan,
      read,
      follower,
      new PictureLevels(memory, width, height),
      new FixedKeepOuts(plan, plan.referenceFrame, width, height),
      [width, height],
    );
    await run.warmUp();
    return run;
  }

  /** Frames beside the span are registered first: from them noise, exposure, camera and plane are learnt. */
  private async warmUp(): Promise<void> {
    const {
      frames: [first, last],
      known,
      referenceFrame,
    } = this.plan;
    const near = known
      .filter((k) => k.frame < first || k.frame > last)
      .sort((a, b) => distanceTo(a.frame, first, last) - distanceTo(b.frame, first, last))
      .slice(0, WARM_UP_ON);
    for (const key of near.sort((a, b) => Math.abs(a.frame - referenceFrame) - Math.abs(b.frame - referenceFrame)))
      await this.pulled(
        {
          frame: key.frame,
          corners: key.corners,
          pulled: false,
          how: 'key',
          confidence: 1,
          bounds: key.corners.map(() => keyedBound()),
          moved: 0,
          blur: 0,
        },
        0,
        0,
      );
  }

  /** How many frames are to be looked at. */
  get total(): number {
    return this.order.length;
  }

  /** Looks at one more frame; null when all are done. */
  async step(): Promise<PulledFrame | null> {
    const frame = this.order[this.next++];
    if (frame === undefined) return null;
    const { corners, how } = this.motion.at(frame);
    const guessed = this.motion.guessed(frame);
    const away = Math.min(...this.anchors().map((k) => Math.abs(k.frame - frame)));
    const asItIs: PulledFrame = {
      frame,
      corners,
      pulled: false,
      how,
      confidence: INTERPOLATED,
      bounds: corners.map(() => keyedBound(away, guessed)),
      moved: 0,
      blur: 0,
    };
    const done =
      how === 'key'
        ? { ...asItIs, confidence: 1, bounds: corners.map(() => keyedBound()) }
        : ((await this.pulled(asItIs, guessed, away)) ?? asItIs);
    this.settled.set(frame, done);
    if (done.pulled) this.motion = this.interpolated([...this.settled.values()].filter((f) => f.pulled));
    return done;
  }

  private async pulled(start: PulledFrame, guessed: number, away: number): Promise<PulledFrame | null> {
    const { frame } = start;
    const { corners: reference } = this.plan;
    const { history } = this.follower;
    for (const f of [frame - 1, frame + 1]) {
      const map = homographyBetweenQuads(reference, this.motion.at(f).corners);
      if (map) history.maps.set(f, map);
    }
    const expected = homographyBetweenQuads(reference, start.corners);
    if (!expected) return null;
    const luma = await this.read(frame);
    const picture = { frame, levels: this.picture.fill(luma.codes, luma.peak).permit(this.fixed.at(frame)) };
    const reach = Math.min(MOST_REACH, LEAST_REACH + GUESS_REACH * guessed + 4 * away);
    const found = this.follower.pull(picture, [expected], reach, 3);
    if (!found?.fit.homography || !found.fit.certainty) return null;
    const { homography, certainty, confidence, blur } = found.fit;
    const seen = applyToPoints(homography, reference);
    const open = Math.max(...start.bounds);
    const moved = Math.max(...seen.map((c, i) => distance(c, start.corners[i]!)));
    const least =
      start.how === 'key' ? HOLDS : moved > SURPRISING * open ? HOLDS_ELSEWHERE : moved > open ? HOLDS : HOLDS_AGREEING;
    if (confidence < least) return null;
    found.take();
    const bounds = reference.map((c) => cornerBound(certainty, homography, c));
    if (start.how === 'key') return { ...start, corners: seen, pulled: true, confidence, bounds, moved, blur };
    // Both are measurements of the one place: each counts by how far off it may be.
    const mean = bounds.reduce((s, b) => s + b) / bounds.length;
    const share = open ** 2 / (open ** 2 + mean ** 2);
    return {
      ...start,
      corners: blendQuads(start.corners, seen, share, this.motion.camera),
      pulled: true,
      confidence,
      bounds: bounds.map((b) => (b * open) / Math.hypot(b, open)),
      moved,
      blur,
    };
  }

  private anchors(): HandKey[] {
    return [...this.plan.keys, ...this.plan.known, ...[...this.settled.values()].filter((f) => f.pulled)];
  }

  private interpolated(pulled: readonly HandKey[]): KeyedMotion {
    return new KeyedMotion(this.plan.keys, ...this.size, this.motion?.camera ?? this.plan.camera, [
      ...this.plan.known,
      ...pulled,
    ]);
  }
}

const distanceTo = (frame: number, first: number, last: number): number => Math.max(first - frame, frame - last, 0);

/** Frames of a span from what is known inward: always the one nearest to a known frame, its neighbour found or known before it. */
export function inwardOrder([first, last]: readonly [number, number], known: readonly number[]): number[] {
  const away = (f: number) => Math.min(...known.map((k) => Math.abs(k - f)));
  return Array.from({ length: Math.max(0, last - first + 1) }, (_, i) => first + i).sort(
    (a, b) => away(a) - away(b) || a - b,
  );
}

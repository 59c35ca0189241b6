import type { Homography } from '../../base/geometry/homography.ts';
import type { KernelSet } from '../../base/kernels/index.ts';
import { Bridge, isStrange } from './bridge.ts';
import type { BridgedState, KeyFrame } from './bridge-state.ts';
import { SURE } from './confidence.ts';
import type { FollowPlan } from './follow-plan.ts';
import type { LumaFrame } from '../../base/image/luma-frame.ts';
import type { FrameFit } from './frame-fit.ts';
import type { PlanarFollower } from './planar-follower.ts';
import type { PreparedPicture } from './registration.ts';
import type { TemplateOptions } from './template.ts';

/** From this bound on, px, a view that the reference does not show well is led over a keyframe; and a frame that shall be one must have less. */
const LED_FROM = 1.5;
const KEY_BELOW = 0.75;
/** A keyframe is not smeared longer than this, px. */
const KEY_UP_TO_BLUR = 6;
/** So much surer must a frame be when led over a keyframe; and the reference comes back when it is as sure, but for this. */
const SURER = 0.03;
const AS_SURE = 0.01;
/** Maps about a keyframe that it needs for velocity and smear. */
const MAPS_ABOUT = 12;
/** Frames between two trials of keyframes. */
const TRY_EVERY = 5;

/** Follows by the reference while it can be matched, and over keyframes near by where it shows the surface too differently. */
export class BridgedFollower {
  private bridge: Bridge | null = null;
  /** The last frame that may become a keyframe. */
  private candidate: KeyFrame | null = null;
  private tried: number | null = null;
  /** One for the keyframe in use, one for the next to be tried. */
  private readonly memories: KernelSet[] = [];

  constructor(
    private readonly follower: PlanarFollower,
    private readonly plan: FollowPlan,
    private readonly options: TemplateOptions,
    private readonly read: (frame: number) => Promise<LumaFrame>,
  ) {}

  /** Follows into a frame from the side where frames are known. */
  async follow(picture: PreparedPicture, luma: LumaFrame, from: -1 | 1): Promise<FrameFit> {
    const led = this.bridge && (await this.overBridge(picture, luma, from));
    return led ?? this.overReference(picture, luma, from);
  }

  /** The next frame lies elsewhere: what leads there begins anew. */
  turn(): void {
    this.bridge = null;
    this.candidate = null;
    this.tried = null;
  }

  /** A frame's final fit, where that came later. */
  learn(fit: FrameFit): void {
    if (fit.homography) this.bridge?.learn(fit.frame, fit.homography);
  }

  state(): BridgedState {
    return { bridge: this.bridge?.state() ?? null, candidate: this.candidate, tried: this.tried };
  }

  async restore({ bridge, candidate, tried }: BridgedState, next: number): Promise<void> {
    this.candidate = candidate;
    if (bridge) this.bridge = await this.build(bridge.key, next);
    this.tried = tried;
    if (!bridge) return;
    this.bridge?.restore(bridge);
  }

  /** While a bridge stands; null when it no longer holds. */
  private async overBridge(picture: PreparedPicture, luma: LumaFrame, from: -1 | 1): Promise<FrameFit | null> {
    const { fit, own } = this.bridge!.follow(picture.frame, luma, from);
    if (!fit.homography) return this.letGo();
    const again = this.follower.recheck(picture, from, fit.homography);
    if (again && again.fit.confidence >= fit.confidence - AS_SURE) {
      again.take();
      this.bridge!.learn(picture.frame, again.fit.homography!);
      if (this.follower.boundOf(again.fit) < KEY_BELOW) this.letGo();
      return this.considered(again.fit);
    }
    // From the keyframe, too, it looks strange by now: a nearer one takes its place.
    const next = this.candidate;
    if (
      own > LED_FROM &&
      next &&
      this.mayTry(picture.frame) &&
      next.frame !== this.bridge!.key.frame &&
      Math.abs(next.frame - picture.frame) < Math.abs(this.bridge!.key.frame - picture.frame)
    ) {
      const nearer = await this.build(next, picture.frame);
      const better = nearer?.follow(picture.frame, luma, from);
      if (nearer && better?.fit.homography && better.fit.confidence > fit.confidence + SURER) {
        this.bridge = nearer;
        return this.taken(better.fit, better.own);
      }
    }
    return this.taken(fit, own);
  }

  private async overReference(picture: PreparedPicture, luma: LumaFrame, from: -1 | 1): Promise<FrameFit> {
    const { nearest, gap } = this.follower.history.expect(picture.frame, from);
    const fit = this.follower.follow(picture, from);
    if (
      gap > 1 ||
      !this.candidate ||
      !this.mayTry(picture.frame) ||
      !isStrange(nearest, this.follower.middle) ||
      this.follower.boundOf(fit) < LED_FROM
    )
      return this.considered(fit);
    const bridge = await this.build(this.candidate, picture.frame);
    const led = bridge?.follow(picture.frame, luma, from);
    if (
      !bridge ||
      !led?.fit.homography ||
      led.fit.confidence < SURE ||
      (fit.homography && led.fit.confidence < fit.confidence + SURER)
    )
      return fit;
    this.bridge = bridge;
    return this.taken(led.fit, led.own);
  }

  /** Goes on from a frame that was led over the bridge. */
  private taken(fit: FrameFit, own: number): FrameFit {
    this.follower.history.maps.set(fit.frame, fit.homography!);
    return this.considered(fit, own);
  }

  /** A frame that may become a keyframe when, by itself (`own` px), it is well enough held. */
  private considered(fit: FrameFit, own = this.follower.boundOf(fit)): FrameFit {
    const { frame, homography, confidence, blur, disagreement } = fit;
    if (homography && own < KEY_BELOW && confidence >= SURE && blur <= KEY_UP_TO_BLUR)
      this.candidate = { frame, homography, off: this.follower.boundOf(fit), disagreement };
    return fit;
  }

  /** Preparing a keyframe costs more than a frame: one that did not help is not tried again at once. */
  private mayTry(frame: number): boolean {
    return this.tried === null || Math.abs(frame - this.tried) >= TRY_EVERY;
  }

  private letGo(): null {
    this.bridge = null;
    return null;
  }

  private async build(key: KeyFrame, near: number): Promise<Bridge | null> {
    const maps = new Map<number, Homography>();
    for (const middle of [key.frame, near]) {
      for (let frame = middle - MAPS_ABOUT; frame <= middle + MAPS_ABOUT; frame++) {
        const h = this.follower.history.maps.get(frame);
        if (h) maps.set(frame, h);
      }
    }
    this.tried = near;
    const luma = await this.read(key.frame);
    const free = this.memories.find((memory) => memory !== this.bridge?.memory);
    const memory = free ?? Bridge.memoryFor(luma, this.options);
    if (free) free.clear();
    else this.memories.push(memory);
    return Bridge.build(key, luma, memory, this.plan, this.plan.referenceFrame, this.options, maps);
  }
}

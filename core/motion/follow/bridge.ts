import {
  applyToPoint,
  compose,
  invert,
  jacobianAt,
  keepsInFront,
  type Homography,
  type Point,
} from '../../base/geometry/homography.ts';
import { kernels, type KernelSet } from '../../base/kernels/index.ts';
import type { BridgeState, KeyFrame } from './bridge-state.ts';
import { certaintyFromElsewhere } from './certainty.ts';
import { confidenceOf, trustBehind } from './confidence.ts';
import type { LumaFrame } from '../../base/image/luma-frame.ts';
import { outlineAt, polygonOf, type KeyedOutline } from '../../base/geometry/outline.ts';
import { openMemory, PictureLevels } from './image-pyramid.ts';
import type { FrameFit } from './frame-fit.ts';
import { PlanarFollower, type FollowSettings } from './planar-follower.ts';
import { FixedKeepOuts } from './region-over-time.ts';
import { mostPoints, type TemplateOptions } from './template.ts';
import { traceDisagreement } from './trace-disagreement.ts';

/** Said of frames that are led. */
const LED = 'the reference shows it too small, too large or too obliquely here: led over a nearer frame';

/** A pixel of the reference that is drawn larger or smaller than this says little of the surface. */
const LARGEST = 2;
const SMALLEST = 0.5;

/** True where the reference shows the surface too small, too large or too obliquely for what a frame shows of it. */
export function isStrange(h: Homography, middle: Point): boolean {
  const [a, b, c, d] = jacobianAt(h, middle);
  const mean = (a * a + b * b + c * c + d * d) / 2;
  const apart = Math.sqrt(Math.max(0, mean * mean - (a * d - b * c) ** 2));
  return Math.sqrt(mean + apart) > LARGEST || Math.sqrt(Math.max(0, mean - apart)) < SMALLEST;
}

/**
 * Where the reference can no longer be matched, a frame near by that was held takes its place: what is found leads from
 * there, and how far off that frame itself may be is carried in the certainty.
 */
export class Bridge {
  private constructor(
    readonly key: KeyFrame,
    readonly memory: KernelSet,
    private readonly back: Homography,
    private readonly follower: PlanarFollower,
    private readonly slot: PictureLevels,
    private readonly fixed: FixedKeepOuts,
  ) {}

  /** Prepares a keyframe in empty memory (`memoryFor`); null where it holds nothing to follow. `maps` are those known of the frames about it. */
  static build(
    key: KeyFrame,
    luma: LumaFrame,
    memory: KernelSet,
    settings: FollowSettings,
    referenceFrame: number,
    options: TemplateOptions,
    maps: ReadonlyMap<number, Homography>,
  ): Bridge | null {
    const back = invert(key.homography);
    const moved = settingsOn(key, settings, referenceFrame);
    if (!back || !moved) return null;
    const { width, height } = luma;
    const follower = PlanarFollower.create(
      key.frame,
      new PictureLevels(memory, width, height).fill(luma.codes, luma.peak),
      moved,
      options,
    );
    if (!(follower instanceof PlanarFollower)) return null;
    const bridge = new Bridge(
      key,
      memory,
      back,
      follower,
      new PictureLevels(memory, width, height),
      new FixedKeepOuts(settings, referenceFrame, width, height),
    );
    for (const [frame, h] of maps) bridge.learn(frame, h);
    return bridge;
  }

  /** Room for one keyframe and the frame in work. */
  static memoryFor({ width, height }: LumaFrame, options: TemplateOptions): KernelSet {
    return openMemory(width, height, 2, mostPoints(options), kernels());
  }

  /** What the surface's map on a frame is, found some other way. */
  learn(frame: number, h: Homography): void {
    if (frame !== this.key.frame) this.follower.history.maps.set(frame, compose(h, this.back));
  }

  /** Follows into a frame; the fit leads from the reference. With how far off it is from the keyframe alone, px. */
  follow(frame: number, luma: LumaFrame, from: -1 | 1): { fit: FrameFit; own: number } {
    const levels = this.slot.fill(luma.codes, luma.peak).permit(this.fixed.at(frame));
    const found = this.follower.follow({ frame, levels }, from);
    if (!found.homography || !found.certainty) return { fit: found, own: Infinity };
    const own = this.follower.boundOf(found);
    const [a, b, c, d] = jacobianAt(found.homography, this.follower.middle);
    const off = this.key.off * Math.sqrt(Math.abs(a * d - b * c));
    const certainty = certaintyFromElsewhere(found.certainty, this.key.homography, off);
    const { disagreement: _ofTheKey, ...rest } = found;
    return {
      fit: {
        ...rest,
        homography: compose(found.homography, this.key.homography),
        certainty,
        confidence: confidenceOf(trustBehind(found.confidence, own), Math.hypot(own, off)),
        over: this.key.frame,
        note: found.note ?? LED,
      },
      own,
    };
  }

  state(): BridgeState {
    return { key: this.key, follower: this.follower.state() };
  }

  restore(state: BridgeState): void {
    this.follower.restore(state.follower);
  }
}

/** What is followed, drawn on the keyframe as it stands there; null where it does not lie in front of the camera. */
function settingsOn(
  key: KeyFrame,
  { regions, keepOut, screen, ...rest }: FollowSettings,
  referenceFrame: number,
): FollowSettings | null {
  const h = key.homography;
  const carried = (points: readonly Point[]): [number, number][] =>
    points.map((p) => [...applyToPoint(h, p)] as [number, number]);
  const there = (outline: KeyedOutline) => polygonOf(outlineAt(outline, referenceFrame, key.frame));
  const drawn = [...regions, ...keepOut.filter((hole) => !hole.fixed)].map(there);
  if (![...drawn, ...(screen ? [screen] : [])].every((points) => keepsInFront(h, points))) return null;
  return {
    ...rest,
    regions: regions.map((region) => ({ points: carried(there(region)) })),
    keepOut: [
      ...keepOut.map((hole) => (hole.fixed ? { points: there(hole), fixed: true } : { points: carried(there(hole)) })),
      ...(key.disagreement ? traceDisagreement(key.disagreement) : [])
        .filter((points) => keepsInFront(h, points))
        .map((points) => ({ points: carried(points) })),
    ],
    ...(screen ? { screen: carried(screen) } : {}),
  };
}

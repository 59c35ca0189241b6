import { IDENTITY, type Homography, type Point } from '../../base/geometry/homography.ts';
import type { LumaFrame } from '../../base/image/luma-frame.ts';
import type { CodedPicture } from '../../base/image/picture.ts';
import type { PlateColour } from '../../base/image/plate-colour.ts';
import { Problem } from '../../base/problem/problem.ts';
import { alignedRegion, alignPair, type AlignPlan, type PairFit } from './align-pair.ts';
import { joinPictures, lightOfWhole, meeting } from './join-pictures.ts';
import { jumpLeft, type JumpLeft } from './jump-left.ts';
import { loopFrame, loopTimes, smooth, type LoopTimes } from './loop-times.ts';
import { gainsBetween, SAME_LIGHT, type Gains } from './match-light.ts';
import { shareWhenGone } from './split-share.ts';
import { warpLight } from './warp-light.ts';

/** How pictures are joined, whatever they come from. */
export interface JoinSettings {
  readonly plan: AlignPlan;
  /** Told by hand, or null where it is solved; `null` as a map where what was given makes none. */
  readonly told: { readonly map: Homography | null } | null;
  readonly light: boolean;
  /** How much of each pixel is within the split on a frame, 0…1; null without one. */
  readonly splitAt: ((frame: number) => Float32Array) | null;
  /** Where the settings stand, for what is said of them. */
  readonly where: string;
}

export interface JoinSize {
  readonly width: number;
  readonly height: number;
  readonly colour: PlateColour;
}

/** Codes of a frame that following is done on. */
type LumaOf = (frame: number) => LumaFrame | Promise<LumaFrame>;
/** A frame's picture. */
export type PictureOf = (frame: number) => CodedPicture | Promise<CodedPicture>;

export const AS_IT_IS: JoinSettings['told'] = { map: IDENTITY };

/** What both ways of joining share: pairs of frames, how each lies on its partner, their light. */
class Joining {
  readonly fits = new Map<number, PairFit | null>();
  jump: JumpLeft | null = null;
  protected readonly region: Point[];

  constructor(
    protected readonly settings: JoinSettings,
    protected readonly size: JoinSize,
  ) {
    this.region = alignedRegion(settings.plan, size.width, size.height);
  }

  /** How each pair lies on each other. Says how many could not be determined. @throws Problem loop-not-aligned where none could */
  protected async align(
    pairs: readonly (readonly [number, number])[],
    first: LumaOf,
    second: LumaOf,
    progress: (done: number, of: number) => void | Promise<void>,
  ): Promise<number> {
    const { told, plan, where } = this.settings;
    for (const [frame, partner] of pairs) {
      this.fits.set(
        frame,
        told
          ? told.map && { map: told.map, error: 0, confidence: 1 }
          : await alignPair(await first(frame), await second(partner), plan),
      );
      await progress(this.fits.size, pairs.length);
    }
    const lost = [...this.fits.values()].filter((fit) => !fit).length;
    if (this.fits.size > 0 && lost === this.fits.size) throw new Problem('loop-not-aligned', { where });
    return lost;
  }

  /** Where a frame's pixels are in its partner; as its nearest neighbour's where that could not be determined. */
  protected mapOf(frame: number): Homography {
    const known = [...this.fits].filter(([, fit]) => fit !== null).map(([at]) => at);
    const nearest = known.reduce((a, b) => (Math.abs(b - frame) < Math.abs(a - frame) ? b : a));
    return this.fits.get(nearest)!.map;
  }

  protected gains(a: CodedPicture, b: CodedPicture, map: Homography): Gains {
    const { width, height, colour } = this.size;
    const to = this.settings.light ? meeting(map, 0, width, height) : null;
    const other = to && warpLight(lightOfWhole(b, colour), width, height, to.second);
    return other ? gainsBetween(lightOfWhole(a, colour), other.planes, width, height, this.region) : SAME_LIGHT;
  }

  protected async measure(a: CodedPicture, b: CodedPicture, map: Homography): Promise<JumpLeft> {
    return (this.jump = await jumpLeft(
      a,
      b,
      { map, gains: this.gains(a, b, map) },
      this.size.colour,
      this.region,
      this.settings.plan,
    ));
  }

  /** How each frame lies on its partner, for telling. */
  protected joins() {
    return [...this.fits].map(([frame, fit]) => ({
      frame,
      ...(fit ? { map: [...fit.map] as number[], error: fit.error } : { lost: true }),
    }));
  }
}

/** The end of a span of frames goes over into its beginning. */
export class LoopJoin extends Joining {
  readonly times: LoopTimes;
  /** Pictures of the result, and pairs that are aligned. */
  readonly length: number;
  readonly pairs: number;
  /** In the middle of going over. */
  readonly middle: number;

  /** @throws Problem loop-too-short where nothing is left between beginning and end */
  constructor(
    settings: JoinSettings,
    size: JoinSize,
    readonly frames: readonly [number, number],
    fade: number,
  ) {
    super(settings, size);
    this.times = loopTimes(frames[0], frames[1], fade);
    // Each frame of the beginning is used up by one of the end: what lies between must be left.
    if (this.times.length <= fade)
      throw new Problem('loop-too-short', { frames: frames[1] - frames[0] + 1, fade, least: 2 * fade + 1 });
    this.length = this.times.length;
    this.pairs = fade;
    this.middle = this.times.length - 1 - (fade >> 1);
  }

  prepare(luma: LumaOf, progress: (done: number, of: number) => void | Promise<void> = () => {}): Promise<number> {
    const { length, fade } = this.times;
    const pairs = Array.from({ length: fade }, (_, i) => {
      const { frame, partner } = loopFrame(this.times, length - fade + i);
      return [frame, partner!] as const;
    });
    return this.align(pairs, luma, luma, progress);
  }

  /** Picture `index` of the loop. */
  async make(index: number, pictureOf: PictureOf): Promise<CodedPicture> {
    const { frame, partner, part } = loopFrame(this.times, index);
    const picture = await pictureOf(frame);
    if (partner === null) return picture;
    const { width, height, colour } = this.size;
    const map = this.mapOf(frame);
    const other = await pictureOf(partner);
    const split = this.settings.splitAt?.(frame) ?? null;
    return joinPictures(
      picture,
      other,
      {
        map,
        gains: this.gains(picture, other, map),
        gone: smooth(part),
        second: shareWhenGone(part, split, width * height),
      },
      colour,
    );
  }

  /** What is left between beginning and end where they meet. */
  async measureJump(pictureOf: PictureOf): Promise<JumpLeft | null> {
    const { frame, partner } = loopFrame(this.times, this.middle);
    return partner === null ? null : this.measure(await pictureOf(frame), await pictureOf(partner), this.mapOf(frame));
  }

  report() {
    return {
      format: 'yarlop-loop/1' as const,
      frames: [...this.frames] as [number, number],
      fade: this.times.fade,
      length: this.times.length,
      jump: this.jump,
      joins: this.joins(),
    };
  }
}

/** Two takes side by side: within the split the second one, led onto the first. */
export class TakesJoin extends Joining {
  /** Frames of the first on which both are. */
  readonly both: readonly [number, number];
  readonly length: number;
  readonly pairs: number;

  /** Frame f of the first lies beside frame f + offset of the second. @throws Problem bad-field where none does */
  constructor(
    settings: JoinSettings,
    size: JoinSize,
    readonly frames: readonly [number, number],
    readonly offset: number,
    secondFrames: number,
  ) {
    super(settings, size);
    this.both = [Math.max(frames[0], -offset), Math.min(frames[1], secondFrames - 1 - offset)];
    this.length = frames[1] - frames[0] + 1;
    this.pairs = this.both[1] - this.both[0] + 1;
    if (this.both[0] > this.both[1])
      throw new Problem('bad-field', {
        where: settings.where,
        field: 'second.offset',
        why: `puts no frame of the second take (${secondFrames} frames) beside one of the first (${frames[0]} to ${frames[1]})`,
      });
  }

  prepare(
    first: LumaOf,
    second: LumaOf,
    progress: (done: number, of: number) => void | Promise<void> = () => {},
  ): Promise<number> {
    const [from, to] = this.both;
    return this.align(
      Array.from({ length: to - from + 1 }, (_, i) => [from + i, from + i + this.offset] as const),
      first,
      second,
      progress,
    );
  }

  /** Picture `index` of the result: the first take's with the second's part in it. */
  async make(index: number, firstOf: PictureOf, secondOf: PictureOf): Promise<CodedPicture> {
    const frame = this.frames[0] + index;
    const picture = await firstOf(frame);
    if (frame < this.both[0] || frame > this.both[1]) return picture;
    const other = await secondOf(frame + this.offset);
    const map = this.mapOf(frame);
    return joinPictures(
      picture,
      other,
      { map, gains: this.gains(picture, other, map), gone: 0, second: this.settings.splitAt!(frame) },
      this.size.colour,
    );
  }

  get middle(): number {
    return (this.both[0] + this.both[1]) >> 1;
  }

  async measureJump(firstOf: PictureOf, secondOf: PictureOf): Promise<JumpLeft> {
    return this.measure(await firstOf(this.middle), await secondOf(this.middle + this.offset), this.mapOf(this.middle));
  }

  report() {
    return {
      format: 'yarlop-loop/1' as const,
      frames: [...this.frames] as [number, number],
      jump: this.jump,
      joins: this.joins(),
    };
  }
}

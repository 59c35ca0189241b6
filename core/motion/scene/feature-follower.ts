import { upperMedian } from '../../base/image/statistics.ts';
import type { LumaFrame } from '../../base/image/luma-frame.ts';
import { WINDOW, WINDOW_HALF, type KernelSet } from '../../base/kernels/index.ts';
import { findCorners } from './feature-corners.ts';
import { anchorOf, type Anchor } from './feature-patch.ts';
import type { FeatureTrack } from './feature-tracks.ts';
import { openPictures, type ScenePicture } from './scene-picture.ts';
import type { Point } from '../../base/geometry/homography.ts';

export interface FeatureSettings {
  /** How many are followed at once. */
  readonly most: number;
  /** Whether a place of a frame (continuous pixels) may be looked at: people and hands are left out by keep-outs. */
  readonly allowed?: ((frame: number, x: number, y: number) => boolean) | undefined;
  /** Points put by hand, by frame: they are followed from there, whatever they show. */
  readonly drawn?: ReadonlyMap<number, readonly Point[]> | undefined;
  /** Backwards through the frames. */
  readonly backward?: boolean | undefined;
}

/** Cells over which features are spread. */
const ACROSS = 14;
const DOWN = 8;
/** Pictures wider than this are searched for corners at half their size. */
const WIDE = 1200;
const APART = 9;
/** Normalised correlation below which a window does not show what it did: from frame to frame, and to the anchor. */
const LIKE_LAST = 0.82;
const LIKE_ANCHOR = 0.88;
const SURELY = 0.96;
/** How far the anchor may pull a feature off what the frames say, and back and forth may differ, px. */
const PULLED = 1.5;
const THERE_AND_BACK = 0.4;
/** An anchor seen so much larger or smaller, or a window bent so far, is taken anew. */
const MOST_SCALE = 1.6;
/** Places in a feature's fit. */
const X = 0;
const Y = 1;
const SCORE = 6;
const ROUNDS = 12;
const COARSE_ROUNDS = 6;
const FINDS_EVERY = 6;
const FEWEST = 0.85;

interface Feature {
  readonly track: FeatureTrack;
  anchor: Anchor;
  /** How the anchor is seen: [x, y, a, b, c, d, score], x and y in sample indices of the picture itself. */
  readonly fit: Float64Array;
  velocity: [number, number];
}

/** Follows features through consecutive frames: from frame to frame to find them, then by an affine fit to how they looked at first, so that they do not drift. */
export class FeatureFollower {
  readonly tracks: FeatureTrack[] = [];
  private alive: Feature[] = [];
  private now: ScenePicture;
  private before: ScenePicture;
  private frame = -1;
  private found = -Infinity;
  private usual: [number, number] = [0, 0];
  private readonly set: KernelSet;
  private readonly window = new Float32Array(3 * WINDOW);
  private readonly at = new Float64Array(3);

  constructor(
    readonly width: number,
    readonly height: number,
    private readonly settings: FeatureSettings,
  ) {
    [this.now, this.before] = openPictures(width, height, 2) as [ScenePicture, ScenePicture];
    this.set = this.now.set;
  }

  /** Takes in the next frame; tells how many features are followed on it. */
  step(frame: number, luma: LumaFrame): number {
    if (this.frame >= 0 && frame !== this.frame + (this.settings.backward ? -1 : 1))
      throw new RangeError(`frame ${frame} does not come after ${this.frame}`);
    [this.now, this.before] = [this.before, this.now];
    this.now.fill(luma);
    if (this.frame >= 0) this.follow(frame);
    this.frame = frame;
    for (const [x, y] of this.settings.drawn?.get(frame) ?? []) this.begin(frame, x - 0.5, y - 0.5);
    if (
      this.settings.most > 0 &&
      (this.alive.length < FEWEST * this.settings.most || Math.abs(frame - this.found) >= FINDS_EVERY)
    )
      this.find(frame);
    return this.alive.length;
  }

  private follow(frame: number): void {
    const { width, height } = this;
    const kept: Feature[] = [];
    const ways: [number[], number[]] = [[], []];
    for (const feature of this.alive) {
      const { fit } = feature;
      const fromX = fit[X]!;
      const fromY = fit[Y]!;
      const moved = this.shift(feature);
      if (!moved || !this.settle(feature, moved, fromX, fromY)) continue;
      const x = fit[X]! + 0.5;
      const y = fit[Y]! + 0.5;
      if (x < 0 || y < 0 || x > width || y > height || this.settings.allowed?.(frame, x, y) === false) continue;
      feature.velocity = [fit[X]! - fromX, fit[Y]! - fromY];
      ways[0].push(feature.velocity[0]);
      ways[1].push(feature.velocity[1]);
      feature.track.xs.push(x);
      feature.track.ys.push(y);
      kept.push(feature);
    }
    this.alive = this.thinned(kept);
    if (ways[0].length > 0) this.usual = [upperMedian(ways[0]), upperMedian(ways[1])];
  }

  /** Where a feature went since the frame before, from coarse to fine; null where it is not found. */
  private shift({ fit, velocity, track }: Feature): { x: number; y: number } | null {
    const guesses: [number, number, number][] =
      track.xs.length > 1
        ? [
            [velocity[0], velocity[1], 2],
            [this.usual[0], this.usual[1], 4],
            [0, 0, 4],
          ]
        : [
            [this.usual[0], this.usual[1], 3],
            [0, 0, 4],
          ];
    const there = this.at;
    for (const [gx, gy, coarsest] of guesses) {
      let dx = gx;
      let dy = gy;
      let score = 0;
      let fine = false;
      for (let level = Math.min(coarsest, this.now.levels.length - 1); level >= 0; level--) {
        const scale = 2 ** level;
        const x = fit[X]! / scale;
        const y = fit[Y]! / scale;
        there[0] = x + dx / scale;
        there[1] = y + dy / scale;
        fine = this.set.shiftWindow(
          this.before.levels[level]!,
          x,
          y,
          this.now.levels[level]!,
          there,
          level === 0 ? ROUNDS : COARSE_ROUNDS,
        );
        // Near the border the coarse levels have no room: the finer ones may still.
        if (!fine) continue;
        dx = (there[0] - x) * scale;
        dy = (there[1] - y) * scale;
        score = there[2]!;
      }
      if (fine && score > LIKE_LAST) return { x: fit[X]! + dx, y: fit[Y]! + dy };
    }
    return null;
  }

  /** Holds the feature to its anchor, or takes a new one; false where it is lost. */
  private settle(feature: Feature, moved: { x: number; y: number }, fromX: number, fromY: number): boolean {
    const now = this.now.levels[0]!;
    const { fit, anchor } = feature;
    const next = Float64Array.from(fit);
    next[X] = moved.x;
    next[Y] = moved.y;
    const held =
      this.set.fitWindow(now, anchor.window, anchor.mean, anchor.factor, next, ROUNDS) &&
      next[SCORE]! > LIKE_ANCHOR &&
      Math.hypot(next[X] - moved.x, next[Y] - moved.y) < PULLED;
    if (!(held && next[SCORE]! > SURELY) && !this.thereAndBack(moved, fromX, fromY)) return false;
    const [, , a = 0, b = 0, c = 0, d = 0] = next;
    const scale = Math.sqrt(Math.abs(a * d - b * c));
    const bent = Math.hypot(a - d, b + c) / (2 * Math.max(1e-6, scale));
    if (held && scale < MOST_SCALE && scale > 1 / MOST_SCALE && bent < 0.5) {
      fit.set(next);
      return true;
    }
    const x = held ? next[X] : moved.x;
    const y = held ? next[Y] : moved.y;
    if (!this.set.takeWindow(now, x, y, this.window)) return false;
    feature.anchor = anchorOf(this.window);
    fit.set([x, y, 1, 0, 0, 1, 1]);
    return feature.anchor.usable;
  }

  private thereAndBack(moved: { x: number; y: number }, fromX: number, fromY: number): boolean {
    const back = this.at;
    back[0] = fromX;
    back[1] = fromY;
    return (
      this.set.shiftWindow(this.now.levels[0]!, moved.x, moved.y, this.before.levels[0]!, back, ROUNDS) &&
      Math.hypot(back[0] - fromX, back[1] - fromY) < THERE_AND_BACK
    );
  }

  /** Of features that have run together only the older stays. */
  private thinned(features: readonly Feature[]): Feature[] {
    const apart = APART / 2;
    const taken = new Set<number>();
    const across = Math.ceil(this.width / apart);
    return features.filter(({ fit }) => {
      const square = Math.floor(fit[Y]! / apart) * across + Math.floor(fit[X]! / apart);
      const free = !taken.has(square);
      taken.add(square);
      return free;
    });
  }

  private find(frame: number): void {
    const index = this.width > WIDE ? 1 : 0;
    const scale = 2 ** index;
    const level = this.now.levels[index]!;
    const { allowed, most } = this.settings;
    const corners = findCorners(
      { width: level.width, height: level.height, data: level.data },
      {
        across: ACROSS,
        down: DOWN,
        each: Math.ceil(most / (ACROSS * DOWN)),
        apart: APART,
        margin: Math.ceil((WINDOW_HALF + 3) / scale),
        known: this.alive.map(({ fit }) => ({ x: fit[X]! / scale, y: fit[Y]! / scale })),
        allowed: allowed ? (x, y) => allowed(frame, x * scale + 0.5, y * scale + 0.5) : () => true,
      },
    );
    for (const corner of corners.slice(0, Math.max(0, most - this.alive.length)))
      this.begin(frame, corner.x * scale, corner.y * scale);
    this.found = frame;
  }

  /** Begins to follow what is at a place, sample indices. */
  private begin(frame: number, x: number, y: number): void {
    if (!this.set.takeWindow(this.now.levels[0]!, x, y, this.window)) return;
    const anchor = anchorOf(this.window);
    if (!anchor.usable) return;
    const track: FeatureTrack = { first: frame, xs: [x + 0.5], ys: [y + 0.5] };
    this.tracks.push(track);
    this.alive.push({ track, anchor, fit: Float64Array.of(x, y, 1, 0, 0, 1, 1), velocity: [0, 0] });
  }
}

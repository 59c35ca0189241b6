import { LOST_BELOW } from './confidence.ts';
import type { Attempt, Registration } from './registration.ts';

/** With less agreeing detail than this share of the usual, another place is looked for. */
const SHARE = 0.75;
/** With less agreeing detail near one of its borders than this share of the usual, the border may have been left. */
const SHARE_OF_SIDE = 0.6;
/** Residuals that spread so many times as wide as usual make one look elsewhere, too. */
const UNUSUAL_NOISE = 3;
const LITTLE_NOISE = 0.006;
/** How fast the usual follows what is found; and noise that is never taken for usual. */
const RATE = 0.2;
const MOST_NOISE = 0.05;

/** What is usual, as plain values. */
export interface UsualState {
  readonly noise: number;
  readonly usualDetail: number;
  readonly usualSides: readonly number[];
}

/** How the surface has fitted on the last frames: what a new attempt is measured by. */
export class UsualFit {
  /** The share of detail that agreed. */
  private detail = 1;
  /** Likewise near each border. */
  private sides: readonly number[] = [1, 1, 1, 1];

  constructor(private readonly registration: Registration) {}

  /** Below 1 where the residuals are much wilder than they have been: another place may fit better. */
  quietness(attempt: Attempt): number {
    return Math.min(1, (UNUSUAL_NOISE * Math.max(LITTLE_NOISE, this.registration.noise)) / attempt.noise);
  }

  /** True where much less detail agrees than did. */
  lacksDetail({ quality }: Attempt): boolean {
    return quality.detail < SHARE * this.detail;
  }

  /** True where much less agrees near one of the region's borders than did. */
  leavesSide({ quality }: Attempt): boolean {
    return quality.sides.some((share, side) => share < SHARE_OF_SIDE * this.sides[side]!);
  }

  /** Which of two attempts is believed. */
  scoreOf(attempt: Attempt): number {
    return attempt.confidence * attempt.quality.detail * this.quietness(attempt);
  }

  /** Takes in what was found on a frame. */
  learn({ confidence, quality, noise }: Attempt): void {
    if (confidence > LOST_BELOW) this.detail += RATE * (quality.detail - this.detail);
    if (confidence > LOST_BELOW)
      this.sides = this.sides.map((usual, side) => usual + RATE * ((quality.sides[side] || usual) - usual));
    if (confidence > 0.8) this.registration.noise += RATE * (Math.min(MOST_NOISE, noise) - this.registration.noise);
  }

  state(): UsualState {
    return { noise: this.registration.noise, usualDetail: this.detail, usualSides: this.sides };
  }

  restore({ noise, usualDetail, usualSides }: UsualState): void {
    this.registration.noise = noise;
    this.detail = usualDetail;
    this.sides = usualSides;
  }
}

/** What has been learnt so far. */
export interface ShutterState {
  readonly sums: readonly number[];
  readonly frames: number;
}

/** So many smeared frames tell the shutter well enough. */
const ENOUGH = 12;

/**
 * Learns how long the shutter is open from frames that are visibly smeared: for each the misfit is
 * measured at a few shutter lengths, and the sums over frames have their minimum at the true one.
 */
export class ShutterEstimate {
  static readonly TRIALS = [0, 0.25, 0.5, 0.75, 1] as const;

  private readonly sums = new Float64Array(ShutterEstimate.TRIALS.length);
  private frames = 0;

  constructor(private readonly assumed = 0.5) {}

  /** True once more frames would change little. */
  get settled(): boolean {
    return this.frames >= ENOUGH;
  }

  /** One frame's misfits, in the order of TRIALS. Frames count alike whatever their contrast. */
  add(misfits: readonly number[]): void {
    const least = Math.min(...misfits);
    if (!(least > 0)) return;
    misfits.forEach((misfit, i) => (this.sums[i]! += misfit / least));
    this.frames++;
  }

  state(): ShutterState {
    return { sums: [...this.sums], frames: this.frames };
  }

  restore({ sums, frames }: ShutterState): void {
    this.sums.set(sums);
    this.frames = frames;
  }

  /** Fraction of a frame; the vertex of the parabola about the least sum. */
  get value(): number {
    if (this.frames < 2) return this.assumed;
    const trials = ShutterEstimate.TRIALS;
    let at = 0;
    for (let i = 1; i < trials.length; i++) if (this.sums[i]! < this.sums[at]!) at = i;
    if (at === 0 || at === trials.length - 1) return trials[at]!;
    const [before, here, after] = [this.sums[at - 1]!, this.sums[at]!, this.sums[at + 1]!];
    const bend = before - 2 * here + after;
    const shift = bend > 0 ? (before - after) / (2 * bend) : 0;
    return trials[at]! + shift * 0.25;
  }
}

import { clamp } from '../../base/geometry/clamp.ts';
import { median } from '../../base/image/statistics.ts';
import type { LevelScratch } from './align-level.ts';
import type { Template, TemplateLevel } from './template.ts';

/** Side of a cell, reference pixels. */
const CELL = 6;
/** How fast a finding, of every other frame, replaces what was known. */
const RATE = 0.28;
/** Contradictions are kept in steps of one part in so many. */
const GRAIN = 1024;
/** One frame's contradiction counts as no more than this. */
const MOST = 60;
/** A cell that contradicts this many times as much as is usual is half believed. */
const HALF_AT = 4;
/** Cells are never wholly left out: they may come back. */
const LEAST = 0.02;
/** Neighbouring samples of the smoothed signal repeat each other: so many of them count as one. */
const CORRELATED_SAMPLES = 5;

/**
 * What the follower has learnt about every small square of the region: whether it keeps to the common motion. Background
 * that was drawn into the region, a hand that stays where it is, a reflection: their squares would like to move, or
 * never fit. What contradicted on the last frames is believed less on the next.
 */
export class TrustMap {
  private readonly columns: number;
  /** Contradiction of each cell: 2 on average for noise alone. */
  private readonly contradiction: Float32Array;
  private readonly sums: Float64Array;
  private readonly cells: readonly Int32Array[];

  constructor(private readonly template: Template) {
    this.columns = Math.ceil(template.width / CELL);
    const count = this.columns * Math.ceil(template.height / CELL);
    this.contradiction = new Float32Array(count).fill(2);
    this.sums = new Float64Array(count * 6);
    this.cells = template.levels.map(({ xs, ys, count: points, level }) => {
      const cells = new Int32Array(points);
      for (let i = 0; i < points; i++) cells[i] = this.cellOf(xs[i]!, ys[i]!, level);
      return cells;
    });
  }

  private cellOf(x: number, y: number, level: number): number {
    return Math.floor((y * 2 ** level) / CELL) * this.columns + Math.floor((x * 2 ** level) / CELL);
  }

  /** Takes in the finest level's residuals of a frame that fits well; `scale` is their spread. */
  learn(level: TemplateLevel, s: LevelScratch, gain: number, scale: number): void {
    const { sums } = this;
    const cells = this.cells[0]!;
    const { count } = level;
    const { sampled, blurred } = s;
    sums.fill(0);
    for (let i = 0; i < count; i++) {
      if (sampled[i + 3 * count] === 0) continue;
      const at = cells[i]! * 6;
      const r = clamp(sampled[i]!, -0.2, 0.2);
      const gx = (gain * blurred[i + count]! + sampled[i + count]!) / 2;
      const gy = (gain * blurred[i + 2 * count]! + sampled[i + 2 * count]!) / 2;
      sums[at]! += gx * gx;
      sums[at + 1]! += gx * gy;
      sums[at + 2]! += gy * gy;
      sums[at + 3]! += gx * r;
      sums[at + 4]! += gy * r;
      sums[at + 5]! += 1;
    }
    const variance = scale * scale * CORRELATED_SAMPLES;
    for (let cell = 0; cell < this.contradiction.length; cell++) {
      const at = cell * 6;
      if (sums[at + 5]! < 4) continue;
      // A little stiffness, so that an edge is asked along its normal only.
      const little = 0.05 * (sums[at]! + sums[at + 2]!) + variance;
      const xx = sums[at]! + little;
      const xy = sums[at + 1]!;
      const yy = sums[at + 2]! + little;
      const x = sums[at + 3]!;
      const y = sums[at + 4]!;
      const explained = (yy * x * x - 2 * xy * x * y + xx * y * y) / (xx * yy - xy * xy);
      const now = this.contradiction[cell]! + RATE * (Math.min(MOST, explained / variance) - this.contradiction[cell]!);
      this.contradiction[cell] = Math.round(now * GRAIN) / GRAIN;
    }
  }

  /** Each cell's contradiction in grains: whole numbers, so that nothing is lost in writing them down. */
  state(): number[] {
    return Array.from(this.contradiction, (v) => v * GRAIN);
  }

  restore(grains: readonly number[]): void {
    if (grains.length !== this.contradiction.length)
      throw new RangeError(`${grains.length} cells are not those of this region`);
    this.contradiction.set(grains.map((v) => v / GRAIN));
  }

  /** How far each cell is believed, 0.02…1, for every point of every level: written into `out` times what is there. */
  weigh(out: (level: TemplateLevel) => Float32Array): void {
    const touched = this.contradiction.filter((v) => v !== 2);
    const usual = Math.max(2, touched.length > 0 ? median(touched) : 2);
    const believed = this.contradiction.map((v) =>
      Math.max(LEAST, 1 / (1 + (Math.max(0, v / usual - 1) / (HALF_AT - 1)) ** 2)),
    );
    this.template.levels.forEach((level, index) => {
      const prior = out(level);
      const cells = this.cells[index]!;
      for (let i = 0; i < level.count; i++) prior[i]! *= believed[cells[i]!]!;
    });
  }
}

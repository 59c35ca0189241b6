import { DETAIL_OFF, unnoticedResidual } from './fit-quality.ts';
import type { LevelScratch } from './align-level.ts';
import type { TemplateLevel } from './template.ts';

/** How much of each small square of the region disagrees with the common motion. */
export interface Disagreement {
  /** Side of a square, and the left upper corner of the first, reference pixels. */
  readonly cell: number;
  readonly left: number;
  readonly top: number;
  readonly columns: number;
  /** Row by row, one sign each: tenths of what was looked at there, 0…9; a point where nothing was looked at or seen. */
  readonly cells: string;
}

/** Side of a square, reference pixels; larger where a region would have more than so many of them along a side. */
const SMALLEST_CELL = 6;
const MOST_CELLS = 96;
/** Squares with fewer points tell nothing. */
const LEAST_POINTS = 2;

/** Reads from a frame's residuals which squares of a region do not go with it. */
export class DisagreementReader {
  private readonly cell: number;
  private readonly left: number;
  private readonly top: number;
  private readonly columns: number;
  private readonly cellOfPoint: Int32Array;
  private readonly seen: Uint16Array;
  private readonly against: Uint16Array;

  constructor(level: TemplateLevel) {
    const { chosenPrior, count } = level;
    const across = (i: number) => level.xs[i]! << level.level;
    const down = (i: number) => level.ys[i]! << level.level;
    let left = Infinity;
    let top = Infinity;
    let right = -Infinity;
    let bottom = -Infinity;
    for (let i = 0; i < count; i++) {
      if (chosenPrior[i] === 0) continue;
      [left, right] = [Math.min(left, across(i)), Math.max(right, across(i))];
      [top, bottom] = [Math.min(top, down(i)), Math.max(bottom, down(i))];
    }
    this.cell = Math.max(SMALLEST_CELL, Math.ceil((Math.max(right - left, bottom - top) + 1) / MOST_CELLS));
    [this.left, this.top] = [left, top];
    this.columns = Math.floor((right - left) / this.cell) + 1;
    this.cellOfPoint = Int32Array.from({ length: count }, (_, i) =>
      chosenPrior[i] === 0
        ? -1
        : Math.floor((down(i) - top) / this.cell) * this.columns + Math.floor((across(i) - left) / this.cell),
    );
    const cells = this.columns * (Math.floor((bottom - top) / this.cell) + 1);
    this.seen = new Uint16Array(cells);
    this.against = new Uint16Array(cells);
  }

  /** Takes the level's residuals in `s`, under a light of some gain; `noise` is the usual spread of residuals. */
  read(level: TemplateLevel, gain: number, noise: number, s: LevelScratch): Disagreement {
    const { seen, against, cellOfPoint } = this;
    const { sampled, blurred } = s;
    const { count } = level;
    const unnoticed = unnoticedResidual(noise);
    seen.fill(0);
    against.fill(0);
    for (let i = 0; i < count; i++) {
      const at = cellOfPoint[i]!;
      if (at < 0 || sampled[i + 3 * count] === 0) continue;
      const slope2 = gain * gain * (blurred[i + count]! ** 2 + blurred[i + 2 * count]! ** 2);
      seen[at]!++;
      if (sampled[i]! ** 2 >= Math.max(DETAIL_OFF ** 2 * slope2, unnoticed)) against[at]!++;
    }
    const cells = signs(seen.length, (at) =>
      seen[at]! < LEAST_POINTS ? null : Math.floor((10 * against[at]!) / seen[at]!),
    );
    return { cell: this.cell, left: this.left, top: this.top, columns: this.columns, cells };
  }
}

/** Tenths as signs, null as a point; at once, since a text that grows sign by sign takes thirty times its size. */
function signs(count: number, tenths: (at: number) => number | null): string {
  const codes = Array.from({ length: count }, (_, at) => {
    const value = tenths(at);
    return value === null ? POINT : ZERO + Math.min(9, value);
  });
  return String.fromCharCode(...codes);
}
const POINT = 46;
const ZERO = 48;

const layout = ({ cell, left, top, columns, cells }: Disagreement): string =>
  [cell, left, top, columns, cells.length].join();

/**
 * The mean of what was seen on several frames; null without any. Squares seen on fewer than a fifth of them tell nothing.
 * Where the region was drawn anew between runs, the layout that most of the frames share counts.
 */
export function meanDisagreement(all: readonly Disagreement[]): Disagreement | null {
  const groups = new Map<string, Disagreement[]>();
  for (const seen of all) {
    const key = layout(seen);
    const group = groups.get(key);
    if (group) group.push(seen);
    else groups.set(key, [seen]);
  }
  const frames = [...groups.values()].reduce<Disagreement[]>(
    (most, group) => (group.length > most.length ? group : most),
    [],
  );
  const [first] = frames;
  if (!first) return null;
  const sums = new Float64Array(first.cells.length);
  const seen = new Uint32Array(first.cells.length);
  for (const { cells } of frames) {
    for (let at = 0; at < cells.length; at++) {
      if (cells[at] === '.') continue;
      sums[at]! += Number(cells[at]);
      seen[at]!++;
    }
  }
  return {
    ...first,
    cells: signs(sums.length, (at) =>
      seen[at]! * 5 < frames.length || seen[at] === 0 ? null : Math.round(sums[at]! / seen[at]!),
    ),
  };
}

/** Shares 0…1 smoothed over each square and its neighbours, row by row; places that tell nothing take their neighbours' or 0. */
export function smoothShares({ columns, cells }: Disagreement): Float64Array {
  return smoothed(
    Float64Array.from(cells, (sign) => (sign === '.' ? NaN : (Number(sign) + (sign === '9' ? 1 : 0)) / 10)),
    columns,
  );
}

/** Values of a grid smoothed over 3×3 places with the binomial weights; NaN counts for nothing, alone as 0. */
export function smoothed(values: Float64Array, columns: number): Float64Array {
  const rows = values.length / columns;
  return values.map((_, at) => {
    const x = at % columns;
    const y = Math.floor(at / columns);
    let sum = 0;
    let weights = 0;
    for (let dy = -1; dy <= 1; dy++) {
      for (let dx = -1; dx <= 1; dx++) {
        if (x + dx < 0 || x + dx >= columns || y + dy < 0 || y + dy >= rows) continue;
        const value = values[at + dy * columns + dx]!;
        const weight = Number.isNaN(value) ? 0 : (dx === 0 ? 2 : 1) * (dy === 0 ? 2 : 1);
        if (weight === 0) continue;
        sum += weight * value;
        weights += weight;
      }
    }
    return weights > 0 ? sum / weights : 0;
  });
}

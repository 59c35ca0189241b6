export interface LevelVariance {
  readonly level: number;
  readonly variance: number;
  readonly count: number;
}

/** Variance as a straight line over the level, and the levels at which it was seen, which go before the line. */
export interface NoiseLine {
  readonly floor: number;
  readonly slope: number;
  readonly seen: readonly LevelVariance[];
}

/** Steps of the level at which grain is determined. */
export const STEPS = 8;
/** Classes this near to the line belong to it; those within the wider bounds keep a say of their own, for curves that are not straight. */
const ON_LINE = 0.15;
const NEAR_LINE = 0.3;

/**
 * The line of variance over level (photon noise over a floor) on which most blocks agree, of all that two classes make: a class whose flattest blocks hold
 * texture lies above it, and is left out. Null where there is no class.
 */
export function noiseLine(classes: readonly LevelVariance[]): NoiseLine | null {
  if (classes.length === 0) return null;
  const off = ({ level, variance }: LevelVariance, [a, b]: readonly [number, number]) =>
    variance / Math.max(1e-12, a + b * level) - 1;
  const lines: (readonly [number, number])[] = classes.map(({ variance }) => [variance, 0] as const);
  classes.forEach((p, i) =>
    classes.slice(i + 1).forEach((q) => {
      const slope = (q.variance - p.variance) / (q.level - p.level);
      const floor = p.variance - slope * p.level;
      if (Math.abs(q.level - p.level) > 0.04 && slope >= 0 && floor >= -0.1 * p.variance)
        lines.push([Math.max(0, floor), slope]);
    }),
  );
  // Texture only adds: a class below a line speaks against it more than one above it.
  const score = (line: readonly [number, number]) =>
    classes.reduce(
      (s, c) => s + (Math.abs(off(c, line)) <= ON_LINE ? c.count : off(c, line) < -ON_LINE ? -2 * c.count : 0),
      0,
    );
  const best = lines.reduce((a, b) => (score(b) > score(a) ? b : a));
  const on = classes.filter((c) => Math.abs(off(c, best)) <= ON_LINE);
  const [floor, slope] = variancesLine(on.length > 0 ? on : classes);
  return { floor, slope, seen: classes.filter((c) => Math.abs(off(c, [floor, slope])) <= NEAR_LINE) };
}

/**
 * Lines of all channels with one shape: the same photon noise over the same floor, each channel by a gain of its own. A channel that is seen only dark, as blue
 * among leaves, is led on by what the others show. Alternating least squares.
 */
export function alikeLines(lines: readonly NoiseLine[]): NoiseLine[] {
  if (lines.some(({ seen }) => seen.length === 0)) return [...lines];
  let gains = lines.map(() => 1);
  let shape: [number, number] = [1, 0];
  for (let round = 0; round < 12; round++) {
    shape = variancesLine(
      lines.flatMap(({ seen }, c) =>
        seen.map(({ level, variance, count }) => ({ level, variance: variance / gains[c]!, count })),
      ),
    );
    const told = ({ level }: LevelVariance) => Math.max(1e-12, shape[0] + shape[1] * level);
    gains = lines.map(
      ({ seen }) =>
        seen.reduce((s, one) => s + one.count * (one.variance / told(one)), 0) /
        seen.reduce((s, one) => s + one.count, 0),
    );
    const whole = gains.reduce((s, g) => s + g, 0) / gains.length;
    gains = gains.map((g) => g / whole);
  }
  return lines.map(({ seen }, c) => ({ floor: gains[c]! * shape[0], slope: gains[c]! * shape[1], seen }));
}

/** The variance at a level: the line's, drawn towards what was seen there. */
export function varianceAt({ floor, slope, seen }: NoiseLine, level: number): number {
  const line = floor + slope * level;
  const near = seen.reduce(
    (sum, s) => {
      const weight = Math.exp(-(((s.level - level) / 0.08) ** 2)) * s.count;
      return {
        weight: sum.weight + weight,
        ratio: sum.ratio + (weight * s.variance) / Math.max(1e-12, floor + slope * s.level),
      };
    },
    { weight: 40, ratio: 40 },
  );
  return Math.max(0, (line * near.ratio) / near.weight);
}

/** Straight line through variances over levels by weighted least squares, relative errors alike; never falling, never below nothing. */
function variancesLine(classes: readonly LevelVariance[]): [number, number] {
  let w = 0;
  let wx = 0;
  let wy = 0;
  let wxx = 0;
  let wxy = 0;
  for (const { level: x, variance: y, count } of classes) {
    const weight = count / (y * y + 1e-14);
    w += weight;
    wx += weight * x;
    wy += weight * y;
    wxx += weight * x * x;
    wxy += weight * x * y;
  }
  const det = w * wxx - wx * wx;
  const slope = det > 1e-9 * w * wxx ? Math.max(0, (w * wxy - wx * wy) / det) : 0;
  return [Math.max(0, (wy - slope * wx) / w), slope];
}

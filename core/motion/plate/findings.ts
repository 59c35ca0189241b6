import { median } from '../../base/image/statistics.ts';
import type { CheckFinding, CheckRow } from '../../base/schemas/types.ts';
import type { FrameFigures } from './frame-figures.ts';

/** Blur from here on hurts following. */
const BLUR_PX = 4;
/** Movement from here on (pixels a frame) is worth a word where the smear itself can't be determined. */
const FAST_PX = 12;
const DARK_SHARE = 0.55;
const BRIGHT_SHARE = 1.6;

/** What is hard about a plate, as spans of frames, in the order of the frames. */
export function findings(rows: readonly CheckRow[], figures: readonly FrameFigures[]): CheckFinding[] {
  const usual = median(rows.map((r) => r.exposure));
  // The median of some frames: a pattern that repeats may make a frame or two seem to leap.
  const speedAt = (frame: number): number =>
    rows[frame]!.cut || rows[frame + 1]?.cut
      ? 0
      : median(figures.slice(Math.max(1, frame - 3), frame + 4).map((f) => f.motion.speed));
  const spans = [
    ...spansOf(rows, (r) => r.blur >= BLUR_PX).map((s): CheckFinding => ({
      kind: 'blur',
      frames: s,
      amount: Math.max(...rows.slice(s[0], s[1] + 1).map((r) => r.blur)),
    })),
    ...spansOf(rows, (r) => r.blur === 0 && speedAt(r.frame) >= FAST_PX).map((s): CheckFinding => ({
      kind: 'fast',
      frames: s,
      amount: Math.max(...range(s).map(speedAt)),
    })),
    ...spansOf(rows, (r) => r.repeats !== null).map((s): CheckFinding => ({
      kind: 'repeat',
      frames: s,
      amount: rows[s[0]]!.repeats,
    })),
    ...rows.filter((r) => r.cut).map((r): CheckFinding => ({ kind: 'cut', frames: [r.frame, r.frame], amount: null })),
    ...spansOf(rows, (r) => r.flash).map((s): CheckFinding => ({ kind: 'flash', frames: s, amount: null })),
    ...spansOf(rows, (r) => !r.flash && r.exposure < DARK_SHARE * usual).map((s): CheckFinding => ({
      kind: 'dark',
      frames: s,
      amount: Math.min(...rows.slice(s[0], s[1] + 1).map((r) => r.exposure)),
    })),
    ...spansOf(rows, (r) => !r.flash && r.exposure > BRIGHT_SHARE * usual).map((s): CheckFinding => ({
      kind: 'bright',
      frames: s,
      amount: Math.max(...rows.slice(s[0], s[1] + 1).map((r) => r.exposure)),
    })),
    ...dropped(rows, figures).map((frame): CheckFinding => ({ kind: 'drop', frames: [frame, frame], amount: null })),
  ];
  return spans.sort((a, b) => a.frames[0] - b.frames[0] || a.kind.localeCompare(b.kind));
}

const range = ([from, to]: readonly [number, number]): number[] =>
  Array.from({ length: to - from + 1 }, (_, i) => from + i);

/** Runs of frames for which something holds. */
function spansOf(rows: readonly CheckRow[], holds: (row: CheckRow) => boolean): [number, number][] {
  const out: [number, number][] = [];
  for (const row of rows) {
    if (!holds(row)) continue;
    const last = out.at(-1);
    if (last && row.frame === last[1] + 1) last[1] = row.frame;
    else out.push([row.frame, row.frame]);
  }
  return out;
}

/** Frames before which one seems to be missing: twice the step of both neighbours, which agree with each other. */
function dropped(rows: readonly CheckRow[], figures: readonly FrameFigures[]): number[] {
  const out: number[] = [];
  for (let f = 2; f < figures.length - 1; f++) {
    const [before, here, after] = [
      figures[f - 1]!.motion.speed,
      figures[f]!.motion.speed,
      figures[f + 1]!.motion.speed,
    ];
    const usual = (before + after) / 2;
    const odd = rows[f]!.cut || rows[f - 1]!.cut || rows[f - 1]!.repeats !== null || rows[f + 1]!.repeats !== null;
    if (!odd && usual >= 2 && Math.abs(before - after) < 0.25 * usual && here > 1.7 * usual && here < 2.4 * usual)
      out.push(f);
  }
  return out;
}

/** A finding in words, with the plate's own frame numbers. */
export function findingWords({ kind, frames: [from, to], amount }: CheckFinding, firstNumber: number): string {
  const a = from + firstNumber;
  const b = to + firstNumber;
  const span = a === b ? `frame ${a}` : `frames ${a}–${b}`;
  switch (kind) {
    case 'blur':
      return `${span} blurred up to ${Math.round(amount ?? 0)} px`;
    case 'fast':
      return `${span} move up to ${Math.round(amount ?? 0)} px a frame`;
    case 'repeat':
      return a === b ? `${a} repeats ${a - 1}` : `${a}–${b} repeat ${a - 1}`;
    case 'drop':
      return `a frame seems to be missing before ${a}`;
    case 'cut':
      return `cut at ${a}`;
    case 'flash':
      return `flash on ${span}`;
    case 'dark':
      return `${span} dark (mean ${(amount ?? 0).toFixed(2)})`;
    case 'bright':
      return `${span} bright (mean ${(amount ?? 0).toFixed(2)})`;
  }
}

import { clamp } from '../../base/geometry/clamp.ts';
import type { LumaFrame } from '../../base/image/luma-frame.ts';
import { median, quantile } from '../../base/image/statistics.ts';
import type { CheckFinding, CheckRow, ReferenceProposal } from '../../base/schemas/types.ts';
import { BlurShutter, frameMotion, type FrameMotion } from './blur-length.ts';
import { flashFrames, isCut } from './cuts.ts';
import { findings } from './findings.ts';
import type { FrameFigures } from './frame-figures.ts';
import { difference, measureFrame, type FrameMeasures } from './frame-measures.ts';
import { CUT_ALIKE, FINE_ACROSS, likeness, type SmallFrame } from './likeness.ts';
import { proposeReference } from './propose-reference.ts';
import { ReblurShutter } from './reblur-shutter.ts';
import { tileMotions } from './tile-motion.ts';

/** What is reported of a plate as a whole. */
export interface PlateCheckResult {
  rows: CheckRow[];
  findings: CheckFinding[];
  reference: ReferenceProposal | null;
  /** The shutter that the smears agree on, as a fraction of the frame's time; null when none could be determined. */
  shutter: number | null;
}

function smallOf({ pyramid }: FrameMeasures): SmallFrame {
  const at = (level: number) => pyramid[clamp(level, 0, pyramid.length - 1)]!;
  const level = Math.round(Math.log2(pyramid[0]!.width / FINE_ACROSS));
  return { fine: at(level), small: at(level + 2) };
}

const STILL: FrameMotion = { speed: 0, angle: null, tiles: [] };

/** Looks at a plate frame by frame, in order; then says what is hard about it. */
export class PlateChecker {
  private readonly figures: FrameFigures[] = [];
  /** Two ways to learn the shutter: from changes of speed, and from the spectrum where it never changes. */
  private readonly reblur = new ReblurShutter();
  private readonly notches = new BlurShutter();
  private before: FrameMeasures | null = null;
  private twoBefore: FrameMeasures | null = null;

  add(luma: LumaFrame): void {
    const now = measureFrame(luma);
    const { before, twoBefore } = this;
    let motion = STILL;
    if (before) {
      motion = frameMotion(tileMotions(before.pyramid, now.pyramid));
      // A smear is centred on its frame: the frame before moves half by this step, half by its own.
      const earlier = this.figures.at(-1)!.motion;
      if (
        motion.speed > 0 &&
        earlier.speed > 0 &&
        Math.abs(motion.speed - earlier.speed) < Math.max(1, 0.25 * motion.speed)
      )
        this.notches.add(before.pyramid[0]!, meanMotion(earlier, motion), before.noise);
    }
    const alike = before ? likeness(smallOf(before), smallOf(now)) : 1;
    if (before) this.passOn(before, motion.speed);
    const changed = before ? difference(before, now) : { mean: 0, most: 0 };
    this.figures.push({
      sharpness: now.sharpness,
      exposure: now.exposure,
      noise: now.noise,
      motion,
      change: changed.mean,
      mostChange: changed.most,
      alike,
      alikeTwoBack: twoBefore ? likeness(smallOf(twoBefore), smallOf(now)) : 1,
    });
    this.twoBefore = before;
    this.before = now;
  }

  /** Hands a frame on whose step to the next is known too. */
  private passOn(frame: FrameMeasures, nextSpeed: number): void {
    const { motion, alike } = this.figures.at(-1)!;
    this.reblur.add(
      frame.pyramid,
      this.figures.length === 1 ? nextSpeed : (motion.speed + nextSpeed) / 2,
      alike >= CUT_ALIKE,
    );
  }

  finish(): PlateCheckResult {
    if (this.before) this.passOn(this.before, this.figures.at(-1)!.motion.speed);
    const shutter = this.reblur.finish() ?? this.notches.fraction;
    const rows = judge(this.figures, shutter);
    return { rows, findings: findings(rows, this.figures), reference: proposeReference(rows), shutter };
  }
}

/** The movement about a frame, from the steps before and after it: pieces near each other are averaged. */
function meanMotion(earlier: FrameMotion, later: FrameMotion): FrameMotion {
  const tiles = later.tiles.flatMap((t) => {
    const match = earlier.tiles.find((e) => e.x === t.x && e.y === t.y);
    return match ? [{ ...t, dx: (t.dx + match.dx) / 2, dy: (t.dy + match.dy) / 2 }] : [];
  });
  return { ...later, speed: (earlier.speed + later.speed) / 2, tiles };
}

/** A frame that differs this much less than its neighbours do repeats the one before. */
const REPEAT_SHARE = 0.15;
const NEIGHBOURS = 12;

function judge(figures: readonly FrameFigures[], shutter: number | null): CheckRow[] {
  const sharpest =
    quantile(
      figures.map((f) => f.sharpness),
      0.95,
    ) || 1;
  const flashes = flashFrames(figures.map((f) => f.exposure));
  const rows = figures.map((f, frame): CheckRow => {
    const next = figures[frame + 1];
    const step =
      frame === 0 ? next?.motion : next ? (f.motion.speed >= next.motion.speed ? f.motion : next.motion) : f.motion;
    const speed =
      frame === 0 ? (next?.motion.speed ?? 0) : next ? (f.motion.speed + next.motion.speed) / 2 : f.motion.speed;
    const blur = shutter === null ? 0 : shutter * speed;
    return {
      frame,
      sharpness: round(f.sharpness / sharpest),
      exposure: round(clamp(f.exposure, 0, 1)),
      noise: round(f.noise),
      blur: round(blur),
      blurAngle: blur >= 1 && step?.angle !== null && step ? round(step.angle) : null,
      repeats: null,
      cut: false,
      flash: flashes.has(frame),
      change: round(f.change),
    };
  });
  for (let frame = 1; frame < rows.length; frame++) {
    const row = rows[frame]!;
    if (repeatsBefore(figures, frame)) row.repeats = frame - 1;
    row.cut = isCut(figures, frame, flashes);
  }
  // What is seen at a cut or a repeat is no movement.
  for (const row of rows) {
    const next = rows[row.frame + 1];
    if (row.cut || next?.cut) Object.assign(row, { blur: 0, blurAngle: null });
  }
  return rows;
}

function repeatsBefore(figures: readonly FrameFigures[], frame: number): boolean {
  const around: number[] = [];
  const most: number[] = [];
  for (let f = Math.max(1, frame - NEIGHBOURS); f <= Math.min(figures.length - 1, frame + NEIGHBOURS); f++) {
    if (f === frame) continue;
    around.push(figures[f]!.change);
    most.push(figures[f]!.mostChange);
  }
  // Where nothing ever changes, nothing can be said.
  const usual = median(around);
  const usualMost = median(most);
  if (around.length < 2 || !(usual > 1e-4)) return false;
  return figures[frame]!.change < REPEAT_SHARE * usual && figures[frame]!.mostChange < 0.25 * usualMost;
}

const round = (value: number): number => Number(value.toFixed(4));

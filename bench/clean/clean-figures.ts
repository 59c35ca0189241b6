import { readFileSync } from 'node:fs';
import { usualSurface } from '../../core/picture/clean/usual-surface.ts';
import { foundFixes } from '../../core/picture/clean/find-fixes.ts';
import { asksFrames, type CleanFix } from '../../core/picture/look/clean-fix.ts';
import { cleanPlate } from '../../core/picture/composite/clean-plate.ts';
import { resolveLook } from '../../core/picture/look/look.ts';
import { motionAbout } from '../../core/picture/pin/shutter-path.ts';
import { homographyBetweenQuads } from '../../core/base/geometry/estimate-homography.ts';
import { applyToPoint, type Point } from '../../core/base/geometry/homography.ts';
import { contains } from '../../core/base/geometry/polygon.ts';
import { bounds, sideRatio, UNIT_SQUARE, type Quad } from '../../core/base/geometry/quad.ts';
import type { CodedPicture } from '../../core/base/image/picture.ts';
import { framesToMeasure } from '../../core/picture/matte/frames-to-measure.ts';
import { measureFront } from '../../core/picture/matte/measure-front.ts';
import { conditionPlate, conditionUnmarked } from '../../demo/make-conditions.ts';
import type { Truth } from '../../demo/truth.ts';
import { DISPLAY } from '../blend/blend-plate.ts';
import { picturesOf } from '../front/glove-plate.ts';

export interface CleanFigures {
  readonly found: number;
  readonly marks: number;
  /** dB inside the marks where the screen is seen, over the clip and on the worst frame. */
  readonly psnr: number;
  readonly worst: number;
  /** Of each mark's filled area: root mean square change of its mean error from frame to frame, codes, mean over the marks; where the light of what is under it stays (changes by less than a code), and over all frames. */
  readonly flicker: number;
  readonly flickerInAll: number;
  /** Most that a pixel wholly in front was changed, codes. */
  readonly front: number;
}

/** Marks are measured so far beyond their outline, px: as far as the lens smears them. */
const BEYOND = 1.5;
const SCREEN = 250;
const FRONT = 2;
const SAME_LIGHT = 1;

/** Cleans a generated plate's marks, found by themselves, along its exact corners, and compares with the plate that never had any. `marks`: half width and height and middles, shares of the screen. */
export async function cleanFigures(
  name: string,
  marks: readonly CleanFix[],
  keep?: (frame: number, cleaned: CodedPicture, goal: CodedPicture) => void,
): Promise<CleanFigures> {
  const { plate, truth: file } = await conditionPlate(name);
  const paths = await conditionUnmarked(name);
  const truth = JSON.parse(readFileSync(file, 'utf8')) as Truth;
  const plates = await picturesOf(plate);
  const goals = await picturesOf(paths.unmarked);
  const mattes = await picturesOf(paths.matte);
  const quads = new Map(truth.frames.map((f) => [f.frame, f.corners as unknown as Quad]));
  const reference = quads.get(truth.referenceFrame)!;
  const ratio = sideRatio(reference);
  const frames = framesToMeasure([...quads.keys()], (frame) => quads.get(frame)).map((frame) => ({
    picture: plates[frame]!,
    quad: quads.get(frame)!,
  }));
  const front = measureFront(frames, ratio, DISPLAY, reference);
  const fixes = foundFixes(frames, ratio, DISPLAY);
  const usual = asksFrames(fixes) ? (usualSurface(frames, ratio) ?? undefined) : undefined;
  const look = resolveLook({
    keys: front.keys as never,
    ...(front.spill ? { spill: front.spill } : {}),
    clean: { fixes: fixes as never, grain: false },
    motionBlur: { shutter: truth.shutter },
  });
  const { width, height } = truth;
  const means: number[][][] = marks.map(() => []);
  let squares = 0;
  let count = 0;
  let worst = Infinity;
  let changed = 0;
  for (let frame = 0; frame < plates.length; frame++) {
    const filmed = plates[frame]!;
    const goal = goals[frame]!;
    const cleaned = cleanPlate(
      filmed,
      {
        contents: [],
        motion: motionAbout((f) => quads.get(f), frame)!,
        ratio,
        look,
        frame,
        reference,
        referenceFrame: truth.referenceFrame,
        usual,
      },
      'final',
      DISPLAY,
    );
    const map = homographyBetweenQuads(UNIT_SQUARE, quads.get(frame)!)!;
    keep?.(frame, cleaned, goal);
    let own = 0;
    let n = 0;
    marks.forEach(({ outline }, k) => {
      const there = outline!.map((p) => applyToPoint(map, p));
      const sums = [0, 0, 0, 0];
      let pixels = 0;
      around(there, width, height, (i) => {
        const screen = mattes[frame]!.data[3 * i]!;
        for (let c = 0; c < 3; c++) {
          const at = 3 * i + c;
          const off = cleaned.data[at]! - goal.data[at]!;
          if (screen <= FRONT) changed = Math.max(changed, Math.abs(cleaned.data[at]! - filmed.data[at]!));
          if (screen < SCREEN) continue;
          own += off * off;
          n++;
          sums[c]! += off;
          sums[3]! += goal.data[at]! / 3;
          if (c === 2) pixels++;
        }
      });
      if (pixels > 0) means[k]!.push([frame, ...sums.map((s) => s / pixels), pixels]);
    });
    squares += own;
    count += n;
    if (n > 0) worst = Math.min(worst, db(own / n));
  }
  const flickers = (light: number) => {
    const all = means.map((rows) => flickerOf(rows, light)).filter(Number.isFinite);
    return all.reduce((a, b) => a + b, 0) / all.length;
  };
  return {
    found: fixes.length,
    marks: marks.length,
    psnr: db(squares / count),
    worst,
    flicker: flickers(SAME_LIGHT),
    flickerInAll: flickers(Infinity),
    front: changed,
  };
}

const db = (mse: number) => 10 * Math.log10((255 * 255) / Math.max(1e-9, mse));

/** Of frames in a row on which about as much of a mark was seen: root mean square step of its mean error, the worst channel. */
function flickerOf(rows: readonly number[][], light: number): number {
  const steps = rows.slice(1).flatMap((row, i) => {
    const before = rows[i]!;
    return row[0] === before[0]! + 1 &&
      row[5]! > 0.8 * before[5]! &&
      before[5]! > 0.8 * row[5]! &&
      Math.abs(row[4]! - before[4]!) < light
      ? [[1, 2, 3].map((c) => (row[c]! - before[c]!) ** 2)]
      : [];
  });
  return steps.length === 0
    ? NaN
    : Math.sqrt(Math.max(...[0, 1, 2].map((c) => steps.reduce((s, step) => s + step[c]!, 0) / steps.length)));
}

/** Pixels within an outline or near it. */
function around(outline: readonly Point[], width: number, height: number, each: (index: number) => void): void {
  const { left, top, right, bottom } = bounds(outline);
  const x = (left + right) / 2;
  const y = (top + bottom) / 2;
  const grown = outline.map(([px, py]): Point => {
    const d = Math.hypot(px - x, py - y);
    return [px + ((px - x) * BEYOND) / d, py + ((py - y) * BEYOND) / d];
  });
  for (let row = Math.max(0, Math.floor(top - BEYOND)); row < Math.min(height, bottom + BEYOND); row++)
    for (let col = Math.max(0, Math.floor(left - BEYOND)); col < Math.min(width, right + BEYOND); col++)
      if (contains(grown, col + 0.5, row + 0.5)) each(row * width + col);
}

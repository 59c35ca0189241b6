import { motionAbout } from '../../core/picture/pin/shutter-path.ts';
import { composeWithMatte } from '../../core/picture/composite/compose-frame.ts';
import { resolveLook, type MeasuredFront } from '../../core/picture/look/look.ts';
import { ShownContent } from '../../core/picture/pin/shown-content.ts';
import { contains } from '../../core/base/geometry/polygon.ts';
import { distance, sideRatio, type Quad } from '../../core/base/geometry/quad.ts';
import { grownOutline } from '../../core/base/geometry/grow-outline.ts';
import { ciede2000, labOfLight } from '../../core/base/image/colour-difference.ts';
import type { CodedPicture } from '../../core/base/image/picture.ts';
import { codeToLight } from '../../core/base/image/transfer.ts';
import { framesToMeasure } from '../../core/picture/matte/frames-to-measure.ts';
import { measureFront } from '../../core/picture/matte/measure-front.ts';
import type { Look } from '../../core/base/schemas/types.ts';
import { readStill } from '../../server/media/content.ts';
import type { Truth } from '../../demo/truth.ts';

/** A plate with what it should end as. */
export interface GlovePlate {
  readonly truth: Truth;
  readonly plates: readonly CodedPicture[];
  readonly composites: readonly CodedPicture[];
  /** How much of each pixel is screen, 0…255. */
  readonly mattes: readonly CodedPicture[];
  readonly contentFile: string;
}

export interface GloveFigures {
  /** Mean absolute error of the matte over the surface, and over pixels that are partly screen. */
  readonly matte: number;
  readonly soft: number;
  readonly worstMatte: number;
  /** Codes by which green exceeds the true composite's in the soft band, against the mean of red and blue. */
  readonly fringe: number;
  readonly worstFringe: number;
  /** ΔE2000 of the glove over and beside the screen. */
  readonly spill: number;
  readonly worstSpill: number;
  /** Pixels of leaves around that were changed by more than a code. */
  readonly outside: number;
  readonly perFrame: readonly { frame: number; matte: number; soft: number; fringe: number; spill: number }[];
}

const quadOf = (truth: Truth, frame: number) => (truth.frames[frame]?.corners ?? null) as Quad | null;
/** Over so much of the surface's width around it the glove is judged. */
const GLOVE_AROUND = 0.06;

/** Composes every frame from exact corners and compares with the truth. */
export async function gloveFigures(
  { truth, plates, composites, mattes, contentFile }: GlovePlate,
  extra: (measured: MeasuredFront) => Look = () => ({}),
  keep?: (frame: number, picture: CodedPicture, matte: Float32Array) => void,
): Promise<GloveFigures> {
  const { width, height } = truth;
  const ratio = sideRatio(quadOf(truth, truth.referenceFrame)!);
  const colour = { transfer: 'srgb', primaries: 'bt709' } as const;
  const measured = measureFront(
    framesToMeasure(
      truth.frames.map((f) => f.frame),
      (frame) => quadOf(truth, frame),
    ).map((frame) => ({ picture: plates[frame]!, quad: quadOf(truth, frame)! })),
    ratio,
    colour,
  );
  const look = resolveLook(
    {
      levels: truth.levels,
      soften: truth.softness,
      motionBlur: { shutter: truth.shutter, phase: 0 },
      keys: 'measure',
      spill: 'measure',
      ...extra(measured),
    },
    measured,
  );
  const still = await readStill(contentFile);
  const shown = new ShownContent({ frames: 1, rate: truth.rate, picture: () => Promise.resolve(still) }, truth.rate);
  const sums = { surface: 0, matte: 0, softCount: 0, soft: 0, fringe: 0, glove: 0, spill: 0, outside: 0 };
  const perFrame: GloveFigures['perFrame'][number][] = [];
  for (let frame = 0; frame < plates.length; frame++) {
    const plate = plates[frame]!;
    const quad = quadOf(truth, frame)!;
    const pyramid = (await shown.at(frame, look))!;
    const motion = motionAbout((f) => quadOf(truth, f), frame)!;
    const ours = composeWithMatte(
      plate,
      { contents: [{ pyramid }], motion, ratio, look, frame, reference: quadOf(truth, truth.referenceFrame)! },
      'final',
      colour,
    );
    keep?.(frame, ours.picture, ours.matte!);
    const wide = distance(quad[0], quad[1]);
    const near = grownOutline(quad, GLOVE_AROUND * wide);
    const mine = { surface: 0, matte: 0, softCount: 0, soft: 0, fringe: 0, glove: 0, spill: 0 };
    for (let row = 0, i = 0; row < height; row++) {
      for (let col = 0; col < width; col++, i++) {
        const t = mattes[frame]!.data[3 * i]! / 255;
        const at = 3 * i;
        const isNear = contains(near, col + 0.5, row + 0.5);
        if (
          t === 0 &&
          isLeaf(composites[frame]!.data, at) &&
          [0, 1, 2].some((c) => Math.abs(ours.picture.data[at + c]! - plate.data[at + c]!) > 1)
        )
          sums.outside++;
        if (!isNear) continue;
        const onSurface = t > 0.004 || contains(quad, col + 0.5, row + 0.5);
        const expected = composites[frame]!.data;
        if (onSurface) {
          const off = Math.abs(ours.matte![i]! - t);
          mine.surface++;
          mine.matte += off;
          if (t > 0.02 && t < 0.98) {
            mine.softCount++;
            mine.soft += off;
            mine.fringe += Math.max(0, greenOf(ours.picture.data, at) - greenOf(expected, at));
          }
        }
        if (t < 0.02 && isGlove(expected, at)) {
          mine.glove++;
          mine.spill += ciede2000(labAt(ours.picture.data, at), labAt(expected, at));
        }
      }
    }
    perFrame.push({
      frame,
      matte: mine.matte / mine.surface,
      soft: mine.soft / mine.softCount,
      fringe: mine.fringe / mine.softCount,
      spill: mine.glove ? mine.spill / mine.glove : 0,
    });
    for (const name of Object.keys(mine) as (keyof typeof mine)[]) sums[name] += mine[name];
  }
  const worst = (of: (f: (typeof perFrame)[number]) => number) => Math.max(...perFrame.map(of));
  return {
    matte: sums.matte / sums.surface,
    soft: sums.soft / sums.softCount,
    worstMatte: worst((f) => f.matte),
    fringe: sums.fringe / sums.softCount,
    worstFringe: worst((f) => f.fringe),
    spill: sums.spill / sums.glove,
    worstSpill: worst((f) => f.spill),
    outside: sums.outside,
    perFrame,
  };
}

const greenOf = (data: CodedPicture['data'], at: number) => data[at + 1]! - (data[at]! + data[at + 2]!) / 2;
const labAt = (data: CodedPicture['data'], at: number) =>
  labOfLight(codeToLight(data[at]! / 255), codeToLight(data[at + 1]! / 255), codeToLight(data[at + 2]! / 255));
const isLeaf = (data: CodedPicture['data'], at: number) =>
  data[at + 1]! > 60 && data[at + 1]! > 1.7 * Math.max(data[at]!, data[at + 2]!);
/** The glove is the only bright thing there that is nearly grey and a little warm. */
const isGlove = (data: CodedPicture['data'], at: number) =>
  data[at]! > 90 && Math.abs(data[at]! - data[at + 1]!) < 40 && data[at + 2]! > 60 && data[at]! - data[at + 2]! < 70;

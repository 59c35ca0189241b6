import { composeFrame } from '../../core/picture/composite/compose-frame.ts';
import { resolveLook } from '../../core/picture/look/look.ts';
import { motionAbout } from '../../core/picture/pin/shutter-path.ts';
import { ShownContent } from '../../core/picture/pin/shown-content.ts';
import { contains } from '../../core/base/geometry/polygon.ts';
import { cleanFrames, cleanNeeds, cleanSurface } from '../../core/picture/measure/clean-needs.ts';
import { homeFrame, type MeasuredShot } from '../../core/picture/pin/measured-shot.ts';
import type { CodedPicture } from '../../core/base/image/picture.ts';
import type { Look } from '../../core/base/schemas/types.ts';
import { readStill } from '../../server/media/content.ts';
import { DISPLAY, type BlendPlate } from './blend-plate.ts';

export interface CompositeQuality {
  /** dB over the clip inside the surface, after one gain and one offset per channel fitted over it. */
  readonly psnr: number;
  readonly worst: number;
  readonly perFrame: readonly { frame: number; psnr: number }[];
}

/** Composes every frame and compares with the true composite inside the surface's outline. */
export async function compositeQuality(
  { truth, plates, goals, contentFile, shot: truly }: BlendPlate,
  shot: MeasuredShot,
  look: Look,
  keep?: (frame: number, picture: CodedPicture) => void,
): Promise<CompositeQuality> {
  const resolved = resolveLook({ ...look, grain: { levels: [{ level: 0, sigma: [0, 0, 0] }], off: true } });
  const kind = cleanNeeds(resolved);
  const known = [...shot.quads.keys()].sort((a, b) => a - b);
  const clean = kind
    ? cleanSurface(
        kind,
        cleanFrames(kind, known, homeFrame(shot)).map((frame) => ({
          frame,
          picture: plates[frame]!,
          quad: shot.quads.get(frame)!,
        })),
        resolved,
        shot.ratio,
        DISPLAY,
      )
    : null;
  const still = await readStill(contentFile);
  const shown = new ShownContent({ frames: 1, rate: truth.rate, picture: () => Promise.resolve(still) }, truth.rate);
  // Sums for the fit and what follows from it, per channel and frame.
  const sums = plates.map(() => [0, 1, 2].map(() => ({ n: 0, x: 0, y: 0, xx: 0, xy: 0, yy: 0 })));
  for (let frame = 0; frame < plates.length; frame++) {
    const now = shot.quads.get(frame);
    const pyramid = now && (await shown.at(frame, resolved));
    const plate = plates[frame]!;
    const outline = truly.quads.get(frame);
    const ours =
      now && pyramid
        ? composeFrame(
            plate,
            {
              contents: [{ pyramid }],
              motion: motionAbout((f) => shot.quads.get(f), frame)!,
              ratio: shot.ratio,
              look: resolved,
              frame,
              reference: shot.quads.get(homeFrame(shot))!,
              referenceFrame: homeFrame(shot),
              perSecond: shot.perSecond,
              clean: clean ?? undefined,
            },
            'final',
            DISPLAY,
          )
        : plate;
    keep?.(frame, ours);
    if (!outline) continue;
    for (let row = 0; row < truth.height; row++) {
      for (let col = 0; col < truth.width; col++) {
        if (!contains(outline, col + 0.5, row + 0.5)) continue;
        for (let c = 0; c < 3; c++) {
          const s = sums[frame]![c]!;
          const at = 3 * (row * truth.width + col) + c;
          const x = ours.data[at]!;
          const y = goals[frame]!.data[at]!;
          s.n++;
          s.x += x;
          s.y += y;
          s.xx += x * x;
          s.xy += x * y;
          s.yy += y * y;
        }
      }
    }
  }
  const whole = [0, 1, 2].map((c) => sums.reduce((t, s) => add(t, s[c]!), { n: 0, x: 0, y: 0, xx: 0, xy: 0, yy: 0 }));
  const fits = whole.map(fitOf);
  const errorOf = (s: Sums[]) =>
    s.reduce((e, one, c) => e + squares(one, fits[c]!), 0) /
    Math.max(
      1,
      s.reduce((n, one) => n + one.n, 0),
    );
  const db = (mse: number) => 10 * Math.log10((255 * 255) / Math.max(1e-6, mse));
  const perFrame = sums.flatMap((s, frame) => (s[0]!.n > 0 ? [{ frame, psnr: db(errorOf(s)) }] : []));
  return { psnr: db(errorOf(whole)), worst: Math.min(...perFrame.map((f) => f.psnr)), perFrame };
}

interface Sums {
  n: number;
  x: number;
  y: number;
  xx: number;
  xy: number;
  yy: number;
}

const add = (a: Sums, b: Sums): Sums => ({
  n: a.n + b.n,
  x: a.x + b.x,
  y: a.y + b.y,
  xx: a.xx + b.xx,
  xy: a.xy + b.xy,
  yy: a.yy + b.yy,
});

function fitOf({ n, x, y, xx, xy }: Sums): { gain: number; offset: number } {
  const det = n * xx - x * x;
  const gain = det > 1e-9 ? (n * xy - x * y) / det : 1;
  return { gain, offset: (y - gain * x) / Math.max(1, n) };
}

/** Sum of (gain·x + offset − y)². */
function squares({ n, x, y, xx, xy, yy }: Sums, { gain: g, offset: o }: { gain: number; offset: number }): number {
  return g * g * xx + 2 * g * o * x + n * o * o - 2 * g * xy - 2 * o * y + yy;
}

import { join } from 'node:path';
import { composeFrame } from '../../core/picture/composite/compose-frame.ts';
import { levelsNow, resolveLook } from '../../core/picture/look/look.ts';
import { buildContentPyramid } from '../../core/picture/pin/content-pyramid.ts';
import { motionAbout, quadAt, shutterTimes, type QuadMotion } from '../../core/picture/pin/shutter-path.ts';
import { distance, type Quad } from '../../core/base/geometry/quad.ts';
import { contains } from '../../core/base/geometry/polygon.ts';
import { quantile } from '../../core/base/image/statistics.ts';
import { blurBursts } from '../../demo/conditions/blur-bursts.ts';
import { contentTexture } from '../../demo/content-texture.ts';
import { SEEDS } from '../../demo/make-conditions.ts';
import { renderFrame, screenCorners, type Scene } from '../../demo/scene/render.ts';
import { recordFrame } from '../../demo/scene/sensor.ts';
import { readStill } from '../../server/media/content.ts';
import { grownOutline } from '../../core/base/geometry/grow-outline.ts';
import type { FigureRow } from './figure-row.ts';
import { shotOf } from './blend-plate.ts';
import { filmed } from './generated-frames.ts';

/** Moments of the shutter that the generator takes, each seen through one of sixteen places of the pixel. */
const SAMPLES = 512;
/** The shutter is given as so many steps of its own, so that five known corners lie within it: what is compared is the smear, not the guess between frames. */
const WHOLE = 4;
/** Numbers of sub-frames for which the frame that takes nearest to as many is compared. */
const STEPS = [16, 40, 80] as const;

/**
 * The motion-blurred pin against the generator's, inside what the surface covers for the whole shutter, along the corners' own way while it is open; and how
 * far the way that is led through the corners of seven frames is from theirs.
 */
export async function pinFigures(): Promise<FigureRow[]> {
  const paths: number[] = [];
  const rows = STEPS.map((): { row: FigureRow; steps: number[]; seeds: number[] } => ({
    row: { title: '', unit: 'codes', digits: 2, seeds: [], asked: 1, below: true },
    steps: [],
    seeds: [],
  }));
  for (const seed of SEEDS) {
    const shot = blurBursts.make(seed);
    const area = shot.scene().cards[0]!.screen!;
    const file = join(import.meta.dirname, '../../demo/content', shot.content);
    const texture = await contentTexture(file, area.width, area.height, shot.levels);
    const { quads } = filmed(shot, {});
    const scene = { ...shot.scene(texture), samples: SAMPLES };
    const measured = shotOf(
      { width: scene.lens.width, height: scene.lens.height, referenceFrame: shot.referenceFrame, rate: shot.rate },
      quads,
    );
    const look = resolveLook({
      levels: shot.levels,
      soften: scene.softness,
      motionBlur: { shutter: WHOLE * 360, phase: 0 },
    });
    const pyramid = buildContentPyramid(await readStill(file), levelsNow(look.levels, 0));
    const motionOf = (frame: number) =>
      motionAbout(
        (f) => screenCorners(scene, frame + ((f - frame) * scene.shutter) / WHOLE) as unknown as Quad,
        frame,
      )!;
    const inside = [...quads.keys()].filter((f) => f > 2 && f < shot.frames - 3);
    paths.push(wayOff(scene, quads, shot.frames));
    for (const [k, wanted] of STEPS.entries()) {
      const frame = inside.reduce((a, b) =>
        Math.abs(stepsOf(motionOf(b)) - wanted) < Math.abs(stepsOf(motionOf(a)) - wanted) ? b : a,
      );
      const motion = motionOf(frame);
      const goal = recordFrame(renderFrame(scene, frame), null, 0);
      const plate = { width: scene.lens.width, height: scene.lens.height, data: goal.slice(), peak: 255 as const };
      const ours = composeFrame(
        plate,
        {
          contents: [{ pyramid }],
          motion,
          ratio: measured.ratio,
          look,
          frame,
          reference: quads.get(shot.referenceFrame)!,
        },
        'final',
      );
      const outlines = [-0.5, 0, 0.5].map((t) => grownOutline(quadAt(motion, WHOLE * t), -4));
      const off: number[] = [];
      for (let row = 0; row < plate.height; row++)
        for (let col = 0; col < plate.width; col++)
          if (outlines.every((o) => contains(o, col + 0.5, row + 0.5)))
            for (let c = 0; c < 3; c++)
              off.push(
                Math.abs(ours.data[3 * (row * plate.width + col) + c]! - goal[3 * (row * plate.width + col) + c]!),
              );
      rows[k]!.seeds.push(quantile(off, 0.999));
      rows[k]!.steps.push(stepsOf(motion));
      console.log(
        'pin',
        seed,
        frame,
        rows[k]!.steps.at(-1),
        'sub-frames',
        rows[k]!.seeds.at(-1),
        'codes at 99.9 %, mean',
        (off.reduce((a, b) => a + b, 0) / off.length).toFixed(3),
      );
    }
  }
  return [
    ...rows.map(({ row, steps, seeds }) => ({
      ...row,
      seeds,
      title: `pin smeared over ${steps.join(' / ')} sub-frames, difference at the 99.9th percentile`,
    })),
    {
      title: 'way of the corners in an open shutter, led through seven frames (jerks of four), off by at most',
      unit: 'px',
      digits: 2,
      seeds: paths,
      asked: null,
      below: true,
    },
  ];
}

const stepsOf = (motion: QuadMotion) => shutterTimes(motion, { shutter: WHOLE * 360, phase: 0 }).length;

/** How far the way through the corners of seven frames is from the corners' own at the ends of a half-open shutter, at the worst, px. */
function wayOff(scene: Scene, quads: ReadonlyMap<number, Quad>, frames: number): number {
  let most = 0;
  for (let frame = 2; frame < frames - 2; frame++) {
    const motion = motionAbout((f) => quads.get(f), frame)!;
    for (const time of [-scene.shutter / 2, scene.shutter / 2]) {
      const told = quadAt(motion, time);
      const own = screenCorners(scene, frame + time) as unknown as Quad;
      for (let corner = 0; corner < 4; corner++) most = Math.max(most, distance(told[corner]!, own[corner]!));
    }
  }
  return most;
}

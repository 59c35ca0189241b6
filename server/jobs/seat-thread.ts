import { parentPort } from 'node:worker_threads';
import simplify from 'simplify-js';
import type { Point } from '../../core/base/geometry/homography.ts';
import type { Quad } from '../../core/base/geometry/quad.ts';
import { lightPicture, type LightPicture } from '../../core/base/image/light-sampler.ts';
import { contentFromRaw, lumaFromRaw, pictureFromRaw } from '../../core/base/image/raw-frame.ts';
import { Problem } from '../../core/base/problem/problem.ts';
import type {
  FrontReply,
  LensFromLines,
  LookReply,
  MarksReply,
  MatchReply,
  SnapReply,
} from '../../core/base/schemas/types.ts';
import { checkSurface } from '../../core/handoff/exchange/seat-track.ts';
import { borderLines } from '../../core/motion/lens/border-lines.ts';
import { lensFromLines } from '../../core/motion/lens/lens-from-lines.ts';
import { placesOnSurface } from '../../core/motion/lens/lens-surface.ts';
import { foundFixes } from '../../core/picture/clean/find-fixes.ts';
import { framesToMeasure } from '../../core/picture/matte/frames-to-measure.ts';
import { measureFront, type FrontFrame } from '../../core/picture/matte/measure-front.ts';
import { brightestOf, tellDarkContent } from '../../core/picture/measure/dark-content.ts';
import { frontReasons } from '../../core/picture/measure/front-reasons.ts';
import { lookBasis } from '../../core/picture/measure/look-basis.ts';
import { MeasureLook } from '../../core/picture/measure/measure-look.ts';
import { proposeLook } from '../../core/picture/measure/propose-look.ts';
import type { MeasuredShot } from '../../core/picture/pin/measured-shot.ts';
import { estimateCornerRadius } from '../../core/surface/seat/corner-radius.ts';
import { matchCorner } from '../../core/surface/seat/match-reference.ts';
import { SeatThroughLens } from '../../core/surface/seat/seat-through-lens.ts';
import { sideOf } from '../../core/surface/seat/sides.ts';
import { offsetAt, snapQuad, type SnappedSide } from '../../core/surface/seat/snap.ts';
import { folders } from '../config.ts';
import { loadKernels } from '../kernels/load-kernels.ts';
import { openFrames } from '../media/stored-frames.ts';
import { boards, lensMap } from './lens-tasks.ts';
import type {
  DeskTask,
  FrontTask,
  LensTask,
  LookTask,
  MarksTask,
  MatchTask,
  SnapTask,
  SurfaceTask,
} from './seat-tasks.ts';
import type { SeatAnswer } from './seat-worker.ts';

async function pictureOf({ plate, dataFolder }: MatchTask, frame: number): Promise<LightPicture> {
  const { layout, colour } = plate.facts!;
  return lightPicture(
    lumaFromRaw(await openFrames(folders(dataFolder), plate).readRaw(frame), layout, colour.transfer),
  );
}

async function snap(task: SnapTask): Promise<SnapReply> {
  checkSurface(task.corners, 'the corners');
  const { layout, colour, width, height } = task.plate.facts!;
  const luma = lumaFromRaw(
    await openFrames(folders(task.dataFolder), task.plate).readRaw(task.frame),
    layout,
    colour.transfer,
  );
  // With a lens borders are straight where it is taken out.
  const through = task.lens && new SeatThroughLens(task.lens, width, height);
  const rough = through ? through.straight(task.corners) : task.corners;
  if (!rough.flat().every(Number.isFinite))
    throw new Problem('bad-field', {
      where: 'this shot',
      field: 'lens',
      why: 'does not film the corners; is it this plate’s?',
    });
  const picture = lightPicture(through ? through.luma(luma) : luma);
  const { quad, sides, bounds } = snapQuad(picture, rough, task.border);
  const filmed = through ? through.filmed(quad) : quad;
  const place = through ? (p: Point) => through.filmedPlace(p) : (p: Point) => p;
  if (sides.every((side) => side.border === null)) throw new Problem('no-border');
  return {
    corners: filmed.map(([x, y]) => [x, y]) as SnapReply['corners'],
    bounds: bounds.map((b) => b) as SnapReply['bounds'],
    sides: sides.map((side, k) => sideReply(side, rough, k, place)) as SnapReply['sides'],
    radius: estimateCornerRadius(picture, quad),
  };
}

function sideReply(
  { border, choices }: SnappedSide,
  rough: Quad,
  k: number,
  place: (at: Point) => Point,
): SnapReply['sides'][number] {
  const told = (at: Point): [number, number] => {
    const [x, y] = place(at);
    return [x, y];
  };
  return {
    chosen: border ? choices.indexOf(border) : null,
    borders: choices.map((c) => ({
      from: told(c.line.from),
      to: told(c.line.to),
      bound: Math.max(...c.bounds),
      support: c.support,
      contrast: c.contrast,
      offset: offsetAt(sideOf(rough, k), c.line, 0.5),
    })),
  };
}

async function match(task: MatchTask): Promise<MatchReply> {
  const reference = await pictureOf(task, task.referenceFrame);
  const picture = await pictureOf(task, task.frame);
  return {
    corners: task.corners.map(({ corner, place, ...movement }) => {
      const found = matchCorner(reference, picture, task.map, place, movement);
      return found.ok
        ? { corner, dx: found.dx, dy: found.dy, score: found.score, bound: found.bound, refused: null }
        : { corner, dx: 0, dy: 0, score: found.score, bound: null, refused: found.reason };
    }),
  };
}

async function framesOf({ plate, dataFolder, frames, lens }: SurfaceTask): Promise<FrontFrame[]> {
  const store = openFrames(folders(dataFolder), plate);
  const { layout } = plate.facts!;
  const pictures: FrontFrame[] = [];
  for (const { frame, quad } of frames)
    pictures.push({ quad, picture: pictureFromRaw(await store.readRaw(frame), layout), lens });
  return pictures;
}

async function marks(task: MarksTask): Promise<MarksReply> {
  const { ratio, home, referenceFrame, lens } = task;
  const place = placesOnSurface(home, lens);
  const fixes = foundFixes(await framesOf(task), ratio, task.plate.facts!.colour);
  // Told as shapes are, so that they are reshaped by hand as shapes are.
  return {
    fixes: fixes.flatMap(({ name, method, outline }) =>
      place && outline
        ? [
            {
              ...(name ? { name } : {}),
              method,
              shape: { points: fewPoints(outline.map(([u, v]) => place(u, v))), home: referenceFrame },
            },
          ]
        : [],
    ),
  };
}

/** Off by no more than this, px. */
const OFF = 0.3;
const fewPoints = (outline: readonly Point[]): [number, number][] =>
  simplify(
    outline.map(([x, y]) => ({ x, y })),
    OFF,
    true,
  ).map(({ x, y }) => [Math.round(100 * x) / 100, Math.round(100 * y) / 100]);

export async function lens({ plate, dataFolder, frames, drawn, focal }: LensTask): Promise<LensFromLines> {
  const { layout, colour, width, height } = plate.facts!;
  const store = openFrames(folders(dataFolder), plate);
  const lines: (readonly Point[])[] = [...drawn];
  for (const { frame, quad } of frames)
    lines.push(...borderLines(lightPicture(lumaFromRaw(await store.readRaw(frame), layout, colour.transfer)), quad));
  const fit = lensFromLines(lines, [width / 2, height / 2], focal);
  if (!fit || !Number.isFinite(fit.spread)) return { lens: null, lines: lines.length, rms: 0, before: 0, bound: 0 };
  // What the spread of k1 moves a corner of the picture by; twice that holds 95 of 100.
  const corner = Math.hypot(width, height) / 2 / focal;
  const bound = 2 * fit.spread * corner ** 3 * focal;
  return {
    lens: { ...fit.lens, centre: [fit.lens.centre[0], fit.lens.centre[1]] },
    lines: lines.length,
    rms: fit.rms,
    before: fit.before,
    bound,
  };
}

async function front(task: FrontTask): Promise<FrontReply> {
  const { plate, ratio, home, referenceFrame, frames } = task;
  const { colour } = plate.facts!;
  const pictures = await framesOf(task);
  const found = measureFront(pictures, ratio, colour, home);
  const { keys, markers, spill } = found;
  return {
    keys: [...keys],
    markers,
    spill,
    why: {
      ...frontReasons(
        found,
        frames.map(({ frame }) => frame),
        referenceFrame,
      ),
    },
  };
}

/** Frames are read one by one; those that the key is measured on are kept. */
async function look({ plate, content, dataFolder, ratio, referenceFrame, frames }: LookTask): Promise<LookReply> {
  const store = openFrames(folders(dataFolder), plate);
  const { layout, colour, rate } = plate.facts!;
  const { width, height } = layout;
  const picture = async (frame: number) => pictureFromRaw(await store.readRaw(frame), layout);
  const quads = new Map(
    frames
      .filter(({ quad }) => quad.some(([x, y]) => x > 0 && y > 0 && x < width && y < height))
      .map(({ frame, quad }) => [frame, quad]),
  );
  if (quads.size === 0) throw new Problem('nothing-to-measure');
  const shot: MeasuredShot = { quads, width, height, ratio, colour, referenceFrame, perSecond: rate[0] / rate[1] };
  const measure = new MeasureLook(shot);
  const forFront = new Set(
    framesToMeasure(
      [...quads.keys()].sort((a, b) => a - b),
      (frame) => quads.get(frame),
    ),
  );
  const kept: FrontFrame[] = [];
  measure.begin(await picture(measure.home));
  for (const frame of [...new Set([...measure.frames, ...forFront])].sort((a, b) => a - b)) {
    const seen = await picture(frame);
    if (forFront.has(frame)) kept.push({ picture: seen, quad: quads.get(frame)! });
    measure.add(frame, seen);
  }
  const proposed = proposeLook(measure.finish(), measureFront(kept, ratio, colour, quads.get(referenceFrame)), shot);
  const basis = lookBasis(quads);
  if (content?.facts)
    tellDarkContent(
      proposed,
      brightestOf(
        contentFromRaw(await openFrames(folders(dataFolder), content).readRaw(0), content.facts.layout),
        content.facts.colour,
      ),
    );
  for (const reason of Object.values(proposed.why)) reason.basis = basis;
  return { look: proposed };
}

function answerTo(task: DeskTask): Promise<unknown> {
  switch (task.kind) {
    case 'snap':
      return snap(task);
    case 'match':
      return match(task);
    case 'front':
      return front(task);
    case 'marks':
      return marks(task);
    case 'lens':
      return lens(task);
    case 'boards':
      return boards(task);
    case 'lens-map':
      return lensMap(task);
    case 'look':
      return look(task);
  }
}

loadKernels();
parentPort!.on('message', ({ id, task }: { id: number; task: DeskTask }) => {
  void answerTo(task)
    .then(
      (value): SeatAnswer => ({ id, value }),
      (error: unknown): SeatAnswer =>
        error instanceof Problem
          ? { id, problem: error.code, values: error.values }
          : { id, failed: (error as Error).stack ?? String(error) },
    )
    .then((answer) => parentPort!.postMessage(answer));
});

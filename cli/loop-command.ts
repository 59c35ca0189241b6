import { existsSync } from 'node:fs';
import { dirname, isAbsolute, join } from 'node:path';
import { pointFromFile } from '../core/base/geometry/pixel-centre.ts';
import { checkCorners, checkOutlines } from '../core/motion/follow/check-job.ts';
import { carryOutline } from '../core/base/geometry/outline.ts';
import { homographyBetweenQuads } from '../core/base/geometry/estimate-homography.ts';
import type { Point } from '../core/base/geometry/homography.ts';
import type { CodedPicture } from '../core/base/image/picture.ts';
import { pictureFromRaw } from '../core/base/image/raw-frame.ts';
import { AS_IT_IS, LoopJoin, TakesJoin, type JoinSettings, type JoinSize } from '../core/picture/loop/joining.ts';
import { splitMatte, type Split } from '../core/picture/loop/split-share.ts';
import { Problem } from '../core/base/problem/problem.ts';
import type { LoopJob } from '../core/base/schemas/types.ts';
import { decodeFrames } from '../server/media/decode.ts';
import { openLayerSink } from '../server/media/layer-sink.ts';
import { checkOutput } from './check-output.ts';
import { LumaFile } from './luma-file.ts';
import { checkWritable, note, progress, readJson, readOptions, writeWhole } from './options.ts';
import { openPlate, PLATE_OPTIONS, type Plate } from './plate.ts';

const USUAL_FADE = 12;
const USUAL_SOFT = 20;

/** `yarlop loop`: the end of a plate goes over into its beginning, or one take into another along a split. */
export async function loopCommand(args: string[]): Promise<void> {
  const options = readOptions(args, ['plate', 'job', 'out'], ['report', ...PLATE_OPTIONS]);
  const job = readJson('loopJob', options.job);
  const where = options.job;
  check(job, where);
  checkOutput('--out', options.out);
  if (options.report !== undefined) checkWritable(options.report);
  const plate = await openPlate(options.plate, options);
  const other = job.second ? await openPlate(pathOf(job.second.plate, where), options) : null;
  const lumas: LumaFile[] = [];
  [...plate.facts.assumed, ...plate.facts.notes].forEach(note);
  try {
    if (other && (other.facts.width !== plate.facts.width || other.facts.height !== plate.facts.height))
      throw new Problem('bad-field', {
        where,
        field: 'second.plate',
        why: `is ${other.facts.width}×${other.facts.height}; the first take is ${plate.facts.width}×${plate.facts.height}, and both must be of one size`,
      });
    for (const one of other ? [plate, other] : [plate]) lumas.push(await LumaFile.decode(one.source, one.facts));
    const sink = openLayerSink(options.out, plate.facts, {});
    const frames = job.frames ?? ([0, lumas[0]!.frames - 1] as const);
    if (frames[1] >= lumas[0]!.frames)
      throw new Problem('frame-outside', { where: `${where}: frames`, frame: frames[1], last: lumas[0]!.frames - 1 });
    let report;
    try {
      const write: Write = (index, picture) => sink.write(index, { kind: 'codes', picture });
      report = other
        ? await divide(job, plate, other, lumas, frames, where, write)
        : await goRound(job, plate, lumas[0]!, frames, where, write);
      await sink.finish();
    } catch (error) {
      await sink.abandon();
      throw error;
    }
    note(
      `what is left at the join: ${report.jump?.px === null || !report.jump ? 'not known' : `${report.jump.px.toFixed(2)} px`}, ${(report.jump?.levels ?? 0).toFixed(2)} of 255 levels`,
    );
    if (options.report !== undefined) writeWhole(options.report, `${JSON.stringify(report, null, 1)}\n`);
  } finally {
    lumas.forEach((luma) => luma.close());
    other?.close();
    plate.close();
  }
}

function check(job: LoopJob, where: string): void {
  checkOutlines('keepOut', job.keepOut ?? [], where);
  if (job.region && job.region.length < 3)
    throw new Problem('bad-field', { where, field: 'region', why: 'needs three points or more' });
  for (const quad of [job.byHand?.from, job.byHand?.to]) if (quad) checkCorners(quad, where);
  if (job.frames && job.frames[0] > job.frames[1])
    throw new Problem('bad-range', { where: `${where}: frames`, range: job.frames.join('-') });
  const { line, shape } = job.split ?? {};
  if (line && shape)
    throw new Problem('bad-field', { where, field: 'split', why: 'has a line and a shape; it must be one of them' });
  if (line && [line.points, ...(line.keys ?? []).map((key) => key.points)].some((points) => points.length !== 2))
    throw new Problem('bad-field', { where, field: 'split.line', why: 'needs two points, on every key as well' });
  if (shape) checkOutlines('split.shape', [shape], where);
  if (job.second && !line && !shape)
    throw new Problem('bad-field', {
      where,
      field: 'split',
      why: 'is missing: two takes are divided by a line or a shape',
    });
}

/** A take by its path, from where the command runs, or else from beside the job. */
function pathOf(path: string, job: string): string {
  return isAbsolute(path) || existsSync(path) ? path : join(dirname(job), path);
}

type Write = (index: number, picture: CodedPicture) => Promise<void>;

/** The job in our own pixels. */
function settingsOf(
  { motion, region, keepOut, byHand, align, light, split: asked, pixelCentre }: LoopJob,
  { width, height }: JoinSize,
  first: number,
  where: string,
): JoinSettings {
  const ours = (p: readonly number[]): Point => pointFromFile(p as unknown as Point, pixelCentre);
  const split: Split | null =
    asked && (asked.line ?? asked.shape)
      ? {
          home: asked.home ?? first,
          soft: asked.soft ?? USUAL_SOFT,
          shape: asked.shape && carryOutline(asked.shape, ours),
          line: asked.line && {
            points: asked.line.points.map(ours),
            keys: asked.line.keys?.map((key) => ({ frame: key.frame, points: key.points.map(ours) })),
          },
        }
      : null;
  return {
    plan: {
      motion: motion ?? 'perspective',
      region: region?.map(ours),
      keepOut: (keepOut ?? []).map((o) => carryOutline(o, ours)),
    },
    light: light !== false,
    where,
    told: byHand
      ? { map: homographyBetweenQuads(byHand.from.map(ours), byHand.to.map(ours)) }
      : align === 'none'
        ? AS_IT_IS
        : null,
    splitAt: split && ((frame) => splitMatte(split, frame, width, height)),
  };
}

const lostOf = (lost: number, of: number) => {
  if (lost > 0) note(`${lost} of ${of} pairs of frames could not be aligned: they go by their neighbours`);
};

/** The end of the plate over its beginning: the plate is decoded once, its beginning kept until the end needs it. */
async function goRound(
  job: LoopJob,
  plate: Plate,
  luma: LumaFile,
  frames: readonly [number, number],
  where: string,
  write: Write,
) {
  const { facts } = plate;
  const join = new LoopJoin(settingsOf(job, facts, frames[0], where), facts, frames, job.fade ?? USUAL_FADE);
  const { fade, length } = join.times;
  const kept = new Map<number, CodedPicture>();
  lostOf(
    await join.prepare(
      (frame) => luma.read(frame),
      (done, of) => progress('aligning', done, of),
    ),
    fade,
  );
  for await (const { frame, picture } of picturesOf(plate, ...frames)) {
    kept.set(frame, picture);
    const index = frame - frames[0] - fade;
    if (index < 0) continue;
    const there = (at: number) => kept.get(at)!;
    if (index === join.middle && fade > 0) await join.measureJump(there);
    await write(index, await join.make(index, there));
    kept.delete(frame);
    kept.delete(frame - length);
    progress('joining', index + 1, length);
  }
  return join.report();
}

/** Two takes, each decoded once, side by side. */
async function divide(
  job: LoopJob,
  plate: Plate,
  second: Plate,
  [luma, other]: readonly LumaFile[],
  frames: readonly [number, number],
  where: string,
  write: Write,
) {
  const { facts } = plate;
  const offset = job.second!.offset ?? 0;
  const join = new TakesJoin(settingsOf(job, facts, frames[0], where), facts, frames, offset, other!.frames);
  const [from, to] = join.both;
  lostOf(
    await join.prepare(
      (frame) => luma!.read(frame),
      (frame) => other!.read(frame),
      (done, of) => progress('aligning', done, of),
    ),
    to - from + 1,
  );
  const others = picturesOf(second, from + offset, to + offset);
  try {
    for await (const { frame, picture } of picturesOf(plate, ...frames)) {
      const beside =
        frame < from || frame > to ? picture : ((await others.next()).value as { picture: CodedPicture }).picture;
      if (frame === join.middle)
        await join.measureJump(
          () => picture,
          () => beside,
        );
      await write(
        frame - frames[0],
        await join.make(
          frame - frames[0],
          () => picture,
          () => beside,
        ),
      );
      progress('joining', frame - frames[0] + 1, frames[1] - frames[0] + 1);
    }
  } finally {
    // What decodes it would wait for ever otherwise.
    await others.return(undefined);
  }
  return join.report();
}

async function* picturesOf(
  { source, facts }: Plate,
  from: number,
  to: number,
): AsyncGenerator<{ frame: number; picture: CodedPicture }> {
  let frame = -1;
  for await (const bytes of decodeFrames(source, facts)) {
    frame++;
    if (frame > to) break;
    if (frame >= from) yield { frame, picture: pictureFromRaw(bytes.slice(), facts.layout) };
  }
}

import { existsSync } from 'node:fs';
import { dirname, isAbsolute, join } from 'node:path';
import { pointFromFile } from '../core/exchange/pixel-convention.ts';
import { checkCorners, checkOutlines } from '../core/follow/check-job.ts';
import { carryOutline } from '../core/follow/outline.ts';
import { homographyBetweenQuads } from '../core/geometry/estimate-homography.ts';
import { IDENTITY, type Homography, type Point } from '../core/geometry/homography.ts';
import type { CodedPicture } from '../core/image/picture.ts';
import { pictureFromRaw } from '../core/image/raw-frame.ts';
import { alignedRegion, alignPair, type AlignPlan, type PairFit } from '../core/loop/align-pair.ts';
import { joinPictures, lightOfWhole, meeting } from '../core/loop/join-pictures.ts';
import { jumpLeft, type JumpLeft } from '../core/loop/jump-left.ts';
import { loopFrame, loopTimes, smooth, type LoopTimes } from '../core/loop/loop-times.ts';
import { gainsBetween, SAME_LIGHT, type Gains } from '../core/loop/match-light.ts';
import { shareWhenGone, splitMatte, type Split } from '../core/loop/split-share.ts';
import { warpLight } from '../core/loop/warp-light.ts';
import { Problem } from '../core/problem/problem.ts';
import type { LoopJob } from '../core/schemas/types.ts';
import { decodeFrames } from '../server/media/decode.ts';
import { openLayerSink } from '../server/media/layer-sink.ts';
import { checkOutput } from './check-output.ts';
import { LumaFile } from './luma-file.ts';
import { checkWritable, note, progress, readJson, readOptions, writeWhole } from './options.ts';
import { openPlate, PLATE_OPTIONS, type Plate } from './plate.ts';

const USUAL_FADE = 12, USUAL_SOFT = 20;

/** `yarlop loop`: the end of a plate goes over into its beginning, or one take into another along a split. */
export async function loopCommand(args: string[]): Promise<void> {
  const options = readOptions(args, ['plate', 'job', 'out'], ['report', ...PLATE_OPTIONS]), job = readJson('loopJob', options.job), where = options.job;
  check(job, where);
  checkOutput('--out', options.out);
  if (options.report !== undefined) checkWritable(options.report);
  const plate = await openPlate(options.plate, options), other = job.second ? await openPlate(pathOf(job.second.plate, where), options) : null, lumas: LumaFile[] = [];
  [...plate.facts.assumed, ...plate.facts.notes].forEach(note);
  try {
    if (other && (other.facts.width !== plate.facts.width || other.facts.height !== plate.facts.height)) throw new Problem('bad-field', { where, field: 'second.plate', why: `is ${other.facts.width}×${other.facts.height}; the first take is ${plate.facts.width}×${plate.facts.height}, and both must be of one size` });
    for (const one of other ? [plate, other] : [plate]) lumas.push(await LumaFile.decode(one.source, one.facts));
    const sink = openLayerSink(options.out, plate.facts, {}), work = new Joining(job, plate, lumas, where);
    try {
      if (other) await work.divide(other, async (index, picture) => sink.write(index, { kind: 'codes', picture }));
      else await work.loop(async (index, picture) => sink.write(index, { kind: 'codes', picture }));
      await sink.finish();
    } catch (error) {
      await sink.abandon();
      throw error;
    }
    const report = work.report();
    note(`what is left at the join: ${report.jump?.px === null || !report.jump ? 'not told' : `${report.jump.px.toFixed(2)} px`}, ${(report.jump?.levels ?? 0).toFixed(2)} of 255 levels`);
    if (options.report !== undefined) writeWhole(options.report, `${JSON.stringify(report, null, 1)}\n`);
  } finally {
    lumas.forEach((luma) => luma.close());
    other?.close();
    plate.close();
  }
}

function check(job: LoopJob, where: string): void {
  checkOutlines('keepOut', job.keepOut ?? [], where);
  if (job.region && job.region.length < 3) throw new Problem('bad-field', { where, field: 'region', why: 'needs three points or more' });
  for (const quad of [job.byHand?.from, job.byHand?.to]) if (quad) checkCorners(quad, where);
  if (job.frames && job.frames[0] > job.frames[1]) throw new Problem('bad-range', { where: `${where}: frames`, range: job.frames.join('-') });
  const { line, shape } = job.split ?? {};
  if (line && shape) throw new Problem('bad-field', { where, field: 'split', why: 'has a line and a shape; it must be one of them' });
  if (line && [line.points, ...(line.keys ?? []).map((key) => key.points)].some((points) => points.length !== 2)) throw new Problem('bad-field', { where, field: 'split.line', why: 'needs two points, on every key as well' });
  if (shape) checkOutlines('split.shape', [shape], where);
  if (job.second && !line && !shape) throw new Problem('bad-field', { where, field: 'split', why: 'is missing: two takes are divided by a line or a shape' });
}

/** A take by its path, from where the command runs, or else from beside the job. */
function pathOf(path: string, job: string): string {
  return isAbsolute(path) || existsSync(path) ? path : join(dirname(job), path);
}

type Write = (index: number, picture: CodedPicture) => Promise<void>;

/** The work on one plate, or two. */
class Joining {
  private readonly fits = new Map<number, PairFit | null>();
  private readonly plan: AlignPlan;
  private readonly region: Point[];
  private readonly first: number;
  private readonly last: number;
  private jump: JumpLeft | null = null;
  private times: LoopTimes | null = null;

  constructor(private readonly job: LoopJob, private readonly plate: Plate, private readonly lumas: readonly LumaFile[], private readonly where: string) {
    const ours = (p: readonly number[]): Point => pointFromFile(p as unknown as Point, job.pixelCentre), { facts } = plate;
    this.plan = { motion: job.motion ?? 'perspective', region: job.region?.map(ours), keepOut: (job.keepOut ?? []).map((o) => carryOutline(o, ours)) };
    this.region = alignedRegion(this.plan, facts.width, facts.height);
    [this.first, this.last] = job.frames ?? [0, lumas[0]!.frames - 1];
    if (this.last >= lumas[0]!.frames) throw new Problem('frame-outside', { where: `${where}: frames`, frame: this.last, last: lumas[0]!.frames - 1 });
  }

  /** The end of the plate over its beginning. */
  async loop(write: Write): Promise<void> {
    const { job, plate: { facts } } = this, fade = job.fade ?? USUAL_FADE, times = loopTimes(this.first, this.last, fade), split = this.split(), size = facts.width * facts.height;
    // Each frame of the beginning is used up by one of the end: what lies between must be left.
    if (times.length <= fade) throw new Problem('loop-too-short', { frames: this.last - this.first + 1, fade, least: 2 * fade + 1 });
    this.times = times;
    const middle = times.length - 1 - (fade >> 1), kept = new Map<number, CodedPicture>();
    for (let index = times.length - fade; index < times.length; index++) {
      const { frame, partner } = loopFrame(times, index);
      this.fits.set(frame, await this.align(frame, partner!, this.lumas[0]!, fade));
    }
    this.need();
    for await (const { frame, picture } of this.pictures(this.plate, this.first, this.last)) {
      if (frame < this.first + fade) {
        kept.set(frame, picture);
        continue;
      }
      const index = frame - this.first - fade, { partner, part } = loopFrame(times, index);
      if (partner === null) await write(index, picture);
      else {
        const map = this.mapOf(frame), other = kept.get(partner)!, gains = this.gains(picture, other, map);
        if (index === middle) this.jump = await jumpLeft(picture, other, { map, gains }, facts.colour, this.region, this.plan);
        await write(index, joinPictures(picture, other, { map, gains, gone: smooth(part), second: shareWhenGone(part, split && splitMatte(split, frame, facts.width, facts.height), size) }, facts.colour));
        kept.delete(partner);
      }
      progress('joining', index + 1, times.length);
    }
  }

  /** Two takes side by side: within the split the second one, led onto the first. */
  async divide(second: Plate, write: Write): Promise<void> {
    const offset = this.job.second!.offset ?? 0, split = this.split()!, luma = this.lumas[1]!, from = Math.max(this.first, -offset), to = Math.min(this.last, luma.frames - 1 - offset);
    if (from > to) throw new Problem('bad-field', { where: this.where, field: 'second.offset', why: `puts no frame of the second take (${luma.frames} frames) beside one of the first (${this.first} to ${this.last})` });
    for (let frame = from; frame <= to; frame++) this.fits.set(frame, await this.align(frame, frame + offset, luma, to - from + 1));
    this.need();
    const others = this.pictures(second, from + offset, to + offset);
    try {
      await this.divideWith(others, split, [from, to], write);
    } finally {
      // What decodes it would wait for ever otherwise.
      await others.return(undefined);
    }
  }

  private async divideWith(others: AsyncGenerator<{ frame: number; picture: CodedPicture }>, split: Split, [from, to]: readonly [number, number], write: Write): Promise<void> {
    const { facts } = this.plate;
    for await (const { frame, picture } of this.pictures(this.plate, this.first, this.last)) {
      if (frame < from || frame > to) {
        await write(frame - this.first, picture);
        continue;
      }
      const { picture: other } = (await others.next()).value as { picture: CodedPicture }, map = this.mapOf(frame), gains = this.gains(picture, other, map), join = { map, gains, gone: 0, second: splitMatte(split, frame, facts.width, facts.height) };
      if (frame === (from + to) >> 1) this.jump = await jumpLeft(picture, other, join, facts.colour, this.region, this.plan);
      await write(frame - this.first, joinPictures(picture, other, join, facts.colour));
      progress('joining', frame - this.first + 1, this.last - this.first + 1);
    }
  }

  report() {
    return { format: 'yarlop-loop/1', frames: [this.first, this.last], ...(this.times ? { fade: this.times.fade, length: this.times.length } : {}), jump: this.jump, joins: [...this.fits].map(([frame, fit]) => ({ frame, ...(fit ? { map: [...fit.map], error: fit.error } : { lost: true }) })) };
  }

  private split(): Split | null {
    const { split, pixelCentre } = this.job, ours = (p: readonly number[]): Point => pointFromFile(p as unknown as Point, pixelCentre);
    return split && (split.line ?? split.shape) ? {
      home: split.home ?? this.first, soft: split.soft ?? USUAL_SOFT, shape: split.shape && carryOutline(split.shape, ours),
      line: split.line && { points: split.line.points.map(ours), keys: split.line.keys?.map((key) => ({ frame: key.frame, points: key.points.map(ours) })) },
    } : null;
  }

  private async align(frame: number, partner: number, others: LumaFile, of: number): Promise<PairFit | null> {
    const { byHand, align, pixelCentre } = this.job;
    if (byHand) {
      const map = homographyBetweenQuads(byHand.from.map((p) => pointFromFile(p, pixelCentre)), byHand.to.map((p) => pointFromFile(p, pixelCentre)));
      return map && { map, error: 0, confidence: 1 };
    }
    if (align === 'none') return { map: IDENTITY, error: 0, confidence: 1 };
    progress('aligning', this.fits.size + 1, of);
    return alignPair(this.lumas[0]!.read(frame), others.read(partner), this.plan);
  }

  /** Where nothing could be aligned there is nothing to go by. */
  private need(): void {
    const lost = [...this.fits.values()].filter((fit) => !fit).length;
    if (this.fits.size > 0 && lost === this.fits.size) throw new Problem('loop-not-aligned', { where: this.where });
    if (lost > 0) note(`${lost} of ${this.fits.size} pairs of frames could not be aligned: they go by their neighbours`);
  }

  private mapOf(frame: number): Homography {
    const known = [...this.fits].filter(([, fit]) => fit !== null).map(([at]) => at), nearest = known.reduce((a, b) => (Math.abs(b - frame) < Math.abs(a - frame) ? b : a));
    return this.fits.get(nearest)!.map;
  }

  private gains(a: CodedPicture, b: CodedPicture, map: Homography): Gains {
    const { facts: { colour } } = this.plate, { width, height } = a, to = this.job.light === false ? null : meeting(map, 0, width, height), other = to && warpLight(lightOfWhole(b, colour), width, height, to.second);
    return other ? gainsBetween(lightOfWhole(a, colour), other.planes, width, height, this.region) : SAME_LIGHT;
  }

  private async *pictures({ source, facts }: Plate, from: number, to: number): AsyncGenerator<{ frame: number; picture: CodedPicture }> {
    let frame = -1;
    for await (const bytes of decodeFrames(source, facts)) {
      frame++;
      if (frame > to) break;
      if (frame >= from) yield { frame, picture: pictureFromRaw(bytes.slice(), facts.layout) };
    }
  }
}

import { existsSync, mkdirSync, statSync } from 'node:fs';
import { join } from 'node:path';
import { formatTimecode, parseTimecode, type Timecode } from '../../core/handoff/exchange/timecode.ts';
import { peakOf } from '../../core/base/image/raw-frame.ts';
import { Problem } from '../../core/base/problem/problem.ts';
import type { RenderLayer, RenderPlan } from '../../core/base/schemas/types.ts';
import {
  FILM_ENDINGS,
  fillPattern,
  isFilm,
  numberedPicture,
  type FilmFormat,
  PICTURE_ENDINGS,
  USUAL_PATTERN,
  USUAL_VARIANT_PATTERN,
} from '../../core/handoff/send/file-pattern.ts';
import { findProject } from '../database/projects.ts';
import { noteFile, readPlan, tasksOf } from '../database/render-tasks.ts';
import { findShot } from '../database/shots.ts';
import type { JobContext } from '../jobs/job-context.ts';
import { openFilm } from '../media/encode.ts';
import { writeExrFile } from '../media/exr-file.ts';
import { writeIntegers } from '../media/write-integers.ts';
import { storedPath } from '../media/uploads.ts';
import { burnIn } from './burn-in.ts';
import { asChannels, asCodes, colourOfCodes, filmCodes, scaled } from '../media/delivered-picture.ts';
import type { LayerPicture } from '../media/layer-picture.ts';
import { readFinished } from './finished-files.ts';
import { finishedFile } from './finished-paths.ts';
import { FrameKeys } from './frame-keys.ts';

/** Makes of finished frames what a render was asked for: a film or numbered pictures of each layer, in the job's folder. Returns the first file's name. */
export async function deliver(context: JobContext<'render'>): Promise<string | undefined> {
  const { db, job } = context;
  const { output, layers } = job.params;
  const tasks = await tasksOf(db, job.id);
  const failed = tasks.filter((task) => task.state === 'failed');
  if (failed.length > 0)
    throw new Problem('frames-failed', {
      count: failed.length,
      frame: failed[0]!.frame,
      why: failed[0]!.problem ?? '',
    });
  if (output === 'frames') return undefined;
  const delivery = await Delivery.open(
    context,
    tasks.map((task) => task.frame),
  );
  let first: string | undefined;
  for (const layer of layers) {
    const file = isFilm(output) ? await delivery.film(layer, output) : await delivery.pictures(layer);
    await noteFile(db, job.id, file);
    first ??= file.name;
  }
  return first;
}

interface Words {
  readonly shot: string;
  readonly project: string;
}

class Delivery {
  private readonly keys: FrameKeys;
  private readonly folder: string;
  private readonly numberShift: number;
  private readonly timecode: Timecode | null;

  private constructor(
    private readonly context: JobContext<'render'>,
    private readonly plan: RenderPlan,
    private readonly frames: readonly number[],
    private readonly words: Words,
  ) {
    const { facts } = plan.plate;
    const { settings } = context.job.params;
    const own = plan.surfaces.find((surface) => surface.own)!.document;
    this.keys = new FrameKeys(plan);
    this.folder = join(context.folders.renders, String(context.job.id));
    this.numberShift =
      settings.firstNumber === undefined
        ? (own.firstFrameNumber ?? facts.firstFrameNumber)
        : settings.firstNumber - frames[0]!;
    const told = settings.timecode === undefined ? null : parseTimecode(settings.timecode, facts.rate);
    const plates = facts.timecode ? parseTimecode(facts.timecode, facts.rate) : null;
    this.timecode = told ?? (plates && { ...plates, count: plates.count + frames[0]! });
    mkdirSync(this.folder, { recursive: true });
  }

  static async open(context: JobContext<'render'>, frames: readonly number[]): Promise<Delivery> {
    const { db, job } = context;
    const shot = await findShot(db, job.shotId!);
    const project = await findProject(db, job.projectId);
    return new Delivery(context, await readPlan(db, job.id), frames, {
      shot: shot?.name ?? 'shot',
      project: project?.name ?? 'project',
    });
  }

  async film(layer: RenderLayer, format: FilmFormat): Promise<{ name: string; layer: RenderLayer; bytes: number }> {
    const { facts, kind, hash } = this.plan.plate;
    const { settings } = this.context.job.params;
    const { frames } = this;
    const name = `${this.name(layer)}${FILM_ENDINGS[format]}`;
    const file = join(this.folder, name);
    const deep = peakOf(facts.layout) === 65535;
    const first = await this.read(layer, frames[0]!);
    const codes = await this.codes(first, frames[0]!, deep, layer);
    const seconds = facts.rate[1] / facts.rate[0];
    const sound =
      settings.audio === 'keep' && kind === 'clip'
        ? {
            file: storedPath(this.context.folders.media, hash),
            start: frames[0]! * seconds,
            length: frames.length * seconds,
          }
        : undefined;
    const film = openFilm(
      file,
      { width: codes.width, height: codes.height, peak: codes.peak },
      { rate: facts.rate, colour: colourOfCodes(first, facts.colour), pixelAspect: facts.pixelAspect },
      {
        format,
        ...(settings.quality ? { quality: settings.quality } : {}),
        ...(settings.crf === undefined ? {} : { crf: settings.crf }),
        timecode: this.timecode ? formatTimecode(this.timecode, facts.rate) : undefined,
        sound,
      },
    );
    try {
      await film.write(frames[0]!, filmCodes(codes));
      for (const frame of frames.slice(1)) {
        this.context.check();
        await film.write(frame, filmCodes(await this.codes(await this.read(layer, frame), frame, deep, layer)));
      }
      await film.finish();
    } catch (error) {
      await film.abandon();
      throw error;
    }
    return { name, layer, bytes: statSync(file).size };
  }

  /** Numbered pictures in a folder of their own. Those that are there already are left as they are. */
  async pictures(layer: RenderLayer): Promise<{ name: string; layer: RenderLayer; bytes: number }> {
    const { output } = this.context.job.params;
    const name = this.name(layer);
    const ending = PICTURE_ENDINGS[output]!;
    mkdirSync(join(this.folder, name), { recursive: true });
    let bytes = 0;
    for (const [i, frame] of this.frames.entries()) {
      this.context.check();
      const file = join(this.folder, name, numberedPicture(name, frame + this.numberShift, ending));
      if (!existsSync(file)) {
        const picture = await this.read(layer, frame);
        if (output === 'exr') this.writeExr(file, picture, i);
        else await writeIntegers(file, await this.codes(picture, frame, output !== 'png', layer));
      }
      bytes += statSync(file).size;
    }
    return { name: `${name}.zip`, layer, bytes };
  }

  private writeExr(file: string, picture: LayerPicture, index: number): void {
    const { facts } = this.plan.plate;
    const { width, height, channels } = asChannels(picture, facts.colour);
    const at =
      this.timecode &&
      formatTimecode(
        { ...this.timecode, count: this.timecode.count + this.frames[index]! - this.frames[0]! },
        facts.rate,
      );
    const [hours, minutes, seconds, frames] = (at ?? '').split(/[:;]/).map(Number);
    writeExrFile(file, width, height, channels, 16, {
      rate: facts.rate,
      pixelAspect: facts.pixelAspect[0] / facts.pixelAspect[1],
      comments: `${this.words.shot}, frame ${this.frames[index]! + this.numberShift}; linear light, BT.709 primaries`,
      ...(at ? { timecode: [hours!, minutes!, seconds!, frames!] as const, dropFrame: at.includes(';') } : {}),
    });
  }

  private async read(layer: RenderLayer, frame: number): Promise<LayerPicture> {
    const { key } = this.keys.of(frame, layer);
    const { settings } = this.context.job.params;
    return scaled(
      await readFinished(finishedFile(this.context.folders.renders, key, layer, this.plan), layer, frame),
      settings.scale ?? 1,
      this.plan.plate.facts.colour,
    );
  }

  private async codes(picture: LayerPicture, frame: number, deep: boolean, layer: RenderLayer) {
    const codes = asCodes(picture, this.plan.plate.facts.colour, deep);
    const { burnIn: burn } = this.context.job.params.settings;
    const words = [
      burn?.name ? `${this.words.shot} ${layer}` : '',
      burn?.version ? `v${String(this.context.job.params.version).padStart(3, '0')}` : '',
      burn?.frame ? String(frame + this.numberShift) : '',
    ].filter(Boolean);
    // Codes may be those that were read, which belong to nobody else.
    if (words.length > 0) await burnIn(codes, words.join('  '));
    return codes;
  }

  private name(layer: RenderLayer): string {
    const { settings, version, variant } = this.context.job.params;
    return fillPattern(settings.pattern ?? (variant ? USUAL_VARIANT_PATTERN : USUAL_PATTERN), {
      ...this.words,
      layer,
      version,
      variant: variant?.name,
    });
  }
}

import { mapTuple } from '../core/base/geometry/map-tuple.ts';
import { existsSync } from 'node:fs';
import { dirname, isAbsolute, join } from 'node:path';
import { lensFromFile, lensToFile } from '../core/handoff/exchange/lens-file.ts';
import { pointFromFile } from '../core/base/geometry/pixel-centre.ts';
import { cornersByFrame } from '../core/handoff/exchange/track-file.ts';
import { checkFrame } from '../core/motion/follow/check-job.ts';
import { NothingToFollow } from '../core/motion/follow/follow-plan.ts';
import { bounds } from '../core/base/geometry/quad.ts';
import {
  checkKeys,
  INTERPOLATED,
  keyedBound,
  KeyedMotion,
  PULLED,
  SAID_OF,
  type HandKey,
} from '../core/motion/keys/hand-keys.ts';
import { grownQuad } from '../core/motion/keys/pull-region.ts';
import { PullRun, type PulledFrame } from '../core/motion/keys/pull-run.ts';
import type { Lens } from '../core/motion/lens/lens.ts';
import { Problem } from '../core/base/problem/problem.ts';
import type { SpliceJob, TrackFile } from '../core/base/schemas/types.ts';
import { orderedSpans } from '../core/motion/splice/splice-spans.ts';
import { LumaFile } from './luma-file.ts';
import { checkWritable, note, progress, readJson, readOptions } from './options.ts';
import { openPlate, PLATE_OPTIONS, type Plate } from './plate.ts';
import { writeSpliced } from './write-spliced.ts';
import type { JobSpan, Source } from './write-spliced.ts';

/** `yarlop splice`: joins spans of tracks and of keyed corners to one motion. */
export async function spliceCommand(args: string[]): Promise<void> {
  const options = readOptions(args, ['job', 'out'], ['plate', ...PLATE_OPTIONS]);
  const where = options.job;
  const job = readJson('splice', where);
  const spans = orderedSpans(job.spans, where);
  const name = ({ from, to }: JobSpan) => `${from}-${to}`;
  checkWritable(options.out);
  const tracks = new Map<string, TrackFile>();
  for (const span of spans) {
    if (!span.track && !span.keys) throw new Problem('span-empty', { where, span: name(span) });
    if (span.keys) checkKeys(oursOf(span.keys, job), `${where}: span ${name(span)}`);
    if (span.pull && span.keys && options.plate === undefined)
      throw new Problem('pull-needs-plate', { where, span: name(span) });
    if (span.track && !tracks.has(span.track)) tracks.set(span.track, readTrackBeside(span.track, where));
  }
  for (const track of tracks.values())
    if (track.width !== job.width || track.height !== job.height)
      throw new Problem('size-mismatch', {
        trackSize: `${track.width}×${track.height}`,
        plateSize: `${job.width}×${job.height}`,
      });
  const lens = commonLens([...tracks.values()], where);
  const plate = options.plate === undefined ? null : await openPlate(options.plate, options);
  try {
    if (plate && (plate.facts.width !== job.width || plate.facts.height !== job.height))
      throw new Problem('size-mismatch', {
        trackSize: `${job.width}×${job.height}`,
        plateSize: `${plate.facts.width}×${plate.facts.height}`,
      });
    const plain = spans.map((span) => (span.track ? trackSource(span, tracks.get(span.track)!) : keySource(span, job)));
    const sources = spans.some((s) => s.pull && s.keys) && plate ? await pulled(plain, job, where, plate) : plain;
    writeSpliced(sources, job, where, options.out, lens);
  } finally {
    plate?.close();
  }
}

/** The plate's lens as the tracks have it; one of which nothing is said follows the others. @throws Problem bad-field where two say different things of one plate */
function commonLens(tracks: readonly TrackFile[], where: string): Lens | undefined {
  const lenses = tracks.flatMap(({ lens, pixelCentre }) => lensFromFile(lens, pixelCentre) ?? []);
  const [first] = lenses;
  if (
    first &&
    lenses.some((other) => JSON.stringify(lensToFile(other, 'half')) !== JSON.stringify(lensToFile(first, 'half')))
  )
    throw new Problem('bad-field', {
      where,
      field: 'spans',
      why: 'hold tracks of different lenses; a plate has one: follow them with the same',
    });
  return first;
}

function oursOf(keys: NonNullable<JobSpan['keys']>, { pixelCentre }: SpliceJob): HandKey[] {
  return keys.map(({ frame, corners }) => ({
    frame,
    corners: mapTuple(corners, (c) => pointFromFile(c, pixelCentre)),
  }));
}

/** A track by its path, from where the command runs, or else from beside the job. */
function readTrackBeside(file: string, job: string): TrackFile {
  return readJson('track', isAbsolute(file) || existsSync(file) ? file : join(dirname(job), file));
}

function trackSource(job: JobSpan, track: TrackFile): Source {
  const quads = cornersByFrame(track);
  const frames = new Map(track.frames.map((f) => [f.frame, f]));
  return {
    job,
    name: job.track!,
    quads: (frame) => quads.get(frame) ?? null,
    said: (frame) => {
      const f = frames.get(frame);
      return {
        confidence: f?.confidence ?? (f?.corners ? 1 : 0),
        bound: f?.bound ?? null,
        error: f?.error ?? 0,
        ...(f?.note ? { note: f.note } : {}),
        lost: f?.lost ?? `${job.track!} says nothing of it`,
      };
    },
  };
}

function keySource(span: JobSpan, job: SpliceJob): Source {
  const keys = oursOf(span.keys!, job);
  const motion = new KeyedMotion(keys, job.width, job.height, { focal: job.focal });
  if (motion.why) note(`span ${span.from}-${span.to}: ${motion.why}`);
  return {
    // Beyond its keys nobody has said anything.
    job: span,
    name: 'keys',
    quads: (frame) =>
      frame >= Math.min(span.from, motion.first) && frame <= Math.max(span.to, motion.last)
        ? motion.at(frame).corners
        : null,
    said: (frame) => {
      const how = motion.at(frame).how;
      const away = Math.min(...keys.map((k) => Math.abs(k.frame - frame)));
      const off = keyedBound(away, motion.guessed(frame));
      return {
        confidence: how === 'key' ? 1 : INTERPOLATED,
        bound: [off, off, off, off],
        error: 0,
        note: SAID_OF[how],
      };
    },
  };
}

/** Spans of keys that are to be pulled onto the picture, pulled, starting from what the spans beside them know. */
async function pulled(sources: readonly Source[], job: SpliceJob, where: string, plate: Plate): Promise<Source[]> {
  const luma = await LumaFile.decode(plate.source, plate.facts);
  const out: Source[] = [];
  try {
    checkFrame(spans(sources).at(-1)!.to, luma.frames, where);
    for (const source of sources) {
      if (!source.job.pull || !source.job.keys) {
        out.push(source);
        continue;
      }
      luma.refuseCut(`${where}: span ${source.job.from}-${source.job.to}`, [source.job.from, source.job.to]);
      const keys = oursOf(source.job.keys, job);
      const known = knownBeside(sources, source);
      const reference = referenceFor(known, keys, job);
      const map = new Map<number, PulledFrame>();
      const run = await PullRun.begin(
        {
          motion: 'perspective',
          regions: [{ points: grownQuad(reference.corners) }],
          keepOut: [],
          referenceFrame: reference.frame,
          corners: reference.corners,
          keys,
          known,
          frames: [source.job.from, source.job.to],
          camera: { focal: job.focal },
        },
        async (frame) => luma.read(frame),
      ).catch((error: unknown) => {
        throw error instanceof NothingToFollow
          ? new Problem('nothing-to-follow', { why: error.message }, { cause: error })
          : error;
      });
      for (let frame = await run.step(); frame; frame = await run.step()) {
        map.set(frame.frame, frame);
        progress('pulling onto the picture', map.size, run.total);
      }
      const held = [...map.values()].filter((f) => f.pulled).length;
      const between = [...map.values()].filter((f) => f.how !== 'key').length;
      note(
        `span ${source.job.from}-${source.job.to}: ${held} of ${between} frames between keys pulled onto the picture.`,
      );
      out.push({
        ...source,
        quads: (frame) => map.get(frame)?.corners ?? source.quads(frame),
        said: (frame) => {
          const f = map.get(frame);
          return f?.pulled ? { confidence: f.confidence, bound: f.bounds, error: 0, note: PULLED } : source.said(frame);
        },
      });
    }
    return out;
  } finally {
    luma.close();
  }
}

const spans = (sources: readonly Source[]): JobSpan[] => sources.map((s) => s.job);

/** Frames of neighbouring spans that are sure of themselves, as far as pulling learns from them. */
function knownBeside(sources: readonly Source[], { job: { from, to } }: Source): HandKey[] {
  const known: HandKey[] = [];
  for (const { job: span, quads, said } of sources) {
    for (let frame = Math.max(span.from, from - 30); frame <= Math.min(span.to, to + 30); frame++) {
      const corners = frame < from || frame > to ? quads(frame) : null;
      if (corners && said(frame).confidence >= 0.5) known.push({ frame, corners });
    }
  }
  return known;
}

/** The frame that pulled frames are compared with: the job's reference where its corners are known, else the largest sure one. */
function referenceFor(known: readonly HandKey[], keys: readonly HandKey[], job: SpliceJob): HandKey {
  const all = [...known, ...keys];
  const own = all.find((k) => k.frame === job.referenceFrame);
  const area = ({ corners }: HandKey) => {
    const { left, top, right, bottom } = bounds(corners);
    return (right - left) * (bottom - top);
  };
  return own ?? (known.length > 0 ? known : keys).reduce((a, b) => (area(b) > area(a) ? b : a));
}

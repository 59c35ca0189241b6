import { statSync } from 'node:fs';
import { basename } from 'node:path';
import { Problem } from '../../core/base/problem/problem.ts';
import { codingOf, colourOf } from './colour-tags.ts';
import type { Corrections, MediaFacts } from './facts.ts';
import { managedColours, managedFacts } from './managed-still.ts';
import { layoutOf } from './layout.ts';
import { statedSize, type Size } from './picture-size.ts';
import { INPUT_GUARDS, lastWords, runTool } from './run-tool.ts';
import { PICTURE_FORMATS } from './sniff.ts';
import { labelOf, spanWords, type MediaSource, type SequenceSource } from './source.ts';
import { MOST_FRAMES, timingOf, type Timing } from './timing.ts';
import { rotationOf, fieldOrderOf, aspectOf, fraction } from './probed-words.ts';

export type { MediaFacts } from './facts.ts';

const LARGEST_SIDE = 16384;
const LONGEST_PAGE = 60_000;
const LARGEST_PAGE = 100_000_000;
const SMALLEST_SIDE = 16;
const DEFAULT_RATE: [number, number] = [25, 1];
/** Within which a small file must have told what it is; a large one gets time to be read through. */
const PROBE_MS = 20_000;
const READ_BYTES_PER_MS = 50_000;

interface ProbedStream {
  codec_type?: string;
  codec_name?: string;
  width?: number;
  height?: number;
  pix_fmt?: string;
  color_range?: string;
  color_space?: string;
  color_transfer?: string;
  color_primaries?: string;
  field_order?: string;
  sample_aspect_ratio?: string;
  time_base?: string;
  r_frame_rate?: string;
  avg_frame_rate?: string;
  /** As the container's index has it; not every container has one. */
  nb_frames?: string;
  tags?: Record<string, string>;
  side_data_list?: { rotation?: number }[];
}

interface ProbedPacket {
  /** Ticks of the stream's time base; absent where the container states none. */
  pts?: number;
  dts?: number;
  /** `D` among them: to be decoded, not shown. */
  flags?: string;
}

interface Probed {
  streams?: ProbedStream[];
  packets?: ProbedPacket[];
  frames?: { side_data_list?: { rotation?: number }[] }[];
  format?: { format_name?: string; tags?: Record<string, string> };
}

export interface ProbeOptions {
  corrections?: Corrections;
  smallestSide?: number;
  /** Transparency matters for content, not for plates. */
  keepAlpha?: boolean;
}

/** Reads a source's facts with ffprobe; corrections stand over what the source says. */
export async function probe(source: MediaSource, options: ProbeOptions = {}): Promise<MediaFacts> {
  const { corrections = {}, smallestSide = SMALLEST_SIDE, keepAlpha = false } = options;
  const label = labelOf(source);
  if (source.kind !== 'clip') await checkStatedSizes(source, label, smallestSide);
  const probed = await probeStream(source, label);
  const stream = probed.streams![0]!;
  const assumed: string[] = [];
  const notes: string[] = [];
  const stored = { width: stream.width ?? 0, height: stream.height ?? 0 };
  if (stored.width < 1 || stored.height < 1)
    throw new Problem('not-media', { file: label, why: 'its picture has no size' });
  checkSize(stored, label, smallestSide);
  const rotation =
    corrections.rotation ??
    rotationOf([...(stream.side_data_list ?? []), ...(probed.frames?.[0]?.side_data_list ?? [])]);
  const { width, height } = rotation % 180 === 90 ? { width: stored.height, height: stored.width } : stored;
  const coding = codingOf(stream, stored, corrections, assumed);
  const { layout, rawFormat } = layoutOf(stream.pix_fmt ?? '', width, height, coding, keepAlpha);
  const colour = colourOf(stream, corrections, assumed);
  const timing =
    source.kind === 'clip'
      ? clipTiming(label, stream, probed.packets ?? [], corrections)
      : pictureTiming(source, corrections, assumed);
  if (timing.frames > MOST_FRAMES)
    throw new Problem('too-many-frames', { file: label, frames: timing.frames, limit: MOST_FRAMES });
  notes.push(...timing.notes);
  const missing = source.kind === 'sequence' ? source.missing : [];
  const gaps = missing.length > 0 ? (corrections.gaps ?? null) : null;
  if (missing.length > 0 && gaps)
    notes.push(
      `missing ${spanWords(missing)}: ${gaps === 'hold' ? 'the last picture before is held' : 'stopped before the gap'}`,
    );
  const fieldOrder = fieldOrderOf(stream.field_order);
  const deinterlace = corrections.deinterlace ?? false;
  if (fieldOrder === 'top-first' || fieldOrder === 'bottom-first') {
    notes.push(
      `interlaced, ${fieldOrder === 'top-first' ? 'top' : 'bottom'} field first${deinterlace ? ': made progressive' : ': following and pinning want it deinterlaced'}`,
    );
  }
  const stated = aspectOf(stream.sample_aspect_ratio);
  const pixelAspect = corrections.pixelAspect ?? (rotation % 180 === 90 ? [stated[1], stated[0]] : stated);
  if (pixelAspect[0] !== pixelAspect[1]) notes.push(`pixels are not square: ${pixelAspect.join(':')}`);
  if (rotation !== 0) notes.push(`turned by ${rotation}°`);
  const facts: MediaFacts = {
    width,
    height,
    rotation,
    pixelAspect,
    fieldOrder,
    deinterlace,
    rate: timing.rate,
    frames: timing.frames,
    plan: timing.plan,
    doubled: timing.doubled,
    dropped: timing.dropped,
    firstFrameNumber: corrections.firstFrameNumber ?? (source.kind === 'sequence' ? source.files[0]!.number : 0),
    timecode: stream.tags?.timecode ?? probed.format?.tags?.timecode ?? null,
    container: probed.format?.format_name?.split(',')[0] ?? '',
    codec: stream.codec_name ?? 'unknown',
    pixelFormat: stream.pix_fmt ?? 'unknown',
    colour,
    layout,
    rawFormat,
    missing,
    gaps,
    assumed,
    notes,
  };
  const managed = corrections.transfer || corrections.primaries ? null : await managedColours(source);
  return managed ? managedFacts(facts, managed) : facts;
}

/** Stops at a sequence with gaps about which nothing has been decided. */
export function refuseGaps(source: MediaSource, facts: MediaFacts): void {
  if (facts.missing.length > 0 && !facts.gaps)
    throw new Problem('sequence-gap', { file: labelOf(source), missing: spanWords(facts.missing) });
}

/** What ffprobe says of a source: of a clip its packets too, in the same reading; of pictures, what the first one says of itself. */
async function probeStream(source: MediaSource, label: string): Promise<Probed> {
  const file = source.kind === 'sequence' ? source.files[0]!.file : source.file;
  const clip = source.kind === 'clip';
  const input = clip ? ['-i', file] : ['-f', PICTURE_FORMATS[source.format].demuxer, '-i', file];
  const patience = PROBE_MS + (clip ? statSync(file).size / READ_BYTES_PER_MS : 0);
  const ask = (show: string[]) =>
    runTool(
      'ffprobe',
      [
        ...['-v', 'error', ...INPUT_GUARDS, '-print_format', 'json=compact=1', '-show_streams', '-show_format'],
        ...show,
        ...input,
      ],
      patience,
    );
  const { exitCode, stdout, stderr, cutOff } = await ask(
    clip
      ? ['-select_streams', 'V:0', '-show_entries', 'packet=pts,dts,flags']
      : ['-select_streams', 'V', '-show_frames', '-read_intervals', '%+#1'],
  );
  const told = cutOff ? stdout.split('"flags"').length - 1 : 0;
  if (told > MOST_FRAMES) throw new Problem('too-many-frames', { file: label, frames: told, limit: MOST_FRAMES });
  const probed = (exitCode === 0 ? JSON.parse(stdout || '{}') : {}) as Probed;
  if (exitCode !== 0) {
    const truncated = /moov atom not found|EBML header|Truncat/i.test(stderr);
    throw new Problem(truncated ? 'damaged-media' : 'not-media', { file: label, why: lastWords(stderr) });
  }
  if (!probed.streams?.[0]) {
    const sound = await ask([]);
    throw new Problem(/"codec_type": ?"audio"/.test(sound.stdout) ? 'no-picture' : 'not-media', {
      file: label,
      why: 'it has no picture stream',
    });
  }
  return probed;
}

/** Refuses sizes that pictures state before any of them is decoded, and sequences that mix sizes. */
async function checkStatedSizes(
  source: Exclude<MediaSource, { kind: 'clip' }>,
  label: string,
  smallestSide: number,
): Promise<void> {
  if (source.kind === 'still') {
    const size = await statedSize(source.file, source.format);
    if (size) checkSize(size, label, smallestSide);
    return;
  }
  const first = await statedSize(source.files[0]!.file, source.format);
  if (!first) return;
  checkSize(first, basename(source.files[0]!.file), smallestSide);
  for (const { file } of source.files) {
    const size = await statedSize(file, source.format);
    if (size && (size.width !== first.width || size.height !== first.height)) {
      throw new Problem('sequence-sizes', {
        file: label,
        first: basename(source.files[0]!.file),
        firstSize: sizeWords(first),
        odd: basename(file),
        oddSize: sizeWords(size),
      });
    }
  }
}

const sizeWords = ({ width, height }: Size): string => `${width}×${height}`;

function checkSize({ width, height }: Size, label: string, smallestSide: number): void {
  if (width < smallestSide || height < smallestSide)
    throw new Problem('too-small-picture', { file: label, width, height });
  // A page as tall as it scrolls is content like any other, as long as it is not large besides.
  const longest = Math.max(width, height);
  const paged = longest <= LONGEST_PAGE && width * height <= LARGEST_PAGE;
  if (longest > LARGEST_SIDE && !paged)
    throw new Problem('too-large-picture', { file: label, width, height, limit: LARGEST_SIDE });
}

/** How a clip's frames lie in time, by its packets. @throws Problem damaged-media where the index promises many more */
function clipTiming(
  label: string,
  stream: ProbedStream,
  packets: readonly ProbedPacket[],
  corrections: Corrections,
): Timing {
  const shown = packets.filter(({ flags }) => !flags?.includes('D'));
  const times = shown.map(({ pts, dts }) => pts ?? dts).filter((time) => time !== undefined);
  const promised = Number(stream.nb_frames ?? 0);
  // An edit list may leave frames out, but never more than a few; an index that promises many more was cut off.
  if (shown.length < promised - 2 && shown.length === packets.length)
    throw new Problem('damaged-media', {
      file: label,
      why: `only ${shown.length} of its ${promised} frames are there`,
    });
  const base = fraction(stream.time_base) ?? [1, 1000];
  const stated = fraction(stream.r_frame_rate) ?? fraction(stream.avg_frame_rate);
  if (times.length === shown.length && times.length > 1) return timingOf(times, base, stated, corrections.rate);
  const rate = corrections.rate ?? stated ?? DEFAULT_RATE;
  const notes = corrections.rate || stated ? [] : [`the clip states no rate: ${DEFAULT_RATE.join('/')} assumed`];
  return { rate, frames: shown.length, plan: null, doubled: 0, dropped: 0, notes };
}

function pictureTiming(
  source: Exclude<MediaSource, { kind: 'clip' }>,
  corrections: Corrections,
  assumed: string[],
): Timing {
  if (source.kind === 'sequence' && !corrections.rate)
    assumed.push(`pictures have no rate: ${DEFAULT_RATE.join('/')} assumed`);
  return {
    rate: corrections.rate ?? DEFAULT_RATE,
    frames: source.kind === 'still' ? 1 : sequenceLength(source, corrections),
    plan: null,
    doubled: 0,
    dropped: 0,
    notes: [],
  };
}

function sequenceLength({ spans, files }: SequenceSource, { gaps }: Corrections): number {
  const [from, to] = spans[0]!;
  return gaps === 'stop' ? to - from + 1 : gaps === 'hold' ? spans.at(-1)![1] - from + 1 : files.length;
}

import { execa } from 'execa';
import { bytesPerFrame } from '../../core/base/image/raw-frame.ts';
import { Problem } from '../../core/base/problem/problem.ts';
import type { MediaFacts, Rotation } from './facts.ts';
import { decodeManaged, MANAGED } from './managed-still.ts';
import { asText, INPUT_GUARDS, isMissing, lastWords, limited } from './run-tool.ts';
import { inputArguments, labelOf, type MediaSource, type Span } from './source.ts';

export interface DecodeOptions {
  /** Output arguments for more pictures made in the same run, e.g. proxies. Only where every decoded frame is a frame: see `isPlain`. */
  alsoWrite?: readonly string[];
  signal?: AbortSignal;
  /** Whoever reads is done with a frame before asking for the next: all come in the same bytes. */
  sameBytes?: boolean;
  /** Hears what the decoder complained about though it went on. */
  onComplaint?: (words: string) => void;
}

/** True when decoded frames are the frames, one for one. */
export function isPlain(facts: MediaFacts): boolean {
  return facts.plan === null && facts.missing.length === 0;
}

/**
 * The frames of a source as raw bytes in `facts.layout`, in order. A clip that stops decoding before
 * its end is reported as damaged after the frames that could be had.
 */
export async function* decodeFrames(
  source: MediaSource,
  facts: MediaFacts,
  options: DecodeOptions = {},
): AsyncGenerator<Uint8Array> {
  if (source.kind === 'still' && facts.rawFormat === MANAGED) yield await decodeManaged(source, facts, labelOf(source));
  else if (source.kind === 'sequence' && facts.missing.length > 0) yield* decodeWithGaps(source, facts, options);
  else if (facts.plan) yield* byPlan(decodeRun(source, facts, undefined, options), facts.plan);
  else yield* decodeRun(source, facts, undefined, options);
}

async function* decodeWithGaps(
  source: MediaSource & { kind: 'sequence' },
  facts: MediaFacts,
  options: DecodeOptions,
): AsyncGenerator<Uint8Array> {
  let last: Uint8Array | null = null;
  let next = source.spans[0]![0];
  for (const span of facts.gaps === 'stop' ? source.spans.slice(0, 1) : source.spans) {
    for (; last && facts.gaps === 'hold' && next < span[0]; next++) yield last;
    for await (const frame of decodeRun(source, { ...facts, frames: span[1] - span[0] + 1 }, span, options)) {
      last = frame;
      yield frame;
    }
    next = span[1] + 1;
  }
}

/** Output frame n is input frame plan[n]; the plan never falls. */
async function* byPlan(frames: AsyncGenerator<Uint8Array>, plan: readonly number[]): AsyncGenerator<Uint8Array> {
  let input = -1;
  let frame: Uint8Array | null = null;
  try {
    for (const wanted of plan) {
      while (input < wanted) {
        const next = await frames.next();
        if (next.done) return;
        frame = next.value;
        input++;
      }
      if (frame) yield frame;
    }
    // What is left is read, so that a fault at the end is still heard of.
    while (!(await frames.next()).done);
  } finally {
    await frames.return(undefined);
  }
}

const TURNS: Readonly<Record<Rotation, string[]>> = {
  0: [],
  90: ['transpose=clock'],
  180: ['hflip', 'vflip'],
  270: ['transpose=cclock'],
};

/** The filters between the decoder and the frame store: deinterlacing and turning, then only the sample format. */
export function frameFilters(facts: MediaFacts): string[] {
  const range = facts.layout.kind === 'ycbcr' ? facts.layout.coding.range : 'full';
  const parity = facts.fieldOrder === 'bottom-first' ? 'bff' : 'tff';
  return [
    ...(facts.deinterlace ? [`bwdif=mode=send_frame:parity=${parity}:deint=all`] : []),
    ...TURNS[facts.rotation],
    // The same range in and out, so that only the sample format is ever converted.
    ...(facts.layout.kind === 'ycbcr' ? [`scale=in_range=${range}:out_range=${range}`] : []),
  ];
}

/** CPU seconds that a megapixel of picture may take: a hundred times what slow codecs need. */
const CPU_SECONDS_PER_MEGAPIXEL = 10;
const LEAST_CPU_SECONDS = 120;
/** A decoder that gives nothing for this long is stuck. */
const SILENCE_MS = 25_000;

async function* decodeRun(
  source: MediaSource,
  facts: MediaFacts,
  run: Span | undefined,
  options: DecodeOptions,
): AsyncGenerator<Uint8Array> {
  const size = bytesPerFrame(facts.layout);
  const expected = facts.plan ? facts.plan.at(-1)! + 1 : facts.frames;
  const cpu =
    LEAST_CPU_SECONDS + ((Math.max(1, expected) * facts.width * facts.height) / 1e6) * CPU_SECONDS_PER_MEGAPIXEL;
  const [command, line] = limited(
    'ffmpeg',
    [
      '-v',
      'error',
      '-nostdin',
      '-noautorotate',
      '-threads',
      '2',
      ...INPUT_GUARDS,
      ...inputArguments(source, facts.rate, run),
      '-map',
      '0:V:0',
      '-fps_mode',
      'passthrough',
      '-vf',
      [...frameFilters(facts), `format=${facts.rawFormat}`].join(','),
      '-f',
      'rawvideo',
      '-pix_fmt',
      facts.rawFormat,
      'pipe:1',
      ...(options.alsoWrite ?? []),
    ],
    cpu,
  );
  const child = execa(command, line, {
    reject: false,
    buffer: { stdout: false, stderr: true },
    encoding: 'buffer',
    stdin: 'ignore',
    maxBuffer: 1 << 20,
    cancelSignal: options.signal,
    gracefulCancel: false,
  } as const);
  let frames = 0;
  let finished = false;
  let stuck = false;
  /** When the decoder last gave a frame; null while whoever asked is busy with it. */
  let heard: number | null = Date.now();
  const watch = setInterval(() => {
    if (heard === null || Date.now() - heard < SILENCE_MS) return;
    stuck = true;
    child.kill('SIGKILL');
  }, 1000);
  try {
    for await (const frame of cutFrames(child.stdout as AsyncIterable<Uint8Array>, size, options.sameBytes)) {
      frames++;
      heard = null;
      yield frame;
      heard = Date.now();
    }
    const result = await child;
    finished = true;
    if (isMissing(result)) throw new Problem('tool-missing', { tool: 'ffmpeg', package: 'ffmpeg' });
    if (options.signal?.aborted) return;
    const words = asText(result.stderr);
    if (/No space left/i.test(words)) throw new Problem('disk-full');
    if (stuck)
      throw new Problem('damaged-media', {
        file: labelOf(source),
        why: `its decoder got stuck after ${frames} frames`,
      });
    // ffmpeg ends with 255 when it is interrupted: that says nothing about the file.
    if (result.isTerminated || result.exitCode === 255)
      throw new Problem('tool-failed', { tool: 'ffmpeg', why: 'it was interrupted' });
    if (frames === 0) throw new Problem('damaged-media', { file: labelOf(source), why: lastWords(words) });
    if (expected > 0 && frames < expected - 2)
      throw new Problem('damaged-media', {
        file: labelOf(source),
        why: `only ${frames} of ${expected} frames can be read`,
      });
    if (result.exitCode !== 0) throw new Problem('damaged-media', { file: labelOf(source), why: lastWords(words) });
    if (words.trim() !== '') options.onComplaint?.(lastWords(words));
  } finally {
    clearInterval(watch);
    if (!finished) child.kill('SIGKILL');
  }
}

async function* cutFrames(
  chunks: AsyncIterable<Uint8Array>,
  size: number,
  sameBytes = false,
): AsyncGenerator<Uint8Array> {
  let frame = new Uint8Array(size);
  let filled = 0;
  for await (const chunk of chunks) {
    let at = 0;
    while (at < chunk.length) {
      const take = Math.min(size - filled, chunk.length - at);
      frame.set(chunk.subarray(at, at + take), filled);
      filled += take;
      at += take;
      if (filled === size) {
        yield frame;
        if (!sameBytes) frame = new Uint8Array(size);
        filled = 0;
      }
    }
  }
}

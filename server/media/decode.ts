import { execa } from 'execa';
import { bytesPerFrame } from '../../core/image/raw-frame.ts';
import { Problem } from '../../core/problem/problem.ts';
import { isMissing, lastWords, PROTOCOLS } from './run-tool.ts';
import type { MediaFacts } from './probe.ts';
import { inputArguments, labelOf, type MediaSource } from './source.ts';

export interface DecodeOptions {
  /** Output arguments for more pictures made in the same run, e.g. proxies. */
  alsoWrite?: readonly string[];
  signal?: AbortSignal;
}

/**
 * The frames of a source as raw bytes in `facts.layout`, in order. A clip that stops decoding before
 * its end is reported as damaged after the frames that could be had.
 */
export async function* decodeFrames(source: MediaSource, facts: MediaFacts, options: DecodeOptions = {}): AsyncGenerator<Uint8Array> {
  const size = bytesPerFrame(facts.layout);
  const range = facts.layout.kind === 'ycbcr' ? facts.layout.coding.range : 'full';
  const filters = [
    ...(facts.variableRate ? [`fps=${facts.rate.join('/')}`] : []),
    // The same range in and out, so that only the sample format is ever converted.
    ...(facts.layout.kind === 'ycbcr' ? [`scale=in_range=${range}:out_range=${range}`] : []),
    `format=${facts.rawFormat}`,
  ];
  const child = execa('ffmpeg', ['-v', 'error', '-nostdin', ...PROTOCOLS, '-threads', '2', ...inputArguments(source, facts.rate),
    '-map', '0:V:0', '-fps_mode', 'passthrough', '-vf', filters.join(','), '-f', 'rawvideo', '-pix_fmt', facts.rawFormat, 'pipe:1', ...(options.alsoWrite ?? [])], {
    reject: false, buffer: { stdout: false, stderr: true }, encoding: 'buffer', stdin: 'ignore', maxBuffer: 1 << 20, cancelSignal: options.signal, gracefulCancel: false,
  } as const);
  let frames = 0, finished = false;
  try {
    for await (const frame of cutFrames(child.stdout as AsyncIterable<Uint8Array>, size)) {
      frames++;
      yield frame;
    }
    const result = await child;
    finished = true;
    if (isMissing(result)) throw new Problem('tool-missing', { tool: 'ffmpeg', package: 'ffmpeg' });
    if (options.signal?.aborted) return;
    const words = Buffer.from((result.stderr as Uint8Array | undefined) ?? new Uint8Array()).toString('utf8');
    if (/No space left/i.test(words)) throw new Problem('disk-full');
    // ffmpeg ends with 255 when it is interrupted: that says nothing about the file.
    if (result.isTerminated || result.exitCode === 255) throw new Problem('tool-failed', { tool: 'ffmpeg', why: 'it was interrupted' });
    if (frames === 0) throw new Problem('damaged-media', { file: labelOf(source), why: lastWords(words) });
    if (result.exitCode !== 0 || (facts.frames > 0 && !facts.variableRate && frames < facts.frames - 2)) {
      throw new Problem('damaged-media', { file: labelOf(source), why: `only ${frames} of ${facts.frames} frames can be read` });
    }
  } finally {
    if (!finished) child.kill('SIGKILL');
  }
}

async function* cutFrames(chunks: AsyncIterable<Uint8Array>, size: number): AsyncGenerator<Uint8Array> {
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
        frame = new Uint8Array(size);
        filled = 0;
      }
    }
  }
}

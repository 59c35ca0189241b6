import { closeSync, openSync, readSync } from 'node:fs';
import { Problem } from '../../core/problem/problem.ts';
import type { RawLayout } from '../../core/image/raw-frame.ts';
import type { YcbcrCoding } from '../../core/image/ycbcr.ts';
import { labelOf, type MediaSource } from './source.ts';
import { lastWords, PROTOCOLS, runTool } from './run-tool.ts';

/** What a file says about its pictures, and what had to be assumed. */
export interface MediaFacts {
  width: number;
  height: number;
  /** Exact frames per second. */
  rate: [number, number];
  /** As counted in the container; decoding may find fewer. */
  frames: number;
  firstFrameNumber: number;
  codec: string;
  pixelFormat: string;
  transfer: string;
  layout: RawLayout;
  /** ffmpeg's name of the layout's sample format. */
  rawFormat: string;
  variableRate: boolean;
  /** Sentences on what the file did not say. */
  assumed: string[];
}

const LARGEST_SIDE = 16384;
const SMALLEST_SIDE = 16;
const DEFAULT_RATE: [number, number] = [25, 1];

interface ProbedStream {
  codec_type?: string;
  codec_name?: string;
  width?: number;
  height?: number;
  pix_fmt?: string;
  color_range?: string;
  color_space?: string;
  color_transfer?: string;
  r_frame_rate?: string;
  avg_frame_rate?: string;
  nb_read_packets?: string;
  /** As the container's index has it; not every container has one. */
  nb_frames?: string;
  side_data_list?: { rotation?: number }[];
}

/** Reads a source's facts with ffprobe. `rate` overrides what the source says, or gives what it doesn't. */
export async function probe(source: MediaSource, rate?: [number, number], smallestSide = SMALLEST_SIDE): Promise<MediaFacts> {
  const label = labelOf(source);
  const file = source.kind === 'sequence' ? source.firstFile : source.file;
  refuseText(file, label);
  const { exitCode, stdout, stderr } = await runTool('ffprobe', ['-v', 'error', ...PROTOCOLS, '-print_format', 'json', '-show_streams',
    ...(source.kind === 'clip' ? ['-count_packets'] : []), '-select_streams', 'V', '-i', file], 60_000);
  const streams = exitCode === 0 ? ((JSON.parse(stdout || '{}') as { streams?: ProbedStream[] }).streams ?? []) : [];
  const stream = streams[0];
  if (exitCode !== 0) {
    const truncated = /moov atom not found|EBML header|Truncat|Invalid data found when/i.test(stderr);
    throw new Problem(truncated && !/Invalid data/.test(stderr) ? 'damaged-media' : 'not-media', { file: label, why: lastWords(stderr) });
  }
  if (!stream) {
    const sound = await runTool('ffprobe', ['-v', 'error', ...PROTOCOLS, '-print_format', 'json', '-show_streams', '-i', file], 60_000);
    throw new Problem(/"codec_type": "audio"/.test(sound.stdout) ? 'no-picture' : 'not-media', { file: label, why: 'it has no picture stream' });
  }
  return factsOf(stream, source, label, rate, smallestSide);
}

function factsOf(stream: ProbedStream, source: MediaSource, label: string, rate: [number, number] | undefined, smallestSide: number): MediaFacts {
  const turned = stream.side_data_list?.some((s) => s.rotation !== undefined && Math.abs(s.rotation) % 180 === 90) ?? false;
  const width = (turned ? stream.height : stream.width) ?? 0, height = (turned ? stream.width : stream.height) ?? 0;
  if (width < 1 || height < 1) throw new Problem('not-media', { file: label, why: 'its picture has no size' });
  if (width < smallestSide || height < smallestSide) throw new Problem('too-small-picture', { file: label, width, height });
  if (width > LARGEST_SIDE || height > LARGEST_SIDE) throw new Problem('too-large-picture', { file: label, width, height, limit: LARGEST_SIDE });
  const there = Number(stream.nb_read_packets ?? 0), promised = Number(stream.nb_frames ?? 0);
  if (source.kind === 'clip' && promised > there) throw new Problem('damaged-media', { file: label, why: `only ${there} of its ${promised} frames are there` });
  const assumed: string[] = [];
  const { layout, rawFormat } = layoutOf(stream, width, height, assumed);
  const timing = rateOf(stream, source, rate, assumed);
  const transfer = stream.color_transfer ?? 'unknown';
  if (transfer === 'unknown') assumed.push('no transfer tag: codes are taken as they would be shown on a display');
  return {
    width, height, rate: timing.rate, variableRate: timing.variable,
    frames: source.kind === 'sequence' ? source.count : source.kind === 'still' ? 1 : there,
    firstFrameNumber: source.kind === 'sequence' ? source.firstNumber : 0,
    codec: stream.codec_name ?? 'unknown', pixelFormat: stream.pix_fmt ?? 'unknown', transfer, layout, rawFormat, assumed,
  };
}

function layoutOf(stream: ProbedStream, width: number, height: number, assumed: string[]): { layout: RawLayout; rawFormat: string } {
  const format = stream.pix_fmt ?? '';
  const ycbcr = /^(?:yuvj?|yuva)(4[24][024])p(\d+)?(le|be)?$/.exec(format) ?? (/^nv12$|^nv21$/.test(format) ? ['', '420'] : null)
    ?? (/^yuv4(?:10|11|40)p|^yuyv422|^uyvy422/.test(format) ? ['', '444'] : null) ?? (/^p010/.test(format) ? ['', '420', '10'] : null);
  if (!ycbcr) {
    const deep = /(48|64|1[0246]|f32)/.test(format.replace(/^gbrap?|^rgba?|^bgra?|^gray|^ya/, ''));
    return { layout: { kind: 'rgb', width, height, bits: deep ? 16 : 8 }, rawFormat: deep ? 'rgb48le' : 'rgb24' };
  }
  const bits = Number(ycbcr[2] ?? 8);
  const sampling = ycbcr[1];
  const coding: YcbcrCoding = {
    matrix: matrixOf(stream, width, height, assumed), range: rangeOf(stream, assumed), bits,
    chromaShiftX: sampling === '444' ? 0 : 1, chromaShiftY: sampling === '420' ? 1 : 0,
  };
  return { layout: { kind: 'ycbcr', width, height, coding }, rawFormat: `yuv${sampling}p${bits > 8 ? `${bits}le` : ''}` };
}

function matrixOf(stream: ProbedStream, width: number, height: number, assumed: string[]): YcbcrCoding['matrix'] {
  switch (stream.color_space) {
    case 'bt709': return 'bt709';
    case 'bt470bg': case 'smpte170m': case 'fcc': return 'bt601';
    case 'bt2020nc': return 'bt2020';
    default: {
      const matrix = width >= 1280 || height >= 720 ? 'bt709' : 'bt601';
      assumed.push(`no colour matrix tag: ${matrix === 'bt709' ? 'BT.709' : 'BT.601'} assumed from the size`);
      return matrix;
    }
  }
}

function rangeOf(stream: ProbedStream, assumed: string[]): YcbcrCoding['range'] {
  if (stream.color_range === 'pc' || stream.pix_fmt?.startsWith('yuvj')) return 'full';
  if (stream.color_range !== 'tv') assumed.push('no range tag: limited range assumed');
  return 'limited';
}

function rateOf(stream: ProbedStream, source: MediaSource, given: [number, number] | undefined, assumed: string[]) {
  if (given) return { rate: given, variable: false };
  if (source.kind !== 'clip') {
    assumed.push(`pictures have no rate: ${DEFAULT_RATE.join('/')} assumed`);
    return { rate: DEFAULT_RATE, variable: false };
  }
  const nominal = fraction(stream.r_frame_rate), mean = fraction(stream.avg_frame_rate);
  const same = nominal && mean && Math.abs(nominal[0] / nominal[1] / (mean[0] / mean[1]) - 1) < 0.002;
  if (nominal && (same || !mean) && nominal[0] / nominal[1] <= 1000) return { rate: nominal, variable: false };
  if (mean) {
    const steady = nearestCommonRate(mean[0] / mean[1]);
    assumed.push(`the rate varies: made constant at ${steady.join('/')}`);
    return { rate: steady, variable: true };
  }
  assumed.push(`the clip states no rate: ${DEFAULT_RATE.join('/')} assumed`);
  return { rate: DEFAULT_RATE, variable: false };
}

function nearestCommonRate(mean: number): [number, number] {
  const common: [number, number][] = [[24000, 1001], [24, 1], [25, 1], [30000, 1001], [30, 1], [50, 1], [60000, 1001], [60, 1]];
  const near = common.find(([n, d]) => Math.abs(n / d / mean - 1) < 0.01);
  return near ?? [Math.max(1, Math.round(mean)), 1];
}

function fraction(text: string | undefined): [number, number] | null {
  const match = /^(\d+)\/(\d+)$/.exec(text ?? '');
  const [n, d] = [Number(match?.[1] ?? 0), Number(match?.[2] ?? 0)];
  return n > 0 && d > 0 ? [n, d] : null;
}

/** ffmpeg renders plain text as a picture of letters; a plate is never that. */
function refuseText(file: string, label: string): void {
  const head = Buffer.alloc(4096);
  const handle = openSync(file, 'r');
  try {
    const length = readSync(handle, head, 0, head.length, 0);
    const bytes = head.subarray(0, length);
    if (length > 0 && bytes.every((b) => b === 9 || b === 10 || b === 13 || (b >= 32 && b < 127) || b >= 128)
      && !bytes.includes(0) && bytes.filter((b) => b < 128).length > 0.8 * length) {
      throw new Problem('not-media', { file: label, why: 'it is text' });
    }
  } finally {
    closeSync(handle);
  }
}

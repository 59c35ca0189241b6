import { mkdirSync } from 'node:fs';
import { basename, dirname, extname } from 'node:path';
import {
  EXPORT_FORMATS,
  exportText,
  isTextFormat,
  shapesOf,
  type ExportSource,
} from '../core/handoff/exchange/export-formats.ts';
import { shapesSvg } from '../core/handoff/exchange/shapes-data.ts';
import { inverseStMap, stMap, stMapChannels, stMapNote } from '../core/handoff/exchange/st-map.ts';
import { lensFromFile } from '../core/handoff/exchange/lens-file.ts';
import { straightTrack } from '../core/handoff/exchange/straight-track.ts';
import { mapsOfSteadyFile, steadiedTrack } from '../core/handoff/exchange/steadied-track.ts';
import { cornersByFrame } from '../core/handoff/exchange/track-file.ts';
import { flatSize } from '../core/picture/composite/layer-pictures.ts';
import { Problem } from '../core/base/problem/problem.ts';
import { checked } from '../core/base/schemas/check.ts';
import type { ExportChoices } from '../core/base/schemas/types.ts';
import { numberedName } from '../server/media/encode.ts';
import { writeExrFile } from '../server/media/exr-file.ts';
import {
  checkWritable,
  note,
  progress,
  readJson,
  readNumber,
  readOptions,
  readRange,
  readSize,
  writeWhole,
} from './options.ts';

const CHOICES = [
  'frame-base',
  'y',
  'pixel-centre',
  'order',
  'units',
  'decimals',
  'corrections',
  'from',
  'shutter',
  'picture',
] as const;
const OTHERS = [
  'steadied',
  'look',
  'plate-name',
  'content-name',
  'content-size',
  'focal',
  'ratio',
  'frames',
  'overscan',
  'bits',
  'scene',
] as const;
type Options = ReturnType<typeof optionsOf>;
const optionsOf = (args: string[]) =>
  readOptions(args, ['track', 'format', 'out'], [...CHOICES, ...OTHERS], ['inverse']);

/** `yarlop export`: writes a track in one of the open formats. */
export async function exportCommand(args: string[]): Promise<void> {
  const options = optionsOf(args);
  const { format } = options;
  const plain = readJson('track', options.track);
  const track =
    options.steadied !== undefined
      ? steadiedTrack(plain, mapsOfSteadyFile(readJson('steady', options.steadied)))
      : options.picture === 'straight'
        ? straightTrack(plain)
        : plain;
  if (!(EXPORT_FORMATS as readonly string[]).includes(format))
    throw new Problem('bad-field', {
      where: 'the command',
      field: '--format',
      why: `is "${format}"; it must be one of ${EXPORT_FORMATS.join(', ')}`,
    });
  if (options.picture === 'steadied' && options.steadied === undefined)
    throw new Problem('unknown-option', { why: '--steadied STEADY.json is missing' });
  const choices = choicesOf(options);
  const name = basename(options.track, extname(options.track));
  const size = readSize('content-size', options['content-size']);
  const source: ExportSource = {
    name,
    track,
    look: options.look === undefined ? undefined : readJson('look', options.look),
    plate: options['plate-name'],
    content: options['content-name'],
    contentSize: size ?? undefined,
    room: options.scene === undefined ? undefined : { file: readJson('sceneFile', options.scene) },
    focal: readNumber('focal', options.focal, 1, 1e6),
    ratio: readNumber('ratio', options.ratio, 0.01, 100),
    range:
      options.frames === undefined
        ? undefined
        : readRange(options.frames, Math.max(0, ...track.frames.map((row) => row.frame)) + 1),
  };
  if (isTextFormat(format)) {
    checkWritable(options.out);
    writeWhole(options.out, exportText(source, format, choices));
  } else if (format === 'shapes-svg')
    await eachFrame(options, source, '.svg', (file, frame) => writeWhole(file, shapesSvg(shapesOf(source), frame)));
  else await writeStMaps(options, source, choices, size);
}

async function writeStMaps(
  options: Options,
  source: ExportSource,
  choices: ExportChoices,
  size: { width: number; height: number } | null,
): Promise<void> {
  const { track } = source;
  const lens = lensFromFile(track.lens, track.pixelCentre);
  const corners = cornersByFrame(track);
  const overscan = readNumber('overscan', options.overscan, 0, 4096) ?? 0;
  const bits = readNumber('bits', options.bits, 16, 32) ?? 32;
  const home = corners.get(track.referenceFrame) ?? [...corners.values()][0];
  if (bits !== 16 && bits !== 32)
    throw new Problem('bad-field', {
      where: 'the command',
      field: '--bits',
      why: `is "${options.bits}"; it must be 16 or 32`,
    });
  if (bits === 16)
    note(
      `half floats tell places to ${(track.width / 4096).toFixed(2)} px at ${track.width} px; 32 bits are the default for that reason`,
    );
  const inverseSize = size ?? (home ? flatSize(home) : { width: track.width, height: track.height });
  await eachFrame(options, source, '.exr', (file, frame) => {
    const quad = corners.get(frame) ?? null;
    const map = options.inverse
      ? inverseStMap(quad, inverseSize, track, { overscan, y: choices.y, lens })
      : stMap(quad, track, { overscan, y: choices.y, lens });
    writeExrFile(file, map.width, map.height, stMapChannels(map), bits, {
      rate: track.rate,
      overscan,
      comments: stMapNote(track, options.inverse === true, choices.y),
    });
  });
}

/** A file for each frame of the track, or of those that are asked for. */
async function eachFrame(
  options: Options,
  { track, range }: ExportSource,
  ending: string,
  write: (file: string, frame: number) => void,
): Promise<void> {
  const { out } = options;
  if (!/%0?\d*d/.test(basename(out)) || extname(out).toLowerCase() !== ending)
    throw new Problem('bad-field', {
      where: 'the command',
      field: '--out',
      why: `is "${out}"; it must be numbered files such as ${options.format}.%04d${ending}`,
    });
  mkdirSync(dirname(out), { recursive: true });
  checkWritable(out);
  const frames = track.frames
    .map((row) => row.frame)
    .filter((frame) => !range || (frame >= range[0] && frame <= range[1]))
    .sort((a, b) => a - b);
  frames.forEach((frame, i) => {
    write(numberedName(out, frame + (track.firstFrameNumber ?? 0)), frame);
    progress('writing', i + 1, frames.length);
  });
}

function choicesOf(options: Options): ExportChoices {
  const base = options['frame-base'];
  const { y, order, units, from, corrections } = options;
  const decimals = readNumber('decimals', options.decimals, 0, 12);
  const pixelCentre = options['pixel-centre'];
  if (corrections !== undefined && corrections !== 'with' && corrections !== 'without')
    throw new Problem('bad-field', {
      where: 'the command',
      field: '--corrections',
      why: `is "${corrections}"; it must be with or without`,
    });
  const [angle, phase = 0] = (options.shutter ?? '').split(',').map(Number);
  return checked(
    'exportChoices',
    {
      ...(base === undefined ? {} : { frameBase: base === 'plate' ? 'plate' : Number(base) }),
      ...(y === undefined ? {} : { y }),
      ...(pixelCentre === undefined ? {} : { pixelCentre }),
      ...(order === undefined ? {} : { order }),
      ...(units === undefined ? {} : { units }),
      ...(decimals === undefined ? {} : { decimals }),
      ...(corrections === undefined ? {} : { corrections: corrections === 'with' }),
      ...(from === undefined ? {} : { from }),
      ...(options.picture === undefined ? {} : { picture: options.picture }),
      ...(options.shutter === undefined ? {} : { shutter: { angle, phase } }),
    },
    'the command',
  );
}

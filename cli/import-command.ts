import { readFileSync } from 'node:fs';
import { guessMapping, importData, mapsOfImported } from '../core/handoff/exchange/import-data.ts';
import { cornersByFrame, writeTrack } from '../core/handoff/exchange/track-file.ts';
import { Problem } from '../core/base/problem/problem.ts';
import { checked } from '../core/base/schemas/check.ts';
import type { ImportMapping } from '../core/base/schemas/types.ts';
import { checkWritable, note, readJson, readNumber, readOptions, readRate, writeWhole } from './options.ts';
import { openPlate, PLATE_OPTIONS } from './plate.ts';

const MAPPING = ['columns', 'frame-base', 'y', 'pixel-centre', 'units'] as const;
type Options = ReturnType<typeof optionsOf>;
const optionsOf = (args: string[]) =>
  readOptions(args, ['in', 'out'], ['plate', 'track', 'size', 'reference', ...MAPPING, ...PLATE_OPTIONS]);

interface Facts {
  readonly width: number;
  readonly height: number;
  readonly rate: readonly [number, number];
  readonly firstFrameNumber: number;
}

/** `yarlop import`: corners or homographies that somebody else has made, as a track. */
export async function importCommand(args: string[]): Promise<void> {
  const options = optionsOf(args);
  const like = options.track === undefined ? null : readJson('track', options.track);
  const text = readText(options.in);
  checkWritable(options.out);
  const facts = like ? { ...like, firstFrameNumber: like.firstFrameNumber ?? 0 } : await factsOf(options);
  const corners = like && (cornersByFrame(like).get(like.referenceFrame) ?? null);
  const { frames, faults } = importData(
    text,
    { width: facts.width, height: facts.height, corners },
    mappingOf(options, text),
  );
  for (const { line, why } of faults) note(`${options.in}, line ${line}: ${why}`);
  if (frames.length === 0)
    throw new Problem('import-empty', { why: faults[0] ? `Line ${faults[0].line}: ${faults[0].why}.` : '' });
  const referenceFrame = readNumber('reference', options.reference, 0, 1e7) ?? like?.referenceFrame ?? frames[0]!.frame;
  const maps = mapsOfImported(frames, referenceFrame);
  if (!maps) throw new Problem('import-reference', { frame: referenceFrame });
  const home = frames.find((one) => one.frame === referenceFrame)!.corners;
  const track = writeTrack(
    {
      pixelCentre: like?.pixelCentre ?? 'half',
      width: facts.width,
      height: facts.height,
      rate: facts.rate,
      referenceFrame,
      corners: home,
      firstFrameNumber: facts.firstFrameNumber,
    },
    [...maps].map(([frame, homography]) => ({
      frame,
      homography,
      error: 0,
      confidence: 1,
      note: 'brought in from a file',
    })),
  );
  writeWhole(options.out, `${JSON.stringify(track, null, 1)}\n`);
}

function readText(file: string): string {
  try {
    return readFileSync(file, 'utf8');
  } catch (error) {
    throw new Problem('file-missing', { file }, { cause: error });
  }
}

/** Size and rate: of the plate, or as they are given. */
async function factsOf(options: Options): Promise<Facts> {
  if (options.plate !== undefined) {
    const plate = await openPlate(options.plate, options);
    try {
      return plate.facts;
    } finally {
      plate.close();
    }
  }
  const [, width, height] = /^(\d{1,5})x(\d{1,5})$/.exec(options.size ?? '') ?? [];
  const rate = readRate(options.rate);
  if (!width || !height || !rate)
    throw new Problem('unknown-option', { why: '--plate is missing (or --track, or --size WxH and --rate n/d)' });
  return { width: Number(width), height: Number(height), rate, firstFrameNumber: 0 };
}

/** What is given of the mapping takes the place of what the file suggests. */
function mappingOf(options: Options, text: string): ImportMapping | null {
  if (MAPPING.every((name) => options[name] === undefined)) return null;
  const columns = options.columns?.split(',').map(Number);
  const base = readNumber('frame-base', options['frame-base'], -1e7, 1e9);
  const guessed = /^\s*[{[]/.test(text) ? null : guessMapping(text);
  if (columns && columns.length !== 9 && columns.length !== 10)
    throw new Problem('bad-field', {
      where: 'the command',
      field: '--columns',
      why: `names ${columns.length}; it must name the frame's and eight of corners or nine of a homography, counted from 0`,
    });
  const chosen = columns
    ? {
        frame: columns[0],
        ...(columns.length === 9 ? { corners: columns.slice(1) } : { homography: columns.slice(1) }),
      }
    : guessed;
  if (!chosen) throw new Problem('import-unreadable', { why: 'its columns are not named' });
  const { y, units } = options;
  const pixelCentre = options['pixel-centre'];
  return checked(
    'importMapping',
    {
      ...guessed,
      ...chosen,
      ...(base === undefined ? {} : { frameBase: base }),
      ...(y === undefined ? {} : { y }),
      ...(units === undefined ? {} : { units }),
      ...(pixelCentre === undefined ? {} : { pixelCentre }),
    },
    'the command',
  );
}
